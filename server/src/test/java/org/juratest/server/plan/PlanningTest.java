package org.juratest.server.plan;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.juratest.server.TestServer.problem;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.StringReader;
import java.net.HttpURLConnection;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import net.fortuna.ical4j.data.CalendarBuilder;
import net.fortuna.ical4j.data.ParserException;
import net.fortuna.ical4j.model.Property;
import net.fortuna.ical4j.model.component.VEvent;
import org.apache.commons.csv.CSVFormat;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.text.PDFTextStripper;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.TestServer;
import org.juratest.server.command.ApiClient;
import org.juratest.server.command.ApiClient.ProblemException;
import org.juratest.server.job.Jobs;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;
import tools.jackson.databind.JsonNode;

/** Plans, jobs and rounds over HTTP and on the database, with two processes where it matters. */
class PlanningTest {

    private static final TestServer SERVER = TestServer.start();
    private final ApiClient tavel = SERVER.client("tavel", "rack-rail-16");
    private final ApiClient oster = SERVER.client("oster", "penstock-42");
    private final JdbcTemplate sql = SERVER.database().template();
    private final LocalDate today =
            LocalDate.parse(tavel.get("/api/round").path("today").asString());

    @AfterAll
    static void stop() {
        SERVER.close();
    }

    private static Map<String, Object> plan(String title, String assetClass, Object... change) {
        Map<String, Object> plan = new HashMap<>(Map.ofEntries(
                Map.entry("id", 0),
                Map.entry("revision", 0),
                Map.entry("title", title),
                Map.entry("procedure", "CBK-YEARLY"),
                Map.entry("occasion", "interval"),
                Map.entry("assetClass", assetClass),
                Map.entry("positions", List.of()),
                Map.entry("every", "months"),
                Map.entry("amount", 6),
                Map.entry("counting", "due"),
                Map.entry("before", "P14D"),
                Map.entry("after", "P14D"),
                Map.entry("starts", "2020-01-01"),
                Map.entry("reason", "risk"),
                Map.entry("basis", ""),
                Map.entry("leadDays", 0),
                Map.entry("people", 1),
                Map.entry("outage", false),
                Map.entry("parts", Map.of()),
                Map.entry("covers", List.of()),
                Map.entry("ended", false)));
        for (int i = 0; i < change.length; i += 2) {
            if (change[i + 1] == null) {
                plan.remove(change[i]);
            } else {
                plan.put((String) change[i], change[i + 1]);
            }
        }
        return plan;
    }

    @SuppressWarnings("unchecked")
    private Map<String, Object> stored(String title) {
        JsonNode line = oster.get("/api/plans")
                .valueStream()
                .filter(l -> l.path("plan").path("title").asString().equals(title))
                .findFirst()
                .orElseThrow();
        return new HashMap<>(CoreJson.mapper().convertValue(line.path("plan"), Map.class));
    }

    /** An open job of a device at a position of its own, which no other test touches. */
    private long job(String asset, LocalDate opens, LocalDate due, LocalDate closes) {
        sql.update("INSERT INTO position (code, site, family) VALUES (?, 'MFR', 'breakers')", "MFR-" + asset);
        sql.update(
                "INSERT INTO asset (id, class, maker, model, serial, nameplate) SELECT ?, class, maker, 'PT', ?, "
                        + "nameplate FROM asset WHERE id = 'CBK-1'",
                asset,
                asset);
        sql.update(
                "INSERT INTO installation (asset, position, during) VALUES (?, ?, tstzrange(now(), NULL))",
                asset,
                "MFR-" + asset);
        return sql.queryForObject(
                "INSERT INTO job (asset, position, procedure, reason, occasion, opens, due, closes) VALUES (?, "
                        + "?, 'CBK-YEARLY', 'by hand', 'other', ?, ?, ?) RETURNING id",
                Long.class,
                asset,
                "MFR-" + asset,
                opens,
                due,
                closes);
    }

    private static Map<String, Object> day(LocalDate day, String person, LocalDate wasDay, String wasPerson) {
        Map<String, Object> body = new HashMap<>();
        body.put("day", day);
        body.put("person", person);
        body.put("wasDay", wasDay);
        body.put("wasPerson", wasPerson);
        body.values().removeIf(java.util.Objects::isNull);
        return body;
    }

    @Test
    void aChangeSaysWhatItDoesToOpenJobsBeforeItDoesIt() {
        SERVER.context().getBean(Horizon.class).layAll();
        Map<String, Object> yearly = stored("Moulded-case breakers, every 52 weeks");
        List<String> before = sql.queryForList(
                "SELECT asset || ' ' || due FROM job WHERE plan = ? AND status = 'open' ORDER BY 1",
                String.class,
                yearly.get("id"));
        yearly.put("amount", 60);
        yearly.put("before", "P14D");
        JsonNode preview = oster.post("/api/plans/preview", yearly, null);
        assertTrue(preview.path("added").asInt() > 0 && preview.path("devices").asInt() >= 3, preview.toString());
        assertEquals(
                before,
                sql.queryForList(
                        "SELECT asset || ' ' || due FROM job WHERE plan = ? AND status = 'open' ORDER BY 1",
                        String.class,
                        yearly.get("id")),
                "looking changes nothing");
        problem(403, "not-allowed", () -> tavel.put("/api/plans/" + yearly.get("id"), yearly));
        oster.put("/api/plans/" + yearly.get("id"), yearly);
        laid();
        assertEquals(
                before.size()
                        + preview.path("added").asInt()
                        - preview.path("gone").asInt(),
                sql.queryForObject(
                        "SELECT count(*) FROM job WHERE plan = ? AND status = 'open'",
                        Integer.class,
                        yearly.get("id")));
        assertEquals(
                "revision",
                problem(409, "changed-meanwhile", () -> oster.put("/api/plans/" + yearly.get("id"), yearly))
                        .field());
        assertEquals(
                List.of("2 60 M. Oster", "1 364 M. Oster"),
                tavel.get("/api/plans/" + yearly.get("id") + "/revisions")
                        .valueStream()
                        .map(r -> r.path("revision").asInt() + " "
                                + r.path("plan").path("amount").asInt() + " "
                                + r.path("name").asString())
                        .toList());
        JsonNode nothing = oster.post("/api/plans/preview", stored("Moulded-case breakers, every 52 weeks"), null);
        assertEquals(
                List.of(0, 0, 0),
                List.of(
                        nothing.path("added").asInt(),
                        nothing.path("moved").asInt(),
                        nothing.path("gone").asInt()),
                nothing.toString());
        Map<String, Object> back = stored("Moulded-case breakers, every 52 weeks");
        back.put("amount", 364);
        back.put("before", "P21D");
        oster.put("/api/plans/" + back.get("id"), back);
        laid();
        assertEquals(
                before,
                sql.queryForList(
                        "SELECT asset || ' ' || due FROM job WHERE plan = ? AND status = 'open' ORDER BY 1",
                        String.class,
                        yearly.get("id")));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = ';',
            value = {
                "title; ''; title",
                "procedure; NONE; procedure",
                "assetClass; ghost; assetClass",
                "assetClass; energy-meter; assetClass",
                "every; weeks; every",
                "amount; 0; amount",
                "amount; 1.5; amount",
                "before; P9M; before",
                "before; two weeks; before",
                "counting; never; counting",
                "people; 0; people",
                "leadDays; -1; leadDays",
                "seasonFrom; --05-01; seasonTo",
                "reason; habit; reason",
                "every; hours; counting"
            })
    void aWrongPlanNamesTheField(String field, String value, String named) {
        Object given = value.matches("-?\\d+(\\.\\d+)?") ? (Object) Double.valueOf(value) : value;
        if (given instanceof Double number && number == Math.rint(number)) {
            given = number.intValue();
        }
        Map<String, Object> wrong = plan("Wrong", "lv-breaker", field, given);
        ProblemException e = problem(422, "fields-invalid", () -> oster.post("/api/plans", wrong, null));
        assertTrue(e.fields().containsKey(named), e.fields().toString());
    }

