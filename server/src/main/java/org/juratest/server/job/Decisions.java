package org.juratest.server.job;

import java.time.Clock;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Objects;
import java.util.Set;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.register.FieldProblem;
import org.juratest.core.run.Refusal;
import org.juratest.server.people.Reach;
import org.juratest.server.register.Codes;
import org.juratest.server.web.FieldsException;
import org.juratest.server.web.NotAllowedException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;

/**
 * What people decide about jobs: the day and whose it is, deferral, that it cannot be done, putting back, and jobs
 * raised by hand. Every reason is kept.
 */
@Service
public class Decisions {

    private static final Set<String> CANNOT = Set.of("outage refused", "no access", "device missing", "other");
    private static final Set<String> RAISED = Set.of("acceptance", "repair", "finding", "follow-up");
    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("d MMM yyyy", Locale.UK);
    /** How long somebody defers a job who does not decide for others. */
    private static final int OWN_DEFERRAL_DAYS = 31;

    private static final int MOST_YEARS = 10;
    /** Jobs that are moved in one go, at most. */
    private static final int MOST_MOVED = 200;

    private final JdbcClient jdbc;
    private final Jobs jobs;
    private final Clock clock;
    private final Reach reach;
    private final Moves moves;

    public Decisions(JdbcClient jdbc, Jobs jobs, Clock clock, Reach reach, Moves moves) {
        this.jdbc = jdbc;
        this.jobs = jobs;
        this.clock = clock;
        this.reach = reach;
        this.moves = moves;
    }

    /**
     * A day for a job.
     *
     * @param day absent to take it off the day it was planned for
     * @param person whose it is; absent for nobody's yet
     * @param wasDay what the screen showed, absent for none
     * @param wasPerson what the screen showed, absent for nobody
     */
    public record DayGiven(
            @Nullable LocalDate day, @Nullable String person, @Nullable LocalDate wasDay, @Nullable String wasPerson) {}

    /** @param until last day of the deferral */
    public record Deferral(LocalDate until, String why) {}

    /** @param kind {@code outage refused}, {@code no access}, {@code device missing} or {@code other} */
    public record Obstacle(String kind, String why) {}

    /** Why, in words. */
    public record Reason(String why) {}

    /**
     * A job raised by hand.
     *
     * @param occasion {@code acceptance}, {@code repair}, {@code finding} or {@code follow-up}
     * @param due its day; it may be done from today until then
     * @param record run whose record raised it
     */
    public record Raised(
            String asset, String procedure, String occasion, LocalDate due, String why, @Nullable UUID record) {}

    /** Something decided. */
    public record Decision(
            java.time.Instant at, String by, String name, String kind, @Nullable LocalDate until, String why) {}

    /** What was decided about a job, newest first. */
    public List<Decision> of(long job) {
        return jdbc.sql("SELECT d.at, d.by, coalesce(p.name, d.by), d.kind, d.until, d.why FROM job_decision d "
                        + "LEFT JOIN person p ON p.id = d.by WHERE d.job = :job ORDER BY d.id DESC")
                .param("job", job)
                .query((rs, i) -> new Decision(
                        rs.getTimestamp(1).toInstant(),
                        rs.getString(2),
                        rs.getString(3),
                        rs.getString(4),
                        rs.getObject(5, LocalDate.class),
                        rs.getString(6)))
                .list();
    }

    private LocalDate today(Jobs.Job job) {
        return LocalDate.ofInstant(clock.instant(), ZoneId.of(job.zone()));
    }

    private Jobs.Job open(long id) {
        String status = jobs.lock(id);
        switch (status) {
            case "open", "partly done" -> {}
            case "running" ->
                throw new Refusal("run-open", "A run of this job is open; finish or abort it at the bench first.");
            default ->
                throw new Refusal(
                        "job-closed", "This job is " + status + "; there is nothing left to decide about it.");
        }
        return jobs.byId(id);
    }

