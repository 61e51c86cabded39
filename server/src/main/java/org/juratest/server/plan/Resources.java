package org.juratest.server.plan;

import java.time.Clock;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.juratest.core.register.FieldProblem;
import org.juratest.core.run.Refusal;
import org.juratest.server.people.ChangeLog;
import org.juratest.server.register.Codes;
import org.juratest.server.web.FieldsException;
import org.juratest.server.web.NotAllowedException;
import org.juratest.server.web.NotFoundException;
import org.juratest.server.web.PreconditionException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;
import org.springframework.transaction.annotation.Transactional;

/**
 * What jobs need beside devices and gear: people with their time and authorisations, access to sites, outages, parts;
 * and what happened to devices.
 */
@Repository
public class Resources {

    private static final int DAY_MINUTES = 1440;
    private static final int WEEK_MINUTES = 7 * DAY_MINUTES;
    private static final int NEAR_YEARS = 50;

    private final JdbcClient jdbc;
    private final ChangeLog log;
    private final Horizon horizon;
    private final Clock clock;

    public Resources(JdbcClient jdbc, Horizon horizon, Clock clock, ChangeLog log) {
        this.log = log;
        this.jdbc = jdbc;
        this.horizon = horizon;
        this.clock = clock;
    }

    /** Everything there is. */
    public record ResourcesView(
            List<PersonView> people,
            List<SiteAccess> sites,
            List<ReadyFacts.OutageView> outages,
            List<PartView> parts) {}

    /**
     * A person with the time and authorisations there are.
     *
     * @param revision what {@code If-Match} must say to change hours or authorisations
     */
    public record PersonView(
            String id,
            String name,
            String role,
            int minutesADay,
            List<AbsenceView> absences,
            List<AuthorisationView> authorisations,
            long revision) {}

    /** Days on which a person is away. */
    public record AbsenceView(long id, LocalDate fromDay, LocalDate toDay, String why) {}

    /** @param expires last day; absent for one without end */
    public record AuthorisationView(String kind, LocalDate since, @Nullable LocalDate expires) {}

    /** @param accessMinutes a week in which people may work there; absent where nobody said */
    public record SiteAccess(String code, String name, @Nullable Integer accessMinutes, long revision) {}

    /** A part with its lots. */
    public record PartView(String code, String name, List<ReadyFacts.Lot> lots) {}

    /** @param accessMinutes absent for no limit */
    public record AccessGiven(@Nullable Integer accessMinutes) {}

    /** @param minutesADay that a person works */
    public record TimeGiven(int minutesADay) {}

    /** Days away. */
    public record AbsenceGiven(LocalDate fromDay, LocalDate toDay, String why) {}

    /** An outage that is asked for. */
    public record OutageGiven(
            String site, @Nullable String position, LocalDate fromDay, LocalDate toDay, String words) {}

    /** @param state {@code asked}, {@code granted} or {@code refused} */
    public record OutageAnswer(String state, String words) {}

    public record LotGiven(int count, @Nullable LocalDate expires) {}

    public record PartGiven(String code, String name) {}

    /** Something that happened to a device. */
    public record HappenedGiven(String kind, LocalDate day, String words) {}

    public record CounterGiven(LocalDate day, double value) {}

    public ResourcesView all() {
        List<PersonView> people = jdbc
                .sql("SELECT id, name, role, minutes_a_day, time_revision FROM person ORDER BY role DESC, name, id")
                .query((rs, i) -> new PersonView(
                        rs.getString(1),
                        rs.getString(2),
                        rs.getString(3),
                        rs.getInt(4),
                        List.of(),
                        List.of(),
                        rs.getLong(5)))
                .list()
                .stream()
                .map(p -> new PersonView(
                        p.id(),
                        p.name(),
                        p.role(),
                        p.minutesADay(),
                        absences(p.id()),
                        authorisations(p.id()),
                        p.revision()))
                .toList();
        List<ReadyFacts.Lot> lots = ReadyFacts.lots(jdbc);
        return new ResourcesView(
                people,
                jdbc.sql("SELECT code, name, access_minutes, access_revision FROM site ORDER BY km, code")
                        .query((rs, i) -> new SiteAccess(
                                rs.getString(1), rs.getString(2), rs.getObject(3, Integer.class), rs.getLong(4)))
                        .list(),
                ReadyFacts.outages(jdbc),
                jdbc.sql("SELECT code, name FROM part ORDER BY name")
                        .query((rs, i) -> {
                            String code = rs.getString(1);
                            return new PartView(
                                    code,
                                    rs.getString(2),
                                    lots.stream()
                                            .filter(l -> l.part().equals(code))
                                            .toList());
                        })
                        .list());
    }