    @Test
    void plansThatSayTheSameOrCoverEachOtherInACircleAreRefused() {
        assertTrue(problem(422, "fields-invalid", () -> oster.post("/api/plans", plan("Again", "lv-breaker"), null))
                .fields()
                .get("assetClass")
                .contains("plans the same there already"));
        Map<String, Object> round = plan(
                "Circle",
                "generator-set",
                "procedure",
                "GEN-MONTHLY",
                "occasion",
                "repair",
                "every",
                null,
                "amount",
                3,
                "counting",
                "done",
                "before",
                "P0D",
                "covers",
                List.of("GEN-YEARLY"));
        assertTrue(problem(422, "fields-invalid", () -> oster.post("/api/plans/preview", round, null))
                .fields()
                .get("covers")
                .contains("circle"));
    }

    @Test
    void twoProcessesLayAHorizonOnceAndEachHearsTheOther() throws Exception {
        try (TestServer other = SERVER.another()) {
            sql.update("INSERT INTO asset_class (code, family, title, nameplate_schema, mark) SELECT 'many', "
                    + "family, 'Many', nameplate_schema, 'MNY' FROM asset_class WHERE code = 'switch'");
            sql.update("INSERT INTO position (code, site, family) SELECT 'MFR-MNY-' || n, 'MFR', 'networks' FROM "
                    + "generate_series(1, 2600) n");
            sql.update("INSERT INTO asset (id, class, maker, model, serial, nameplate) SELECT 'MNY-' || n, 'many', "
                    + "'Ulmeric', 'M', n::text, '{}' FROM generate_series(1, 2600) n");
            sql.update("INSERT INTO plan (title, procedure, occasion, class, every, amount, counting, before, "
                    + "after, starts, reason) VALUES ('Many', 'SWI-YEARLY', 'interval', 'many', "
                    + "'months', 2, 'due', 'P9D', 'P9D', '2020-01-01', 'risk')");
            Horizon here = SERVER.context().getBean(Horizon.class);
            Horizon there = other.context().getBean(Horizon.class);
            CompletableFuture<String> heard = CompletableFuture.supplyAsync(() -> changed(other, "/api/plan/news"));
            sql.update("INSERT INTO installation (asset, position, during) SELECT 'MNY-' || n, 'MFR-MNY-' || n, "
                    + "tstzrange(now() - interval '3 years', NULL) FROM generate_series(1, 2600) n");
            List<CompletableFuture<Integer>> both =
                    List.of(CompletableFuture.supplyAsync(here::layAll), CompletableFuture.supplyAsync(there::layAll));
            for (CompletableFuture<Integer> one : both) {
                one.get(60, TimeUnit.SECONDS);
            }
            TestServerWait.until(() ->
                    sql.queryForObject("SELECT count(*) FROM horizon WHERE again_at <= now()", Integer.class) == 0);
            long days = sql.queryForObject(
                    "SELECT count(DISTINCT due) FROM job WHERE procedure = 'SWI-YEARLY' AND asset LIKE 'MNY-%'",
                    Long.class);
            assertTrue(days >= 3, "two-monthly over half a year: " + days);
            assertEquals(
                    2600 * days,
                    sql.queryForObject(
                            "SELECT count(*) FROM job WHERE asset LIKE 'MNY-%' AND status <> 'withdrawn'", Long.class),
                    "each device has each day once");
            // The device that stands nowhere any more loses what nobody has begun.
            sql.update("UPDATE installation SET during = tstzrange(lower(during), now()) WHERE asset = 'MNY-7'");
            here.layAll();
            TestServerWait.until(() -> sql.queryForObject(
                            "SELECT count(*) FROM job WHERE asset = 'MNY-7' AND status = 'open'", Integer.class)
                    == 0);
            assertTrue(heard.get(30, TimeUnit.SECONDS).contains("job"), "the other process tells its screens");
            sql.update("UPDATE plan SET ended = true WHERE title = 'Many'");
            sql.update("UPDATE horizon SET again_at = '-infinity' WHERE asset LIKE 'MNY-%'");
            TestServerWait.until(() -> sql.queryForObject(
                            "SELECT count(*) FROM job WHERE asset LIKE 'MNY-%' AND status = 'open'", Integer.class)
                    == 0);
        }
    }

    /** The first change that a server tells. */
    private static String changed(TestServer server, String path) {
        ApiClient client = server.client("tavel", "rack-rail-16");
        return client.heard(path, "changed").toString();
    }

