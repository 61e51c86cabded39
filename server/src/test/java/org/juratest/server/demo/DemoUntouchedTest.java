package org.juratest.server.demo;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.function.BiConsumer;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.juratest.server.TestServer;
import org.juratest.server.command.ApiClient;
import org.springframework.boot.ApplicationRunner;
import org.springframework.jdbc.core.JdbcTemplate;

/**
 * A demo is laid anew on a later day only while nobody has entered anything; nothing that is no demo is ever emptied.
 */
class DemoUntouchedTest {

    private static TestServer server;
    private static JdbcTemplate database;

    @BeforeAll
    static void start() {
        server = TestServer.start();
        database = server.database().template();
    }

    @AfterAll
    static void stop() {
        server.close();
    }

    /** As it was laid yesterday, and nobody came. */
    @BeforeEach
    void laidYesterday() {
        database.update("UPDATE setting SET value = (value::date - 1)::text WHERE key = 'demo.day'");
        database.update("INSERT INTO setting VALUES ('demo.untouched', 'true') ON CONFLICT DO NOTHING");
    }

    private static boolean untouched() {
        return Boolean.TRUE.equals(database.queryForObject(
                "SELECT EXISTS (SELECT 1 FROM setting WHERE key = 'demo.untouched')", Boolean.class));
    }

    private static void startAgain() throws Exception {
        server.context().getBean("demoLoader", ApplicationRunner.class).run(null);
    }

    private static long job(ApiClient api) {
        return api.get("/api/jobs")
                .path("jobs")
                .valueStream()
                .filter(j -> j.path("position").asString().equals("MFR-CBK-08"))
                .findFirst()
                .orElseThrow()
                .path("id")
                .asLong();
    }

    /** What one person does, once; and what must still be there after. */
    enum Deed {
        DEFERRAL(
                (tavel, oster) -> oster.post(
                        "/api/jobs/" + job(oster) + "/deferral",
                        Map.of("until", LocalDate.now().plusDays(40).toString(), "why", "switchboard is being painted"),
                        null),
                "SELECT count(*) FROM job_decision WHERE why LIKE '%painted%'"),
        ABSENCE(
                (tavel, oster) -> oster.post(
                        "/api/plan/people/tavel/absences",
                        Map.of("fromDay", "2030-02-01", "toDay", "2030-02-03", "why", "course on fibre"),
                        null),
                "SELECT count(*) FROM absence WHERE why = 'course on fibre'"),
        OUTAGE(
                (tavel, oster) -> tavel.post(
                        "/api/plan/outages",
                        Map.of("site", "MFR", "fromDay", "2030-02-01", "toDay", "2030-02-02", "words", "night shift"),
                        null),
                "SELECT count(*) FROM outage WHERE words = 'night shift'"),
        AUTHORISATION(
                (tavel, oster) -> oster.put(
                        "/api/plan/people/tavel/authorisations",
                        Map.of("kind", "live-line", "since", "2026-01-01", "expires", "2031-01-01"),
                        1L),
                "SELECT count(*) FROM authorisation WHERE kind = 'live-line'"),
        PART(
                (tavel, oster) ->
                        tavel.post("/api/plan/parts", Map.of("code", "spring-kit", "name", "Spring kit"), null),
                "SELECT count(*) FROM part WHERE code = 'spring-kit'"),
        PROCEDURE(
                (tavel, oster) -> oster.post(
                        "/api/procedures",
                        new String(oster.bytes("/api/procedures/CBK-YEARLY/2"), StandardCharsets.UTF_8)
                                .replace("\"version\":2", "\"version\":7")
                                .replace("\"version\": 2", "\"version\": 7")
                                .getBytes(StandardCharsets.UTF_8),
                        null),
                "SELECT count(*) FROM procedure_version WHERE code = 'CBK-YEARLY' AND version = 7"),
        PROPOSAL(
                (tavel, oster) -> oster.post("/api/plan/proposals", Map.of("weeks", 1), null),
                "SELECT count(*) FROM proposal WHERE by = 'oster'"),
        FIXED_DAY(
                (tavel, oster) -> oster.post(
                        "/api/jobs/moves",
                        Map.of(
                                "moves",
                                List.of(Map.of(
                                        "job",
                                        job(oster),
                                        "to",
                                        Map.of(
                                                "day",
                                                oster.get("/api/round")
                                                        .path("today")
                                                        .asString())))),
                        null),
                "SELECT count(*) FROM plan_move m JOIN job j ON j.id = m.job WHERE j.fixed"),
        RUN(
                (tavel, oster) -> tavel.post("/api/jobs/" + job(tavel) + "/run", Map.of("gear", Map.of()), null),
                "SELECT count(*) FROM run WHERE NOT demo AND status = 'open'"),
        PERSON(
                (tavel, oster) -> server.client("valdres", "signal-box-90")
                        .post("/api/people", Map.of("id", "noriva", "name", "N. Oriva", "role", "technician"), null),
                "SELECT count(*) FROM person WHERE id = 'noriva'");