    private List<AbsenceView> absences(String person) {
        return jdbc.sql("SELECT id, from_day, to_day, why FROM absence WHERE person = :person ORDER BY from_day")
                .param("person", person)
                .query((rs, i) -> new AbsenceView(
                        rs.getLong(1),
                        rs.getObject(2, LocalDate.class),
                        rs.getObject(3, LocalDate.class),
                        rs.getString(4)))
                .list();
    }

    private List<AuthorisationView> authorisations(String person) {
        return jdbc.sql("SELECT kind, since, expires FROM authorisation WHERE person = :person ORDER BY kind")
                .param("person", person)
                .query((rs, i) -> new AuthorisationView(
                        rs.getString(1), rs.getObject(2, LocalDate.class), rs.getObject(3, LocalDate.class)))
                .list();
    }

    private static void one(int rows, String kind, String id) {
        if (rows == 0) {
            throw new NotFoundException(kind, id);
        }
    }

    /** A year typed wrong, 0026 or 20266, is not taken for a day. */
    private void near(String field, @Nullable LocalDate day, List<FieldProblem> problems) {
        if (day != null
                && (day.isBefore(today().minusYears(NEAR_YEARS)) || day.isAfter(today().plusYears(NEAR_YEARS)))) {
            problems.add(
                    new FieldProblem(field, day + " is more than " + NEAR_YEARS + " years away; look at the year."));
        }
    }

    private void inOrder(
            String fromField, LocalDate from, @Nullable LocalDate to, String field, List<FieldProblem> problems) {
        near(fromField, from, problems);
        near(field, to, problems);
        if (to != null && to.isBefore(from)) {
            problems.add(new FieldProblem(field, "The last day is before the first; give a later one."));
        }
    }

    /**
     * Nobody else changes this person's hours and authorisations until this is through, and nobody has since they were
     * seen.
     */
    private void hold(String person, long seen) {
        long there = jdbc.sql("SELECT time_revision FROM person WHERE id = :id FOR UPDATE")
                .param("id", person)
                .query(Long.class)
                .optional()
                .orElseThrow(() -> new NotFoundException("person", person));
        if (there != seen) {
            throw PreconditionException.stale(seen, there);
        }
        moved(person);
    }

    private void moved(String person) {
        jdbc.sql("UPDATE person SET time_revision = time_revision + 1 WHERE id = :id")
                .param("id", person)
                .update();
    }

    /** @param seen revision of the person's hours and authorisations */
    @Transactional
    public void time(String person, TimeGiven given, long seen, String by) {
        if (given.minutesADay < 0 || given.minutesADay > DAY_MINUTES) {
            throw new Refusal("out-of-range", "A day has 0 to 24 hours.", "minutesADay");
        }
        hold(person, seen);
        one(
                jdbc.sql("UPDATE person SET minutes_a_day = :minutes WHERE id = :id")
                        .param("minutes", given.minutesADay)
                        .param("id", person)
                        .update(),
                "person",
                person);
        log.note(by, "time", person, given.minutesADay + " min a day");
    }

    @Transactional
    public void absent(String person, AbsenceGiven given, String by) {
        List<FieldProblem> problems = new ArrayList<>();
        inOrder("fromDay", given.fromDay, given.toDay, "toDay", problems);
        Codes.words("why", "a reason, such as holiday", given.why.strip(), problems);
        FieldsException.throwIf(problems);
        one(
                jdbc.sql("INSERT INTO absence (person, from_day, to_day, why) SELECT id, :from, :to, :why "
                                + "FROM person WHERE id = :id")
                        .param("from", given.fromDay)
                        .param("to", given.toDay)
                        .param("why", given.why.strip())
                        .param("id", person)
                        .update(),
                "person",
                person);
        log.note(by, "absence", person, "away from " + given.fromDay + " to " + given.toDay + ": " + given.why.strip());
    }

    @Transactional
    public void present(long absence, String by) {
        record Gone(String person, String words) {}
        Gone gone = jdbc.sql("DELETE FROM absence WHERE id = :id RETURNING person, from_day, to_day")
                .param("id", absence)
                .query((rs, i) -> new Gone(
                        rs.getString(1), "not away from " + rs.getString(2) + " to " + rs.getString(3) + " after all"))
                .optional()
                .orElseThrow(() -> new NotFoundException("absence", String.valueOf(absence)));
        log.note(by, "absence", gone.person, gone.words);
    }