    @Test
    void aJobMovesWithinItsWindowAndSaysClearlyWhenItWouldLeaveIt() {
        long id = job("PT-1", today, today.plusDays(5), today.plusDays(10));
        String address = "/api/jobs/" + id + "/day";
        assertTrue(problem(422, "fields-invalid", () -> tavel.put(address, day(today.plusDays(11), null, null, null)))
                .fields()
                .get("day")
                .contains("after its window"));
        assertTrue(problem(422, "fields-invalid", () -> tavel.put(address, day(today.minusDays(1), null, null, null)))
                .fields()
                .get("day")
                .contains("is past"));
        assertEquals(
                "person",
                problem(422, "fields-invalid", () -> oster.put(address, day(today, "ghost", null, null)))
                        .fields()
                        .keySet()
                        .iterator()
                        .next());
        tavel.put(address, day(today.plusDays(9), "tavel", null, null));
        problem(409, "changed-meanwhile", () -> oster.put(address, day(today.plusDays(8), "oster", null, null)));
        assertEquals(
                today.plusDays(9).toString(),
                tavel.get("/api/jobs/" + id).path("plannedFor").asString(),
                "the other one's day stays");
        long later = job("PT-2", today.plusDays(20), today.plusDays(25), today.plusDays(30));
        assertTrue(problem(
                        422,
                        "fields-invalid",
                        () -> tavel.put("/api/jobs/" + later + "/day", day(today, null, null, null)))
                .fields()
                .get("day")
                .contains("would not count"));
        JsonNode conflicts = tavel.put(address, day(today.plusDays(9), null, today.plusDays(9), "tavel"));
        assertFalse(conflicts.hasNonNull("person"));
    }

    @Test
    void whatPeopleDecideIsKeptWithItsReason() {
        long id = job("PT-3", today.minusDays(40), today.minusDays(30), today.minusDays(20));
        assertEquals("overdue", tavel.get("/api/plan/jobs/" + id).path("state").asString());
        assertEquals(30, tavel.get("/api/plan/jobs/" + id).path("overdue").asInt());
        assertEquals(
                "why",
                problem(
                                422,
                                "fields-invalid",
                                () -> tavel.post(
                                        "/api/jobs/" + id + "/deferral",
                                        Map.of("until", today.plusDays(9), "why", " "),
                                        null))
                        .fields()
                        .keySet()
                        .iterator()
                        .next());
        assertEquals(
                "until",
                problem(
                                422,
                                "fields-invalid",
                                () -> tavel.post(
                                        "/api/jobs/" + id + "/deferral", Map.of("until", today, "why", "later"), null))
                        .fields()
                        .keySet()
                        .iterator()
                        .next());
        tavel.post(
                "/api/jobs/" + id + "/deferral", Map.of("until", today.plusDays(9), "why", "waits for the lift"), null);
        assertEquals("deferred", tavel.get("/api/plan/jobs/" + id).path("state").asString());
        tavel.post("/api/jobs/" + id + "/obstacle", Map.of("kind", "no access", "why", "locked"), null);
        assertEquals("cannot", tavel.get("/api/plan/jobs/" + id).path("state").asString());
        assertEquals(
                "kind",
                problem(
                                422,
                                "fields-invalid",
                                () -> tavel.post(
                                        "/api/jobs/" + id + "/obstacle", Map.of("kind", "mood", "why", "no"), null))
                        .fields()
                        .keySet()
                        .iterator()
                        .next());
        tavel.post("/api/jobs/" + id + "/resumption", Map.of(), null);
        problem(409, "not-held", () -> tavel.post("/api/jobs/" + id + "/resumption", Map.of(), null));
        tavel.put("/api/jobs/" + id + "/day", day(today, "tavel", null, null));
        tavel.post("/api/jobs/" + id + "/put-back", Map.of("why", "ran out of time"), null);
        assertEquals(
                List.of(
                        "put back: ran out of time",
                        "moved: for A. Tavel",
                        "resumed: it can be done again",
                        "cannot: no access: locked",
                        "deferred: waits for the lift"),
                tavel.get("/api/jobs/" + id + "/decisions")
                        .valueStream()
                        .map(d ->
                                d.path("kind").asString() + ": " + d.path("why").asString())
                        .toList());
        JsonNode cell = tavel.get(
                        "/api/compliance?from=" + today.minusDays(30) + "&to=" + today.minusDays(30) + "&by=month")
                .path("all")
                .get(0);
        assertEquals("ran out of time", cell.path("whys").get(0).path("why").asString());
    }

    @Test
    void aJobIsRaisedBesideThePlansOnceOfAKind() {
        job("PT-4", today, today, today);
        Map<String, Object> raised = Map.of(
                "asset",
                "PT-4",
                "procedure",
                "CBK-YEARLY",
                "occasion",
                "repair",
                "due",
                today.plusDays(7),
                "why",
                "new latch");
        assertEquals(
                "after repair",
                tavel.post("/api/jobs", raised, null).path("reason").asString());
        problem(409, "raised-already", () -> tavel.post("/api/jobs", raised, null));
        Map<String, Object> wrong = Map.of(
                "asset", "nowhere", "procedure", "none", "occasion", "whim", "due", today.minusDays(1), "why", "");
        assertEquals(
                java.util.Set.of("asset", "procedure", "occasion", "due", "why"),
                problem(422, "fields-invalid", () -> tavel.post("/api/jobs", wrong, null))
                        .fields()
                        .keySet());
    }