    /** Whose a job is decides about it; and whoever decides for others. */
    private void own(Jobs.Job job, String by) {
        reach.own(
                by,
                job.person(),
                "This job is " + (job.person() == null ? "nobody's" : name(job.person()) + "'s")
                        + "; they, an engineer or a supervisor decide about it.");
    }

    private void note(long job, String by, String kind, @Nullable LocalDate until, String why) {
        jdbc.sql("INSERT INTO job_decision (job, at, by, kind, until, why) VALUES (:job, :at, :by, :kind, "
                        + ":until, :why)")
                .param("job", job)
                .param("at", clock.instant().atOffset(ZoneOffset.UTC))
                .param("by", by)
                .param("kind", kind)
                .param("until", until, java.sql.Types.DATE)
                .param("why", why.strip())
                .update();
    }

    /**
     * Plans a job for a day and a person, or takes it off.
     *
     * @throws FieldsException if the day is outside its window, or gone, or there is no such person
     * @throws Refusal if somebody else has moved it meanwhile
     */
    @Transactional
    public Jobs.Job day(long id, DayGiven given, String by) {
        Jobs.Job job = jobs.byId(id);
        String to = given.day == null
                ? "taken off its day"
                : "put on " + DAY.format(given.day) + (given.person == null ? "" : ", " + name(given.person));
        return move(moves.begin(job.position() + " " + to, by), id, given, true, by);
    }

    /**
     * A job with the day it is given.
     *
     * @param to with what the screen showed
     */
    public record JobMove(long job, DayGiven to) {}

    /**
     * Plans several jobs as one act: all, or none where one of them cannot be.
     *
     * @throws FieldsException as for {@link #day}
     * @throws Refusal as for {@link #day}, or if there are none, or too many
     */
    @Transactional
    public Moves.PlanAct moveAll(List<JobMove> given, String by) {
        if (given.isEmpty() || given.size() > MOST_MOVED) {
            throw new Refusal("out-of-range", "Move 1 to " + MOST_MOVED + " jobs at once.", "moves");
        }
        DayGiven first = given.get(0).to;
        boolean together = given.stream()
                .allMatch(m -> Objects.equals(m.to.day, first.day) && Objects.equals(m.to.person, first.person));
        String to = first.day == null
                ? "taken off their day"
                : "put on " + DAY.format(first.day) + (first.person == null ? "" : ", " + name(first.person));
        long act = moves.begin(
                given.size() == 1
                        ? jobs.byId(given.get(0).job).position() + " " + to.replace("their", "its")
                        : given.size() + " jobs " + (together ? to : "moved"),
                by);
        given.stream()
                .sorted(java.util.Comparator.comparing(JobMove::job))
                .forEach(m -> move(act, m.job, m.to, true, by));
        return moves.newest(by).get(0);
    }