    /** @param seen revision of the person's hours and authorisations */
    @Transactional
    public void authorise(String person, AuthorisationView given, long seen, String by) {
        List<FieldProblem> problems = new ArrayList<>();
        Codes.words("kind", "a kind, such as medium-voltage switching", given.kind.strip(), problems);
        inOrder("since", given.since, given.expires, "expires", problems);
        FieldsException.throwIf(problems);
        hold(person, seen);
        one(
                jdbc.sql(
                                """
        INSERT INTO authorisation (person, kind, since, expires) SELECT id, :kind, :since, :expires FROM person
          WHERE id = :id
        ON CONFLICT (person, kind) DO UPDATE SET since = excluded.since, expires = excluded.expires""")
                        .param("kind", given.kind.strip())
                        .param("since", given.since)
                        .param("expires", given.expires, java.sql.Types.DATE)
                        .param("id", person)
                        .update(),
                "person",
                person);
        log.note(
                by,
                "authorisation",
                person,
                given.kind.strip() + " from " + given.since + (given.expires == null ? "" : " to " + given.expires));
    }

    @Transactional
    public void withdraw(String person, String kind, String by) {
        one(
                jdbc.sql("DELETE FROM authorisation WHERE person = :person AND kind = :kind")
                        .param("person", person)
                        .param("kind", kind)
                        .update(),
                "authorisation",
                kind);
        moved(person);
        log.note(by, "authorisation", person, kind + " withdrawn");
    }

    /**
     * How long people may work at a site a week.
     *
     * @param revision that was seen
     */
    @Transactional
    public void access(String site, AccessGiven given, long revision, String by) {
        if (given.accessMinutes != null && (given.accessMinutes < 1 || given.accessMinutes > WEEK_MINUTES)) {
            throw new Refusal(
                    "out-of-range", "A week has up to 168 hours; leave it empty for no limit.", "accessMinutes");
        }
        long there = jdbc.sql("SELECT access_revision FROM site WHERE code = :code FOR UPDATE")
                .param("code", site)
                .query(Long.class)
                .optional()
                .orElseThrow(() -> new NotFoundException("site", site));
        if (there != revision) {
            throw PreconditionException.stale(revision, there);
        }
        jdbc.sql("UPDATE site SET access_minutes = :minutes, access_revision = access_revision + 1 WHERE code = :code")
                .param("minutes", given.accessMinutes, java.sql.Types.INTEGER)
                .param("code", site)
                .update();
        log.note(by, "access", site, given.accessMinutes == null ? "no limit" : given.accessMinutes + " min a week");
    }

    @Transactional
    public void ask(OutageGiven given, String by) {
        List<FieldProblem> problems = new ArrayList<>();
        inOrder("fromDay", given.fromDay, given.toDay, "toDay", problems);
        Codes.length("words", given.words, problems);
        if (given.position != null
                && jdbc.sql("SELECT count(*) FROM position WHERE code = :position AND site = :site")
                                .param("position", given.position)
                                .param("site", given.site)
                                .query(Long.class)
                                .single()
                        == 0) {
            problems.add(new FieldProblem("position", "There is no position \"" + given.position + "\" at this site."));
        }
        FieldsException.throwIf(problems);
        one(
                jdbc.sql("INSERT INTO outage (site, position, from_day, to_day, state, words, by, at, "
                                + "asked_by) SELECT code, :position, :from, :to, 'asked', :words, :by, "
                                + ":at, :by FROM site WHERE code = :site")
                        .param("position", given.position, java.sql.Types.VARCHAR)
                        .param("from", given.fromDay)
                        .param("to", given.toDay)
                        .param("words", given.words.strip())
                        .param("by", by)
                        .param("at", clock.instant().atOffset(ZoneOffset.UTC))
                        .param("site", given.site)
                        .update(),
                "site",
                given.site);
    }

    @Transactional
    public void answer(long outage, OutageAnswer given, String by) {
        List<FieldProblem> problems = new ArrayList<>();
        if (!Set.of("asked", "granted", "refused").contains(given.state)) {
            problems.add(new FieldProblem("state", "It is asked, granted or refused."));
        }
        Codes.length("words", given.words, problems);
        FieldsException.throwIf(problems);
        String asked = jdbc.sql("SELECT coalesce(asked_by, '') FROM outage WHERE id = :id FOR UPDATE")
                .param("id", outage)
                .query(String.class)
                .optional()
                .orElseThrow(() -> new NotFoundException("outage", String.valueOf(outage)));
        if (asked.equals(by) && given.state.equals("granted")) {
            throw new NotAllowedException(
                    "Nobody grants an outage they asked for themselves; another supervisor does.");
        }
        one(
                jdbc.sql("UPDATE outage SET state = :state, words = :words, by = :by, at = :at WHERE id = :id")
                        .param("state", given.state)
                        .param("words", given.words.strip())
                        .param("by", by)
                        .param("at", clock.instant().atOffset(ZoneOffset.UTC))
                        .param("id", outage)
                        .update(),
                "outage",
                String.valueOf(outage));
    }