    @Test
    void whatIsDoneMovesTheNextAndAChangedSettingAsksForATestUntilItIsUndone() {
        long id = job("PT-5", today, today, today.plusDays(5));
        // The acceptance test contains the yearly one, and while it is open whatever it covers is left to it.
        sql.update("UPDATE job SET procedure = 'CBK-ACCEPT' WHERE id = ?", id);
        sql.update("UPDATE installation SET during = tstzrange(now() - interval '40 days', NULL) WHERE asset = 'PT-5'");
        oster.post(
                "/api/plans",
                plan(
                        "Only this",
                        "lv-breaker",
                        "assetClass",
                        null,
                        "positions",
                        List.of("MFR-PT-5"),
                        "amount",
                        3,
                        "counting",
                        "done"),
                null);
        laid();
        assertEquals(
                today.plusMonths(3),
                open("PT-5"),
                "the narrower plan comes before that of the class, and counts from the acceptance test that is "
                        + "over and can be done today");
        Jobs jobs = SERVER.context().getBean(Jobs.class);
        Horizon horizon = SERVER.context().getBean(Horizon.class);
        new TransactionTemplate(SERVER.context().getBean(PlatformTransactionManager.class)).executeWithoutResult(s -> {
            jobs.done(id, today.plusDays(4));
            horizon.again(List.of("PT-5"));
        });
        laid();
        assertEquals(today.plusDays(4).plusMonths(3), open("PT-5"), "it counts from the day done");
        oster.post(
                "/api/plans",
                plan(
                        "After a setting",
                        "lv-breaker",
                        "occasion",
                        "setting",
                        "every",
                        null,
                        "amount",
                        7,
                        "counting",
                        "done",
                        "before",
                        "P0D",
                        "starts",
                        today.minusDays(1)),
                null);
        sql.update("UPDATE job SET done_on = ? WHERE id = ?", today.minusDays(1), id);
        JsonNode act = tavel.patch(
                "/api/register/assets/PT-5",
                Map.of("changes", List.of(Map.of("field", "plate.longTimeSetting", "was", "100", "now", "80"))));
        horizon.layAll();
        TestServerWait.until(
                () -> sql.queryForList("SELECT reason FROM job WHERE asset = 'PT-5' AND status = 'open'", String.class)
                        .contains("after a changed setting"));
        tavel.post("/api/register/acts/" + act.path("id").asLong() + "/undo", Map.of(), null);
        horizon.layAll();
        TestServerWait.until(
                () -> !sql.queryForList("SELECT reason FROM job WHERE asset = 'PT-5' AND status = 'open'", String.class)
                        .contains("after a changed setting"));
        tavel.post("/api/assets/PT-5/events", Map.of("kind", "repair", "day", today, "words", "latch changed"), null);
        laid();
        assertTrue(sql.queryForList("SELECT reason FROM job WHERE asset = 'PT-5' AND status = 'open'", String.class)
                .contains("after a repair"));
    }

    /** Waits until the jobs of all devices are laid. */
    private void laid() {
        TestServerWait.until(
                () -> sql.queryForObject("SELECT count(*) FROM horizon WHERE again_at <= now()", Integer.class) == 0);
    }

    private LocalDate open(String asset) {
        return sql.queryForObject(
                "SELECT min(due) FROM job WHERE asset = ? AND plan IS NOT NULL AND occasion = 'interval' AND "
                        + "status = 'open'",
                LocalDate.class,
                asset);
    }

    @Test
    void anExchangeAsksForATestOfTheNewDeviceAndIsUndoneWithIt() {
        job("PT-6", today, today, today);
        sql.update("UPDATE installation SET during = tstzrange(now() - interval '9 days', NULL) WHERE asset = 'PT-6'");
        JsonNode act = tavel.post(
                "/api/register/exchanges",
                Map.of(
                        "position",
                        "MFR-PT-6",
                        "out",
                        "PT-6",
                        "inNew",
                        Map.of(
                                "id",
                                "PT-6B",
                                "assetClass",
                                "lv-breaker",
                                "maker",
                                "Orvex",
                                "model",
                                "M160",
                                "serial",
                                "66-0006",
                                "plate",
                                Map.of("poles", "3", "ratedCurrent", "100"))),
                null);
        SERVER.context().getBean(Horizon.class).layAll();
        TestServerWait.until(
                () -> sql.queryForList("SELECT reason FROM job WHERE asset = 'PT-6B' AND status = 'open'", String.class)
                        .contains("after an exchange"));
        assertEquals(
                "Undone: Exchanged PT-6 for PT-6B at MFR-PT-6",
                tavel.post("/api/register/acts/" + act.path("id").asLong() + "/undo", Map.of(), null)
                        .path("words")
                        .asString());
        assertEquals(0, sql.queryForObject("SELECT count(*) FROM job WHERE asset = 'PT-6B'", Integer.class));
    }

    @Test
    void aRoundIsBuiltOrderedTickedPrintedAndReadAsACalendar() throws Exception {
        LocalDate on = today.plusDays(3);
        List<Long> ids = new ArrayList<>();
        for (String asset : List.of("PT-7", "PT-8")) {
            ids.add(job(asset, today, on, on.plusDays(2)));
        }
        String address = "/api/rounds/tavel/" + on;
        assertTrue(tavel.get(address + "/free")
                .valueStream()
                .map(j -> j.path("id").asLong())
                .toList()
                .containsAll(ids));
        JsonNode round = tavel.post(address + "/jobs", Map.of("jobs", ids), null);
        assertEquals(60, round.path("work").asInt());
        // 5.4 km at 18 km/h are 18 min, and 4 for boarding; the base of this valley is its one site, so nobody travels.
        assertEquals(
                List.of(0, 480, 540),
                List.of(
                        round.path("travel").asInt(),
                        round.path("leaves").asInt(),
                        round.path("back").asInt()));
        problem(
                409,
                "changed-meanwhile",
                () -> oster.post("/api/rounds/oster/" + on + "/jobs", Map.of("jobs", ids), null));
        JsonNode ordered = tavel.put(address + "/order", Map.of("jobs", List.of(ids.get(1), ids.get(0))));
        assertEquals(
                List.of(ids.get(1), ids.get(0)),
                ordered.path("stops")
                        .get(0)
                        .path("jobs")
                        .valueStream()
                        .map(j -> j.path("id").asLong())
                        .toList());
        problem(409, "changed-meanwhile", () -> tavel.put(address + "/order", Map.of("jobs", List.of(ids.get(0)))));
        JsonNode out = ordered.path("loadout")
                .valueStream()
                .filter(i -> !i.path("holds").asBoolean())
                .findFirst()
                .orElseThrow();
        assertTrue(out.path("state").asString().matches("calibration ended .*: take Micro-ohmmeter 1"), out.toString());
        assertEquals(
                "A. Tavel",
                tavel.put(address + "/loadout", Map.of("item", "gear:mic-1", "on", true))
                        .path("loadout")
                        .valueStream()
                        .filter(i -> i.path("item").asString().equals("gear:mic-1"))
                        .findFirst()
                        .orElseThrow()
                        .path("tickedBy")
                        .asString());
        assertFalse(tavel.put(address + "/loadout", Map.of("item", "gear:mic-1", "on", false))
                .toString()
                .contains("tickedBy"));
        // The same gear for a second person on the day: said in words, to the one who is left without.
        long third = job("PT-9", today, on, on.plusDays(2));
        JsonNode second = oster.post("/api/rounds/oster/" + on + "/jobs", Map.of("jobs", List.of(third)), null);
        assertEquals(
                List.of(),
                second.path("conflicts")
                        .valueStream()
                        .map(JsonNode::asString)
                        .filter(c -> c.contains("taken"))
                        .toList());
        assertTrue(
                tavel.get(address)
                        .path("conflicts")
                        .toString()
                        .contains("Every micro-ohmmeter in calibration is taken on that day, by M. Oster."),
                tavel.get(address).path("conflicts").toString());
        sql.update("INSERT INTO absence (person, from_day, to_day, why) VALUES ('tavel', ?, ?, 'training')", on, on);
        assertTrue(tavel.get(address).path("conflicts").toString().contains("A. Tavel is away on that day: training."));
        try (PDDocument sheet = Loader.loadPDF(tavel.bytes(address + "/sheet"))) {
            String text = new PDFTextStripper().getText(sheet);
            assertTrue(
                    text.contains("MFR-PT-8")
                            && text.contains("Montfrel substation")
                            && text.contains("08:00 to 09:00")
                            && text.contains("none else is free"),
                    text);
        }
        calendar(on);
    }