    /**
     * Plans a job as part of an act that moves several.
     *
     * @param fixed whether a person chose the day: it stays when jobs are shared out
     * @throws FieldsException as for {@link #day}
     * @throws Refusal as for {@link #day}
     */
    @Transactional
    public Jobs.Job move(long act, long id, DayGiven given, boolean fixed, String by) {
        Jobs.Job job = open(id);
        if (!Objects.equals(job.plannedFor(), given.wasDay) || !Objects.equals(job.person(), given.wasPerson)) {
            throw new Refusal(
                    "changed-meanwhile",
                    "Somebody has moved this job meanwhile: it is "
                            + (job.plannedFor() == null ? "on no day" : "on " + DAY.format(job.plannedFor()))
                            + (job.person() == null ? "" : ", " + name(job.person()))
                            + " now. Look at it again; nothing was moved.",
                    "wasDay");
        }
        own(job, by);
        reach.own(by, given.person, "You put jobs on your own days; an engineer or a supervisor gives them to others.");
        List<FieldProblem> problems = new ArrayList<>();
        LocalDate today = today(job);
        LocalDate day = given.day;
        if (day == null && given.person != null) {
            problems.add(new FieldProblem("day", "Say on which day it is to be done."));
        }
        if (day != null) {
            outside(job, day, today, problems);
        }
        if (given.person != null
                && jdbc.sql("SELECT count(*) FROM person WHERE id = :id")
                                .param("id", given.person)
                                .query(Long.class)
                                .single()
                        == 0) {
            problems.add(new FieldProblem(
                    "person", "There is nobody called \"" + given.person + "\"; choose one of the list."));
        }
        if (day == null && job.plannedFor() != null && job.plannedFor().isBefore(today)) {
            problems.add(new FieldProblem(
                    "day", "It was to be done on " + DAY.format(job.plannedFor()) + "; put it back with a reason."));
        }
        FieldsException.throwIf(problems);
        if (day != null && given.person != null) {
            jdbc.sql("INSERT INTO round (person, day) VALUES (:person, :day) ON CONFLICT DO NOTHING")
                    .param("person", given.person)
                    .param("day", day)
                    .update();
        }
        moves.noted(act, id, () -> put(job, given, fixed));
        note(
                id,
                by,
                "moved",
                day,
                day == null ? "off its day" : given.person == null ? "for nobody yet" : "for " + name(given.person));
        return jobs.byId(id);
    }

    private void put(Jobs.Job job, DayGiven given, boolean fixed) {
        jdbc.sql(
                        """
        UPDATE job SET planned_for = :day, person = :person, fixed = :fixed,
          place = CASE WHEN CAST(:person AS text) IS NULL THEN 0
          ELSE coalesce(
            (SELECT max(o.place) FROM job o JOIN position p ON p.code = o.position WHERE o.person = :person
              AND o.planned_for = :day AND o.id <> :id AND p.site = :site),
            (SELECT CASE WHEN max(o.place) > 0 THEN max(o.place) + 1 ELSE 0 END FROM job o WHERE o.person = :person
              AND o.planned_for = :day AND o.id <> :id), 0) END
        WHERE id = :id""")
                .param("day", given.day, java.sql.Types.DATE)
                .param("person", given.person, java.sql.Types.VARCHAR)
                .param("fixed", fixed && given.day != null)
                .param("id", job.id())
                .param("site", job.site())
                .update();
    }

    /** Lets a job stay on its day when jobs are shared out, or lets it go. */
    @Transactional
    public Jobs.Job fix(long id, boolean fixed, String by) {
        Jobs.Job job = open(id);
        own(job, by);
        if (fixed && job.plannedFor() == null) {
            throw new Refusal("not-planned", "This job is on no day; put it on one, and it stays there.");
        }
        jdbc.sql("UPDATE job SET fixed = :fixed WHERE id = :id")
                .param("fixed", fixed)
                .param("id", id)
                .update();
        note(id, by, "moved", job.plannedFor(), fixed ? "stays on its day" : "may be moved when jobs are shared out");
        return jobs.byId(id);
    }

    private static void outside(Jobs.Job job, LocalDate day, LocalDate today, List<FieldProblem> problems) {
        if (day.isBefore(today)) {
            problems.add(new FieldProblem("day", DAY.format(day) + " is past; take today or a later day."));
        } else if (day.isAfter(today.plusYears(1))) {
            problems.add(new FieldProblem("day", DAY.format(day) + " is more than a year ahead; take a nearer day."));
        } else if (day.isBefore(job.opens())) {
            problems.add(new FieldProblem(
                    "day",
                    DAY.format(day) + " is before its window, which is " + DAY.format(job.opens()) + " to "
                            + DAY.format(job.closes()) + ": a test on that day would not count for "
                            + DAY.format(job.due()) + ". Take a day inside."));
        } else if (day.isAfter(job.closes())
                && !today.isAfter(job.closes())
                && (job.deferredTo() == null || day.isAfter(job.deferredTo()))) {
            problems.add(new FieldProblem(
                    "day",
                    DAY.format(day) + " is after its window, which is " + DAY.format(job.opens()) + " to "
                            + DAY.format(job.closes())
                            + ": it would be late. Take a day inside, or defer it with a reason."));
        }
    }