    @Transactional
    public void part(PartGiven given, String by) {
        List<FieldProblem> problems = new ArrayList<>();
        Codes.check("code", given.code, Codes.CLASS, problems);
        Codes.words("name", "a name", given.name.strip(), problems);
        FieldsException.throwIf(problems);
        jdbc.sql("INSERT INTO part (code, name) VALUES (:code, :name) ON CONFLICT (code) DO UPDATE SET "
                        + "name = excluded.name")
                .param("code", given.code)
                .param("name", given.name.strip())
                .update();
        log.note(by, "part", given.code, "called " + given.name.strip());
    }

    /** A lot of a part; a count of 0 uses it up. */
    @Transactional
    public void lot(String part, String lot, LotGiven given, String by) {
        List<FieldProblem> problems = new ArrayList<>();
        if (given.count < 0 || given.count > 1_000_000) {
            problems.add(new FieldProblem("count", "There are 0 or more of it."));
        }
        Codes.words("lot", "a lot number", lot.strip(), problems);
        near("expires", given.expires, problems);
        FieldsException.throwIf(problems);
        one(
                jdbc.sql(
                                """
        INSERT INTO part_lot (part, lot, count, expires) SELECT code, :lot, :count, :expires FROM part
          WHERE code = :part
        ON CONFLICT (part, lot) DO UPDATE SET count = excluded.count, expires = excluded.expires""")
                        .param("lot", lot.strip())
                        .param("count", given.count)
                        .param("expires", given.expires, java.sql.Types.DATE)
                        .param("part", part)
                        .update(),
                "part",
                part);
        log.note(
                by,
                "part",
                part,
                "lot " + lot.strip() + ": " + given.count + (given.expires == null ? "" : ", to " + given.expires));
    }

    private LocalDate today() {
        return LocalDate.ofInstant(clock.instant(), ZoneOffset.UTC).plusDays(1);
    }

    /**
     * A repair, new firmware, a changed setting, a failure in service; whatever extra test a plan asks for is laid at
     * once.
     */
    @Transactional
    public void happened(String asset, HappenedGiven given, String by) {
        List<FieldProblem> problems = new ArrayList<>();
        if (!Set.of("repair", "firmware", "setting", "failure").contains(given.kind)) {
            problems.add(new FieldProblem("kind", "It is a repair, firmware, a setting or a failure in service."));
        }
        near("day", given.day, problems);
        if (given.day.isAfter(today())) {
            problems.add(new FieldProblem("day", "That day lies ahead; enter it when it is done."));
        }
        Codes.words("words", "words: what was done, or what failed", given.words.strip(), problems);
        FieldsException.throwIf(problems);
        one(
                jdbc.sql("INSERT INTO asset_event (asset, at, kind, words, by) SELECT id, :at, :kind, "
                                + ":words, :by FROM asset WHERE id = :asset")
                        .param("at", given.day.atTime(12, 0).atOffset(ZoneOffset.UTC))
                        .param("kind", given.kind)
                        .param("words", given.words.strip())
                        .param("by", by)
                        .param("asset", asset)
                        .update(),
                "asset",
                asset);
        horizon.again(List.of(asset));
    }

    /** What a counter of running hours or operations shows at the end of a day. */
    @Transactional
    public void counted(String asset, CounterGiven given, String by) {
        List<FieldProblem> problems = new ArrayList<>();
        if (!(given.value >= 0 && given.value < 1e12)) {
            problems.add(new FieldProblem("value", "A counter shows 0 or more."));
        }
        near("day", given.day, problems);
        if (given.day.isAfter(today())) {
            problems.add(new FieldProblem("day", "That day lies ahead; enter what it shows today."));
        }
        FieldsException.throwIf(problems);
        one(
                jdbc.sql("INSERT INTO counter_reading (asset, day, value, by) SELECT id, :day, :value, "
                                + ":by FROM asset WHERE id = :asset ON CONFLICT (asset, day) DO UPDATE "
                                + "SET value = excluded.value, by = excluded.by")
                        .param("day", given.day)
                        .param("value", given.value)
                        .param("by", by)
                        .param("asset", asset)
                        .update(),
                "asset",
                asset);
        horizon.again(List.of(asset));
    }
}