    private void calendar(LocalDate on) throws IOException, ParserException {
        String secret = tavel.post("/api/calendar-address", Map.of(), null)
                .path("address")
                .asString()
                .replaceAll("^https?://[^/]+", "");
        assertTrue(secret.matches("/calendar/[A-Za-z0-9_-]{43}\\.ics"), secret);
        assertFalse(tavel.get("/api/calendar-address").hasNonNull("address"), "it is told once");
        String text = fetched(secret, 200);
        VEvent event = new CalendarBuilder()
                .build(new StringReader(text)).<VEvent>getComponents("VEVENT").stream()
                        .filter(e -> e.getUid().orElseThrow().getValue().equals("tavel-" + on + "@juratest"))
                        .findFirst()
                        .orElseThrow();
        assertEquals(
                "Round: 2 jobs at 1 stop",
                event.getProperty(Property.SUMMARY).orElseThrow().getValue());
        assertEquals(
                "Montfrel substation",
                event.getProperty(Property.LOCATION).orElseThrow().getValue());
        assertTrue(
                text.lines().allMatch(l -> l.getBytes(StandardCharsets.UTF_8).length <= 75),
                "lines are folded, RFC 5545 3.1");
        fetched("/calendar/" + "A".repeat(43) + ".ics", 404);
        tavel.delete("/api/calendar-address");
        fetched(secret, 404);
    }

    private static String fetched(String path, int status) throws IOException {
        HttpURLConnection connection = (HttpURLConnection)
                URI.create("http://127.0.0.1:" + SERVER.port() + path).toURL().openConnection();
        assertEquals(status, connection.getResponseCode());
        if (status != 200) {
            return "";
        }
        assertTrue(connection.getContentType().startsWith("text/calendar"));
        try (BufferedReader in =
                new BufferedReader(new InputStreamReader(connection.getInputStream(), StandardCharsets.UTF_8))) {
            return String.join("\r\n", in.lines().toList());
        }
    }

    @Test
    void theReportCountsEveryJobOnceAndLeadsToTheRecords() throws IOException {
        String days = "from=2025-01-01&to=2025-12-31";
        JsonNode report = tavel.get("/api/compliance?by=quarter&" + days);
        JsonNode row = report.path("rows")
                .valueStream()
                .filter(r -> r.path("procedure").asString().equals("CBK-YEARLY"))
                .findFirst()
                .orElseThrow();
        assertEquals(
                List.of("Q1 2025", "Q2 2025", "Q3 2025", "Q4 2025"),
                row.path("periods")
                        .valueStream()
                        .map(p -> p.path("period").asString())
                        .toList());
        assertEquals(
                List.of(3, 3, 0),
                List.of(
                        row.path("periods").get(3).path("due").asInt(),
                        row.path("total").path("inWindow").asInt(),
                        row.path("total").path("missed").asInt()));
        List<String> records = tavel.get("/api/compliance/jobs?procedure=CBK-YEARLY&" + days)
                .valueStream()
                .map(j -> j.path("record").asString())
                .sorted()
                .toList();
        assertEquals(List.of("MFR-CBK-07/2025/1", "MFR-CBK-08/2025/1", "MFR-CBK-09/2025/1"), records);
        String csv = new String(tavel.bytes("/api/compliance/table?" + days), StandardCharsets.UTF_8);
        assertEquals(
                records,
                CSVFormat.RFC4180
                        .builder()
                        .setHeader()
                        .setSkipHeaderRecord(true)
                        .get()
                        .parse(new StringReader(csv))
                        .stream()
                        .filter(r -> r.get("procedure").equals("CBK-YEARLY"))
                        .map(r -> r.get("record"))
                        .sorted()
                        .toList());
        try (PDDocument paper = Loader.loadPDF(tavel.bytes("/api/compliance/paper?by=quarter&" + days))) {
            assertTrue(
                    new PDFTextStripper().getText(paper).matches("(?s).*Yearly test, moulded case\\s+3\\s+3\\s+0.*"),
                    new PDFTextStripper().getText(paper));
        }
        assertEquals(
                "to",
                problem(409, "out-of-range", () -> tavel.get("/api/compliance?from=2025-02-01&to=2025-01-01"))
                        .field());
        assertEquals(
                3,
                tavel.get("/api/compliance/jobs?outcome=inWindow&procedure=CBK-YEARLY&" + days)
                        .size());
        assertEquals(
                "outcome",
                problem(409, "unknown-outcome", () -> tavel.get("/api/compliance/jobs?outcome=lost&" + days))
                        .field());
        assertEquals(
                "by",
                problem(409, "unknown-period", () -> tavel.get("/api/compliance?by=week&" + days))
                        .field());
    }