    private String name(String person) {
        return jdbc.sql("SELECT name FROM person WHERE id = :id")
                .param("id", person)
                .query(String.class)
                .optional()
                .orElse(person);
    }

    @Transactional
    public Jobs.Job defer(long id, Deferral given, String by) {
        Jobs.Job job = open(id);
        own(job, by);
        List<FieldProblem> problems = new ArrayList<>();
        LocalDate today = today(job);
        if (!given.until.isAfter(today)) {
            problems.add(new FieldProblem(
                    "until", DAY.format(given.until) + " is not ahead; a deferral ends on a later day."));
        } else if (given.until.isAfter(today.plusDays(OWN_DEFERRAL_DAYS)) && !reach.isOverOthers(by)) {
            throw new NotAllowedException("You defer a job by at most " + OWN_DEFERRAL_DAYS
                    + " days; an engineer or a supervisor defers it longer.");
        } else if (given.until.isAfter(today.plusYears(MOST_YEARS))) {
            problems.add(
                    new FieldProblem("until", "That is more than " + MOST_YEARS + " years ahead; take a nearer day."));
        }
        Codes.words("why", "a reason", text(given.why), problems);
        FieldsException.throwIf(problems);
        jdbc.sql("UPDATE job SET deferred_to = :until, cannot = NULL, planned_for = NULL, person = NULL, "
                        + "fixed = false WHERE id = :id")
                .param("until", given.until)
                .param("id", id)
                .update();
        note(id, by, "deferred", given.until, given.why);
        return jobs.byId(id);
    }

    @Transactional
    public Jobs.Job cannot(long id, Obstacle given, String by) {
        own(open(id), by);
        List<FieldProblem> problems = new ArrayList<>();
        if (!CANNOT.contains(text(given.kind))) {
            problems.add(new FieldProblem("kind", "Say which: outage refused, no access, device missing, or other."));
        }
        Codes.words("why", "a reason", text(given.why), problems);
        FieldsException.throwIf(problems);
        jdbc.sql("UPDATE job SET cannot = :kind, deferred_to = NULL, planned_for = NULL, person = NULL, "
                        + "fixed = false WHERE id = :id")
                .param("kind", given.kind)
                .param("id", id)
                .update();
        note(id, by, "cannot", null, given.kind + ": " + given.why.strip());
        return jobs.byId(id);
    }

    /** It can be done again, or its deferral is over. */
    @Transactional
    public Jobs.Job resume(long id, String by) {
        Jobs.Job job = open(id);
        String held = jdbc.sql("SELECT by FROM job_decision WHERE job = :job AND kind IN ('deferred', 'cannot') ORDER "
                        + "BY id DESC LIMIT 1")
                .param("job", id)
                .query(String.class)
                .optional()
                .orElse(null);
        reach.own(by, held, "Somebody else decided that it waits; they, an engineer or a supervisor take it up again.");
        if (job.deferredTo() == null && job.cannot() == null) {
            throw new Refusal("not-held", "This job is neither deferred nor marked as one that cannot be done.");
        }
        jdbc.sql("UPDATE job SET cannot = NULL, deferred_to = NULL WHERE id = :id")
                .param("id", id)
                .update();
        note(id, by, "resumed", null, job.cannot() != null ? "it can be done again" : "the deferral is over");
        return jobs.byId(id);
    }