        private final BiConsumer<ApiClient, ApiClient> deed;
        private final String there;

        Deed(BiConsumer<ApiClient, ApiClient> deed, String there) {
            this.deed = deed;
            this.there = there;
        }
    }

    @ParameterizedTest
    @EnumSource(Deed.class)
    void whateverAPersonEnteredIsStillThereOnAnotherDay(Deed deed) throws Exception {
        assertTrue(untouched());
        deed.deed.accept(server.client("tavel", "rack-rail-16"), server.client("oster", "penstock-42"));
        assertFalse(untouched(), "nobody noticed");
        startAgain();
        assertEquals(1, database.queryForObject(deed.there, Integer.class));
    }

    @Test
    void whatIsNoDemoIsNeverEmptied() throws Exception {
        // A backup that was brought in, or an installation of an earlier version: full, and without the setting.
        database.update("DELETE FROM setting WHERE key = 'demo.day'");
        int jobs = database.queryForObject("SELECT count(*) FROM job", Integer.class);
        String first = database.queryForObject("SELECT min(id::text) FROM run", String.class);
        startAgain();
        assertEquals(jobs, database.queryForObject("SELECT count(*) FROM job", Integer.class));
        assertEquals(first, database.queryForObject("SELECT min(id::text) FROM run", String.class));
        assertEquals(0, database.queryForObject("SELECT count(*) FROM setting WHERE key = 'demo.day'", Integer.class));
        database.update("INSERT INTO setting VALUES ('demo.day', current_date::text)");
    }

    @Test
    void whatANewerProgramShipsComesIntoAnInstallationThatWasWorkedWith() throws Exception {
        String versions =
                "SELECT string_agg(code || version || hash, ' ' ORDER BY code, version) FROM procedure_version";
        String variants = "SELECT string_agg(variant || revision || words, ' ' ORDER BY variant) FROM variant_revision";
        database.update("DELETE FROM setting WHERE key = 'demo.untouched'");
        // What people made of a shipped one stays, also where it has the name of what is shipped.
        database.update("UPDATE variant_revision SET words = 'ours' WHERE variant = 'FIB-ACCEPT-LONG'");
        String before = database.queryForObject(versions, String.class);
        String beforeVariants = database.queryForObject(variants, String.class);
        assertTrue(beforeVariants.contains("FIB-ACCEPT-LONG1ours"), beforeVariants);
        // Nobody can do this to what was used; here an earlier program stands for it.
        database.execute("ALTER TABLE procedure_version DISABLE TRIGGER USER");
        database.update("DELETE FROM variant_revision WHERE variant = 'FIB-ACCEPT-SHORT'");
        database.update("DELETE FROM variant WHERE code = 'FIB-ACCEPT-SHORT'");
        database.update("DELETE FROM procedure_version WHERE code = 'FIB-ACCEPT' AND version = 3");
        database.update("UPDATE procedure_version SET hash = 'theirs' WHERE code = 'FIB-CLOSURE' AND version = 2");
        startAgain();
        assertEquals(
                "theirs",
                database.queryForObject(
                        "SELECT hash FROM procedure_version WHERE code = 'FIB-CLOSURE' AND version = 2", String.class));
        String hash = before.replaceAll(".*FIB-CLOSURE2(\\w+).*", "$1");
        database.update("UPDATE procedure_version SET hash = ? WHERE code = 'FIB-CLOSURE' AND version = 2", hash);
        database.execute("ALTER TABLE procedure_version ENABLE TRIGGER USER");
        // It came in as it was shipped, and is not used yet.
        database.update("UPDATE procedure_version SET frozen_at = now() WHERE frozen_at IS NULL");
        assertEquals(before, database.queryForObject(versions, String.class));
        assertEquals(beforeVariants, database.queryForObject(variants, String.class));
    }

    @Test
    void anUntouchedOneIsLaidAnewOnAnotherDay() throws Exception {
        String before = database.queryForObject("SELECT min(id::text) FROM event", String.class);
        String signing = "SELECT count(*) FROM spring_session";
        server.client("tavel", "rack-rail-16").get("/api/round");
        assertTrue(untouched(), "looking touches nothing");
        assertTrue(database.queryForObject(signing, Integer.class) > 0);
        startAgain();
        assertNotEquals(before, database.queryForObject("SELECT min(id::text) FROM event", String.class));
        assertTrue(untouched());
    }
}