    @Test
    void whatAJobLacksIsSaidWithTheDay() {
        job("PT-10", today, today, today);
        oster.post(
                "/api/plans",
                plan(
                        "Needs much",
                        "lv-breaker",
                        "assetClass",
                        null,
                        "positions",
                        List.of("MFR-PT-10"),
                        "amount",
                        1,
                        "counting",
                        "due",
                        "before",
                        "P5D",
                        "after",
                        "P5D",
                        "outage",
                        true,
                        "people",
                        2,
                        "authorisation",
                        "arc flash",
                        "leadDays",
                        10,
                        "parts",
                        Map.of("beacon-battery", 9)),
                null);
        laid();
        JsonNode first = tavel.get("/api/plan/jobs?site=MFR&when=all&limit=200")
                .path("jobs")
                .valueStream()
                .filter(j -> j.path("asset").asString().equals("PT-10")
                        && j.path("lacks").size() > 0)
                .findFirst()
                .orElseThrow();
        assertEquals(
                List.of(
                        "outage not asked for yet",
                        "nobody is authorised for arc flash on that day",
                        "needs 9 \u00d7 Beacon battery, release unit, 3 usable on that day"),
                first.path("lacks").valueStream().map(JsonNode::asString).toList());
        LocalDate due = LocalDate.parse(first.path("due").asString());
        assertEquals(due.minusDays(10).toString(), first.path("arrangeBy").asString());
        tavel.post(
                "/api/plan/outages", Map.of("site", "MFR", "fromDay", due, "toDay", due, "words", "one feeder"), null);
        JsonNode outage = oster.get("/api/plan/resources")
                .path("outages")
                .valueStream()
                .filter(o -> o.path("words").asString().equals("one feeder"))
                .findFirst()
                .orElseThrow();
        oster.put("/api/plan/outages/" + outage.path("id").asLong(), Map.of("state", "granted", "words", "one feeder"));
        long seen = oster.get("/api/plan/resources")
                .path("people")
                .valueStream()
                .filter(p -> p.path("id").asString().equals("oster"))
                .findFirst()
                .orElseThrow()
                .path("revision")
                .asLong();
        problem(
                428,
                "if-match-missing",
                () -> oster.put(
                        "/api/plan/people/oster/authorisations",
                        Map.of("kind", "arc flash", "since", today, "expires", due)));
        oster.put(
                "/api/plan/people/oster/authorisations",
                Map.of("kind", "arc flash", "since", today, "expires", due),
                seen);
        problem(412, "run-moved-on", () -> oster.put("/api/plan/people/oster/time", Map.of("minutesADay", 60), seen));
        oster.put("/api/plan/parts/beacon-battery/lots/X-1", Map.of("count", 6, "expires", due));
        assertEquals(
                0,
                tavel.get("/api/plan/jobs/" + first.path("id").asLong())
                        .path("lacks")
                        .size());
        tavel.put("/api/jobs/" + first.path("id").asLong() + "/day", day(due, "tavel", null, null));
        assertEquals(
                List.of("A. Tavel is not authorised for arc flash", "needs 2 people at the site, 1 planned"),
                tavel.get("/api/plan/jobs/" + first.path("id").asLong())
                        .path("lacks")
                        .valueStream()
                        .map(JsonNode::asString)
                        .toList());
        problem(403, "not-allowed", () -> tavel.put("/api/plan/people/tavel/time", Map.of("minutesADay", 60)));
        assertEquals(
                "toDay",
                problem(
                                422,
                                "fields-invalid",
                                () -> tavel.post(
                                        "/api/plan/outages",
                                        Map.of("site", "MFR", "fromDay", due, "toDay", due.minusDays(1), "words", ""),
                                        null))
                        .fields()
                        .keySet()
                        .iterator()
                        .next());
    }

    @Test
    void theLoadAddsUpByPersonAndBySiteAndAbsenceTakesFromCapacity() {
        job("PT-11", today.minusDays(30), today.minusDays(20), today.minusDays(10));
        LocalDate monday = today.with(java.time.temporal.TemporalAdjusters.next(java.time.DayOfWeek.MONDAY));
        sql.update("INSERT INTO person (id, name, role, password_hash) VALUES ('new', 'N. New', 'technician', '')");
        sql.update(
                "INSERT INTO absence (person, from_day, to_day, why) VALUES ('new', ?, ?, 'course'), ('new', ?, "
                        + "?, 'holiday')",
                monday.plusDays(3),
                monday.plusDays(8),
                monday.plusDays(14),
                monday.plusDays(20));
        long planned = job("PT-12", today, monday.plusDays(2), monday.plusDays(4));
        oster.put("/api/jobs/" + planned + "/day", day(monday.plusDays(1), "new", null, null));
        JsonNode load = tavel.get("/api/plan/load");
        JsonNode row = load.path("people")
                .valueStream()
                .filter(r -> r.path("key").asString().equals("new"))
                .findFirst()
                .orElseThrow();
        int first = (int) java.time.temporal.ChronoUnit.DAYS.between(
                        LocalDate.parse(load.path("first").asString()), monday)
                / 7;
        assertEquals(
                List.of(3 * 420, 3 * 420, 0, 5 * 420),
                List.of(0, 1, 2, 3).stream()
                        .map(w -> row.path("weeks")
                                .get(first + w)
                                .path("capacity")
                                .asInt())
                        .toList(),
                "Thursday to Tuesday, then a whole week");
        assertEquals(
                List.of(1, 30),
                List.of(
                        row.path("weeks").get(first).path("jobs").asInt(),
                        row.path("weeks").get(first).path("minutes").asInt()));
        for (int w = 0; w < 26; w++) {
            int week = w;
            assertEquals(
                    load.path("sites")
                            .valueStream()
                            .mapToInt(r ->
                                    r.path("weeks").get(week).path("minutes").asInt())
                            .sum(),
                    load.path("people")
                            .valueStream()
                            .mapToInt(r ->
                                    r.path("weeks").get(week).path("minutes").asInt())
                            .sum(),
                    "week " + w);
        }
        assertEquals(
                sql.queryForObject(
                        "SELECT count(*) FROM job WHERE status IN ('open', 'running', 'partly done') AND closes "
                                + "< current_date AND cannot IS NULL AND (deferred_to IS NULL OR deferred_to < "
                                + "current_date)",
                        Integer.class),
                load.path("sites")
                        .valueStream()
                        .mapToInt(r -> r.path("over").asInt())
                        .sum());
        assertEquals(
                List.of("PT-12"),
                tavel.get("/api/plan/jobs?person=new&when=" + monday)
                        .path("jobs")
                        .valueStream()
                        .map(j -> j.path("asset").asString())
                        .toList());
        assertEquals(
                "when",
                problem(409, "unknown-part", () -> tavel.get("/api/plan/jobs?when=soon"))
                        .field());
    }