    /** Goes back from a round to what is open, with the reason why it was not done. */
    @Transactional
    public Jobs.Job putBack(long id, Reason given, String by) {
        Jobs.Job job = open(id);
        own(job, by);
        if (job.plannedFor() == null) {
            throw new Refusal("not-planned", "This job is on no day; there is nothing to put back.");
        }
        List<FieldProblem> problems = new ArrayList<>();
        Codes.words("why", "a reason", text(given.why), problems);
        FieldsException.throwIf(problems);
        moves.noted(moves.begin(job.position() + " put back", by), id, () -> jdbc.sql(
                        "UPDATE job SET planned_for = NULL, person = NULL, place = 0, fixed = false WHERE id = :id")
                .param("id", id)
                .update());
        note(id, by, "put back", job.plannedFor(), given.why);
        return jobs.byId(id);
    }

    /** @throws FieldsException if there is no such device at a place, or a test of the kind is open already */
    @Transactional
    public Jobs.Job raise(Raised given, String by) {
        List<FieldProblem> problems = new ArrayList<>();
        String position = jdbc.sql("SELECT position FROM installation WHERE asset = :asset AND upper_inf(during)")
                .param("asset", text(given.asset))
                .query(String.class)
                .optional()
                .orElse(null);
        if (position == null) {
            problems.add(new FieldProblem(
                    "asset",
                    "\"" + text(given.asset) + "\" stands at no position; install it first, then it can be tested."));
        }
        if (!jdbc.sql("SELECT EXISTS (SELECT 1 FROM procedure_version WHERE code = :code)")
                .param("code", text(given.procedure))
                .query(Boolean.class)
                .single()) {
            problems.add(new FieldProblem(
                    "procedure", "There is no procedure \"" + text(given.procedure) + "\"; choose one of the list."));
        }
        if (!RAISED.contains(text(given.occasion))) {
            problems.add(
                    new FieldProblem("occasion", "Say what asks for it: acceptance, repair, finding or follow-up."));
        }
        Codes.words("why", "a reason", text(given.why), problems);
        // Where nobody knows the place it is the day of the first site, as on all lists.
        String zone = jdbc.sql(
                        """
                SELECT zone FROM site ORDER BY
                  code IS DISTINCT FROM (SELECT site FROM position WHERE code = :position), km, code LIMIT 1""")
                .param("position", String.valueOf(position))
                .query(String.class)
                .optional()
                .orElse("UTC");
        LocalDate today = LocalDate.ofInstant(clock.instant(), ZoneId.of(zone));
        if (given.due.isBefore(today) || given.due.isAfter(today.plusYears(MOST_YEARS))) {
            problems.add(new FieldProblem(
                    "due",
                    "It is due today or later, within " + MOST_YEARS + " years; not on " + DAY.format(given.due)
                            + "."));
        }
        FieldsException.throwIf(problems);
        String reason =
                switch (given.occasion) {
                    case "repair" -> "after repair";
                    case "finding" -> "watch list";
                    default -> given.occasion;
                };
        Long id = jdbc.sql(
                        """
        INSERT INTO job (asset, position, procedure, reason, occasion, opens, due, closes, raised_from, minutes)
        VALUES (:asset, :position, :procedure, :reason, :occasion, :today, :due, :due, :record,
          coalesce((SELECT minutes FROM job WHERE procedure = :procedure AND plan IS NOT NULL ORDER BY id DESC
            LIMIT 1), 30)) ON CONFLICT DO NOTHING RETURNING id""")
                .param("asset", given.asset)
                .param("position", position)
                .param("procedure", given.procedure)
                .param("reason", reason)
                .param("occasion", given.occasion)
                .param("today", today)
                .param("due", given.due)
                .param("record", given.record)
                .query(Long.class)
                .optional()
                .orElse(null);
        if (id == null) {
            throw new Refusal(
                    "raised-already", "A job of this kind is open for " + given.asset + " already.", "procedure");
        }
        note(id, by, "raised", given.due, given.why);
        return jobs.byId(id);
    }

    private static String text(@Nullable String text) {
        return text == null ? "" : text.strip();
    }
}