    @Test
    void aDayGoesAlongTheLineAndALeftOverGoesBackWithItsReason() {
        sql.update("INSERT INTO site (code, name, km, altitude, zone) VALUES ('FAR', 'Far hut', 20.4, 900, 'CET')");
        LocalDate on = today.plusDays(30);
        long near = job("PT-13", today, on, on);
        long far = job("PT-14", today, on, on);
        long late = job("PT-15", today, today, today);
        sql.update("UPDATE position SET site = 'FAR' WHERE code = 'MFR-PT-14'");
        // All or none: the third one's window is closed by then.
        problem(
                422,
                "fields-invalid",
                () -> oster.post("/api/rounds/oster/" + on + "/jobs", Map.of("jobs", List.of(far, late)), null));
        assertFalse(tavel.get("/api/jobs/" + far).hasNonNull("plannedFor"));
        JsonNode round = oster.post("/api/rounds/oster/" + on + "/jobs", Map.of("jobs", List.of(far, near)), null);
        // 15 km at 18 km/h are 50 min, and 4 for boarding; the base is where the line begins.
        assertEquals(
                List.of("MFR 480 510 0", "FAR 564 594 54"),
                round.path("stops")
                        .valueStream()
                        .map(s -> s.path("site").asString() + " "
                                + s.path("arrives").asInt() + " "
                                + s.path("goesOn").asInt() + " "
                                + s.path("travel").asInt())
                        .toList());
        assertEquals(
                List.of(108, 648),
                List.of(round.path("travel").asInt(), round.path("back").asInt()));
        assertEquals(
                648 + 60,
                oster.put("/api/rounds/oster/" + on + "/start", Map.of("leaves", 540))
                        .path("back")
                        .asInt());
        assertEquals(
                "leaves",
                problem(
                                409,
                                "out-of-range",
                                () -> oster.put("/api/rounds/oster/" + on + "/start", Map.of("leaves", 1440)))
                        .field());
        sql.update("UPDATE job SET planned_for = ?, person = 'oster' WHERE id = ?", today.minusDays(1), near);
        assertEquals(
                List.of("MFR-PT-13"),
                oster.get("/api/round")
                        .path("leftOver")
                        .valueStream()
                        .map(j -> j.path("position").asString())
                        .toList());
        assertTrue(problem(
                        422,
                        "fields-invalid",
                        () -> oster.put("/api/jobs/" + near + "/day", day(null, null, today.minusDays(1), "oster")))
                .fields()
                .get("day")
                .contains("put it back with a reason"));
        oster.post("/api/jobs/" + near + "/put-back", Map.of("why", "weather"), null);
        assertEquals(0, oster.get("/api/round").path("leftOver").size());
    }

    @Test
    void aTestThatBeginsBelongsToTodayAndToWhoeverBeginsIt() {
        long id = job("PT-16", today.minusDays(9), today.minusDays(5), today.minusDays(2));
        oster.post("/api/jobs/" + id + "/deferral", Map.of("until", today.plusDays(20), "why", "later"), null);
        tavel.post("/api/jobs/" + id + "/run", Map.of("gear", Map.of()), null);
        JsonNode job = tavel.get("/api/jobs/" + id);
        assertEquals(
                List.of(today.toString(), "tavel", "running"),
                List.of(
                        job.path("plannedFor").asString(),
                        job.path("person").asString(),
                        job.path("status").asString()));
        assertFalse(job.hasNonNull("deferredTo"));
        assertTrue(tavel.roundJobs().stream().anyMatch(j -> j.path("id").asLong() == id && j.hasNonNull("run")));
        problem(
                409,
                "run-open",
                () -> oster.post("/api/jobs/" + id + "/obstacle", Map.of("kind", "no access", "why", "locked"), null));
        sql.update("UPDATE job SET status = 'missed' WHERE id = ?", id);
        problem(
                409,
                "job-closed",
                () -> oster.post(
                        "/api/jobs/" + id + "/deferral", Map.of("until", today.plusDays(20), "why", "later"), null));
        sql.update("UPDATE job SET status = 'running' WHERE id = ?", id);
    }

    @Test
    void runningHoursAreReadAndSayWhenItIsDue() {
        sql.update("INSERT INTO position (code, site, family) VALUES ('MFR-GEN-01', 'MFR', 'standby power')");
        sql.update("INSERT INTO asset (id, class, maker, model, serial, nameplate) VALUES ('GN-1', 'generator-set', "
                + "'Tarnivol', 'DG', 'G-1', '{}')");
        sql.update("INSERT INTO installation (asset, position, during) VALUES ('GN-1', 'MFR-GEN-01', "
                + "tstzrange(now() - interval '100 days', NULL))");
        sql.update(
                "INSERT INTO job (asset, position, procedure, reason, opens, due, closes, status, done_on) "
                        + "VALUES ('GN-1', 'MFR-GEN-01', 'GEN-SERVICE', 'x', ?, ?, ?, 'done', ?)",
                today.minusDays(60),
                today.minusDays(60),
                today.minusDays(60),
                today.minusDays(60));
        tavel.post("/api/assets/GN-1/counter", Map.of("day", today.minusDays(60), "value", 100), null);
        tavel.post("/api/assets/GN-1/counter", Map.of("day", today, "value", 220), null);
        laid();
        // 2 h a day: 120 of 250 h are run, 130 to go.
        assertEquals(
                today.plusDays(65),
                sql.queryForObject(
                        "SELECT min(due) FROM job WHERE asset = 'GN-1' AND procedure = 'GEN-SERVICE' AND status "
                                + "= 'open'",
                        LocalDate.class));
        assertEquals(
                "value",
                problem(
                                422,
                                "fields-invalid",
                                () -> tavel.post("/api/assets/GN-1/counter", Map.of("day", today, "value", -1), null))
                        .fields()
                        .keySet()
                        .iterator()
                        .next());
        assertEquals(
                "day",
                problem(
                                422,
                                "fields-invalid",
                                () -> tavel.post(
                                        "/api/assets/GN-1/events",
                                        Map.of("kind", "repair", "day", today.plusDays(3), "words", "x"),
                                        null))
                        .fields()
                        .keySet()
                        .iterator()
                        .next());
        assertTrue(problem(
                        422,
                        "fields-invalid",
                        () -> tavel.post("/api/assets/GN-1/counter", Map.of("day", "0026-11-25", "value", 1), null))
                .fields()
                .get("day")
                .contains("look at the year"));
        problem(
                404,
                "unknown-asset",
                () -> tavel.post("/api/assets/none/counter", Map.of("day", today, "value", 1), null));
        // The monthly run has nothing to count from: it is due 20 to 40 days after the device came, which was before
        // the plan asked for anything or is over.
        assertTrue(sql.queryForObject(
                        "SELECT count(*) FROM job WHERE asset = 'GN-1' AND procedure = 'GEN-MONTHLY' AND status "
                                + "= 'open'",
                        Integer.class)
                > 4);
    }

    @Test
    void aGrantedOutageOfThePositionComesBeforeARefusedOneOfTheSite() {
        long id = job("PT-17", today, today.plusDays(2), today.plusDays(9));
        oster.post(
                "/api/plans",
                plan(
                        "Needs an outage",
                        "lv-breaker",
                        "assetClass",
                        null,
                        "positions",
                        List.of("MFR-PT-17"),
                        "amount",
                        1,
                        "counting",
                        "due",
                        "outage",
                        true,
                        "before",
                        "P5D",
                        "after",
                        "P5D"),
                null);
        // The plan is laid in the background; what is changed by hand below must not be laid anew after that.
        laid();
        long of = sql.queryForObject("SELECT id FROM plan WHERE title = 'Needs an outage'", Long.class);
        sql.update("UPDATE job SET plan = ?, due = ? WHERE id = ?", of, today.plusDays(3), id);
        sql.update(
                "INSERT INTO outage (site, position, from_day, to_day, state, words, by, at) VALUES ('MFR', "
                        + "NULL, ?, ?, 'refused', '', 'oster', now())",
                today.plusDays(3),
                today.plusDays(3));
        assertEquals(
                "outage refused",
                tavel.get("/api/plan/jobs/" + id).path("lacks").get(0).asString());
        sql.update(
                "INSERT INTO outage (site, position, from_day, to_day, state, words, by, at) VALUES ('MFR', "
                        + "'MFR-PT-17', ?, ?, 'granted', '', 'oster', now())",
                today.plusDays(3),
                today.plusDays(3));
        assertEquals(0, tavel.get("/api/plan/jobs/" + id).path("lacks").size());
        assertEquals(
                "outage not asked for yet",
                tavel.put("/api/jobs/" + id + "/day", day(today.plusDays(5), null, null, null))
                                .isMissingNode()
                        ? ""
                        : tavel.get("/api/plan/jobs/" + id).path("lacks").get(0).asString());
    }

    /** Does something in a thread, and so in a transaction, of its own. */
    private static <T> T elsewhere(java.util.function.Supplier<T> work) {
        return CompletableFuture.supplyAsync(work).join();
    }

    /**
     * However the laying of jobs for a new device falls together with the undoing of what brought it in: it is undone.
     */
    @Test
    void undoingAndLayingAtOnceLeaveNothingBehind() {
        Horizon horizon = SERVER.context().getBean(Horizon.class);
        for (int i = 0; i < 12; i++) {
            String position = "MFR-UN-" + i;
            String asset = "UN-" + i;
            JsonNode act = oster.post(
                    "/api/register/positions",
                    Map.of(
                            "code",
                            position,
                            "site",
                            "MFR",
                            "family",
                            "breakers",
                            "title",
                            "",
                            "partOf",
                            "",
                            "part",
                            ""),
                    null);
            assertTrue(act.path("id").asLong() > 0);
            JsonNode exchange = tavel.post(
                    "/api/register/exchanges",
                    Map.of(
                            "position",
                            position,
                            "inNew",
                            Map.of(
                                    "id",
                                    asset,
                                    "assetClass",
                                    "lv-breaker",
                                    "maker",
                                    "Orvex",
                                    "model",
                                    "M160",
                                    "serial",
                                    "77-" + i,
                                    "plate",
                                    Map.of("poles", "3", "ratedCurrent", "100"))),
                    null);
            CompletableFuture<Integer> laying = CompletableFuture.supplyAsync(horizon::layAll);
            tavel.post("/api/register/acts/" + exchange.path("id").asLong() + "/undo", Map.of(), null);
            laying.join();
            assertEquals(0, sql.queryForObject("SELECT count(*) FROM asset WHERE id = ?", Integer.class, asset));
        }
    }

    /**
     * Who changes something of a device and who lays its jobs never wait for each other: it is laid when the other is
     * through.
     */
    @ParameterizedTest
    @CsvSource({"job, asset, PT-18", "asset, id, PT-18", "position, code, MFR-PT-18"})
    void aDeviceThatIsBeingChangedIsLaidAfterwards(String table, String column, String key) {
        if (sql.queryForObject("SELECT count(*) FROM asset WHERE id = 'PT-18'", Integer.class) == 0) {
            job("PT-18", today, today, today);
            oster.post(
                    "/api/plans",
                    plan(
                            "Held",
                            "lv-breaker",
                            "assetClass",
                            null,
                            "positions",
                            List.of("MFR-PT-18"),
                            "amount",
                            2,
                            "counting",
                            "done"),
                    null);
        }
        laid();
        Horizon horizon = SERVER.context().getBean(Horizon.class);
        JdbcTemplate inside = SERVER.context().getBean(JdbcTemplate.class);
        new TransactionTemplate(SERVER.context().getBean(PlatformTransactionManager.class)).executeWithoutResult(s -> {
            inside.queryForList("SELECT 1 FROM " + table + " WHERE " + column + " = ? FOR UPDATE", key);
            elsewhere(() -> sql.update("UPDATE horizon SET again_at = '-infinity' WHERE asset = 'PT-18'"));
            elsewhere(horizon::layAll);
            assertEquals(
                    1,
                    elsewhere(() -> sql.queryForObject(
                            "SELECT count(*) FROM horizon WHERE asset = 'PT-18' AND again_at <= now()", Integer.class)),
                    "it is left for later");
        });
        laid();
    }
}
