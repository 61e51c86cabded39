package org.juratest.server.plan;

import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Clock;
import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.temporal.ChronoUnit;
import java.time.temporal.TemporalAdjusters;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.plan.DueState;
import org.juratest.core.plan.Occurrence;
import org.juratest.core.run.Refusal;
import org.juratest.server.job.Jobs;
import org.juratest.server.procedure.Procedures;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;

/** What the plan screen shows: load by week, and the jobs behind it. */
@Repository
public class PlanPages {

    /**
     * Where a job stands on the calendar: its chosen day, the end of its deferral, else its due date, and never in the
     * past.
     */
    private static final String DAY =
            "CASE WHEN j.planned_for >= :today THEN j.planned_for WHEN j.deferred_to >= :today THEN "
                    + "j.deferred_to ELSE greatest(j.due, :today) END";
    /** Over its window, planned or not, and nobody decided anything about it. */
    private static final String OVER =
            "(j.closes < :today AND j.cannot IS NULL AND (j.deferred_to IS NULL OR j.deferred_to < :today))";
    /** Over, and on no day either: in no week's load. */
    private static final String ADRIFT = "(" + OVER + " AND (j.planned_for IS NULL OR j.planned_for < :today))";

    private static final String OPEN = "j.status IN " + Jobs.OPEN;
    private static final int WORKING_DAYS = 5;

    private final JdbcClient jdbc;
    private final Plans plans;
    private final Procedures procedures;
    private final Clock clock;

    public PlanPages(JdbcClient jdbc, Plans plans, Procedures procedures, Clock clock) {
        this.jdbc = jdbc;
        this.plans = plans;
        this.procedures = procedures;
        this.clock = clock;
    }

    /**
     * Load against capacity.
     *
     * @param first Monday of the first week
     * @param people one row a person, and last what is nobody's yet
     * @param sites along the line
     * @param cannot how many jobs cannot be done as things are
     */
    public record Load(
            LocalDate today, LocalDate first, int weeks, List<LoadRow> people, List<LoadRow> sites, int cannot) {}

    /**
     * A person or a site.
     *
     * @param key id of the person, empty for nobody; or code of the site
     * @param over jobs over their window that nobody has decided about
     * @param overMost days the oldest of them is over
     * @param weeks one a week
     */
    public record LoadRow(String kind, String key, String name, int over, int overMost, List<LoadWeek> weeks) {}

    /**
     * A week of a person or a site.
     *
     * @param minutes of work
     * @param capacity minutes there are; absent where nobody said
     */
    public record LoadWeek(int jobs, int minutes, @Nullable Integer capacity) {}

    /**
     * A job on the plan screen.
     *
     * @param overdue days over its due date, once its window is closed
     * @param fixed whether a person chose its day: it stays there when jobs are shared out
     * @param why what was decided last, in words; absent for nothing
     * @param lacks what it lacks on its day, in words
     * @param arrangeBy day from which on arrangements are made; absent where it needs none
     */
    public record PlanJob(
            long id,
            String asset,
            String position,
            String site,
            String siteName,
            String maker,
            String model,
            String serial,
            String procedure,
            String title,
            String reason,
            LocalDate opens,
            LocalDate due,
            LocalDate closes,
            DueState state,
            long overdue,
            @Nullable LocalDate plannedFor,
            boolean fixed,
            @Nullable String person,
            @Nullable String personName,
            @Nullable LocalDate deferredTo,
            @Nullable String cannot,
            @Nullable String why,
            int minutes,
            List<String> lacks,
            @Nullable LocalDate arrangeBy,
            boolean running,
            @Nullable UUID run) {}

    /** A page of them; {@code next} is absent on the last. */
    public record PlanJobs(List<PlanJob> jobs, long all, @Nullable String next) {}

    /** Today where most of the plan is: at the first site of the line. */
    public LocalDate today() {
        return LocalDate.ofInstant(clock.instant(), zone());
    }

    /** Time zone where most of the plan is: of the first site of the line. */
    public ZoneId zone() {
        return ZoneId.of(jdbc.sql("SELECT zone FROM site ORDER BY km, code LIMIT 1")
                .query(String.class)
                .optional()
                .orElse("UTC"));
    }

    private static LocalDate monday(LocalDate day) {
        return day.with(TemporalAdjusters.previousOrSame(DayOfWeek.MONDAY));
    }

    private record Cell(
            @Nullable String person, String site, int week, boolean over, int jobs, int minutes, int oldest) {}

    public Load load() {
        LocalDate today = today();
        LocalDate first = monday(today);
        int weeks = Horizon.WEEKS;
        List<Cell> cells = jdbc.sql(
                        """
        SELECT person, site, CASE WHEN adrift THEN -1 ELSE (day - CAST(:first AS date)) / 7 END AS week, over,
          count(*), sum(minutes), max(CAST(:today AS date) - due) FROM (
          SELECT j.person, p.site, %s AS day, %s AS over, %s AS adrift, j.minutes, j.due FROM job j JOIN position p
            ON p.code = j.position
          WHERE %s AND j.cannot IS NULL AND j.due < :until) c
        GROUP BY 1, 2, 3, 4"""
                                .formatted(DAY, OVER, ADRIFT, OPEN))
                .param("first", first)
                .param("today", today)
                .param("until", first.plusWeeks(weeks))
                .query((rs, i) -> new Cell(
                        rs.getString(1),
                        rs.getString(2),
                        rs.getInt(3),
                        rs.getBoolean(4),
                        rs.getInt(5),
                        rs.getInt(6),
                        rs.getInt(7)))
                .list();
        Map<String, int[]> capacity = capacity(first, weeks);
        List<LoadRow> people = new ArrayList<>();
        jdbc.sql("SELECT id, name FROM person WHERE role = 'technician' OR id IN (SELECT person FROM job "
                        + "j WHERE person IS NOT NULL AND " + OPEN + ") ORDER BY name, id")
                .query((rs, i) -> List.of(rs.getString(1), rs.getString(2)))
                .list()
                .forEach(p -> people.add(row(
                        "person",
                        p.get(0),
                        p.get(1),
                        weeks,
                        capacity.get(p.get(0)),
                        cells.stream().filter(c -> p.get(0).equals(c.person)).toList())));
        people.add(row(
                "person",
                "",
                "Nobody yet",
                weeks,
                null,
                cells.stream().filter(c -> c.person == null).toList()));
        List<LoadRow> sites = new ArrayList<>();
        jdbc.sql("SELECT code, name, access_minutes FROM site ORDER BY km, code")
                .query(rs -> {
                    String code = rs.getString(1);
                    Integer access = rs.getObject(3, Integer.class);
                    int[] minutes = null;
                    if (access != null) {
                        minutes = new int[weeks];
                        Arrays.fill(minutes, access);
                    }
                    sites.add(row(
                            "site",
                            code,
                            rs.getString(2),
                            weeks,
                            minutes,
                            cells.stream().filter(c -> code.equals(c.site)).toList()));
                });
        int cannot = jdbc.sql("SELECT count(*) FROM job j WHERE cannot IS NOT NULL AND " + OPEN)
                .query(Integer.class)
                .single();
        return new Load(today, first, weeks, people, sites, cannot);
    }

    private static LoadRow row(
            String kind, String key, String name, int weeks, int @Nullable [] capacity, List<Cell> cells) {
        int[] jobs = new int[weeks];
        int[] minutes = new int[weeks];
        int over = 0;
        int most = 0;
        for (Cell c : cells) {
            if (c.over) {
                over += c.jobs;
                most = Math.max(most, c.oldest);
            }
            if (c.week >= 0 && c.week < weeks) {
                jobs[c.week] += c.jobs;
                minutes[c.week] += c.minutes;
            }
        }
        List<LoadWeek> list = new ArrayList<>();
        for (int w = 0; w < weeks; w++) {
            list.add(new LoadWeek(jobs[w], minutes[w], capacity == null ? null : capacity[w]));
        }
        return new LoadRow(kind, key, name, over, most, list);
    }

    /** Minutes of each person and week: the days of the week less absences, of whichever day of the week. */
    private Map<String, int[]> capacity(LocalDate first, int weeks) {
        Map<String, int[]> capacity = new HashMap<>();
        Map<String, Integer> aDay = new HashMap<>();
        jdbc.sql("SELECT id, minutes_a_day FROM person").query(rs -> {
            int[] minutes = new int[weeks];
            Arrays.fill(minutes, rs.getInt(2) * WORKING_DAYS);
            capacity.put(rs.getString(1), minutes);
            aDay.put(rs.getString(1), rs.getInt(2));
        });
        jdbc.sql("SELECT person, from_day, to_day FROM absence WHERE to_day >= :first")
                .param("first", first)
                .query(rs -> {
                    int[] minutes = capacity.get(rs.getString(1));
                    LocalDate to = rs.getObject(3, LocalDate.class);
                    for (LocalDate day = rs.getObject(2, LocalDate.class).isBefore(first)
                                    ? first
                                    : rs.getObject(2, LocalDate.class);
                            !day.isAfter(to);
                            day = day.plusDays(1)) {
                        int week = (int) (ChronoUnit.DAYS.between(first, day) / 7);
                        if (week >= weeks) {
                            break;
                        }
                        if (day.getDayOfWeek().getValue() <= WORKING_DAYS) {
                            minutes[week] = Math.max(0, minutes[week] - aDay.get(rs.getString(1)));
                        }
                    }
                });
        return capacity;
    }

    /**
     * Jobs behind a part of the load.
     *
     * @param person id; empty for nobody's; absent for any
     * @param site code; absent for any
     * @param when {@code over}, {@code cannot}, {@code deferred}, {@code all}, or the Monday of a week
     * @param asset id; absent for any
     * @param after cursor of the page before
     */
    public PlanJobs jobs(
            @Nullable String person,
            @Nullable String site,
            @Nullable String asset,
            String when,
            @Nullable String plan,
            @Nullable String after,
            int limit) {
        LocalDate today = today();
        LocalDate monday = null;
        String which =
                switch (when) {
                    case "over" -> OVER;
                    case "cannot" -> "j.cannot IS NOT NULL";
                    case "deferred" -> "j.deferred_to >= :today";
                    case "all" -> "true";
                    default -> {
                        try {
                            monday = monday(LocalDate.parse(when));
                        } catch (java.time.format.DateTimeParseException e) {
                            throw new Refusal(
                                    "unknown-part",
                                    "\"" + when + "\" is no week; give over, cannot, deferred, all, or a day as "
                                            + "2026-11-23.",
                                    "when");
                        }
                        yield "j.cannot IS NULL AND NOT " + ADRIFT + " AND " + DAY + " >= CAST(:monday AS date) AND "
                                + DAY + " < CAST(:monday AS date) + 7";
                    }
                };
        String where = OPEN + " AND " + which
                + (person == null ? "" : person.isEmpty() ? " AND j.person IS NULL" : " AND j.person = :person")
                + (site == null ? "" : " AND p.site = :site")
                + (asset == null ? "" : " AND j.asset = :asset")
                + (plan == null ? "" : " AND j.plan = CAST(:plan AS bigint)");
        Object[] cursor = cursor(after);
        var counting = jdbc.sql("SELECT count(*) FROM job j JOIN position p ON p.code = j.position WHERE " + where)
                .param("today", today)
                .param("monday", monday, java.sql.Types.DATE)
                .param("person", person, java.sql.Types.VARCHAR)
                .param("site", site, java.sql.Types.VARCHAR)
                .param("asset", asset, java.sql.Types.VARCHAR)
                .param("plan", plan, java.sql.Types.VARCHAR);
        List<PlanJob> list = of(
                where
                        + " AND (CAST(:afterDue AS date) IS NULL OR (j.due, j.id) > (CAST(:afterDue AS date), "
                        + ":afterId)) ORDER BY j.due, j.id LIMIT "
                        + limit,
                today,
                Map.of(
                        "person",
                        person == null ? "" : person,
                        "site",
                        site == null ? "" : site,
                        "asset",
                        asset == null ? "" : asset,
                        "plan",
                        plan == null ? "" : plan,
                        "afterId",
                        cursor[1]),
                monday,
                (LocalDate) cursor[0]);
        PlanJob last = list.size() < limit ? null : list.get(list.size() - 1);
        return new PlanJobs(list, counting.query(Long.class).single(), last == null ? null : last.due + "." + last.id);
    }

    private static Object[] cursor(@Nullable String after) {
        if (after == null) {
            return new Object[] {null, 0L};
        }
        try {
            return new Object[] {
                LocalDate.parse(after.substring(0, Math.min(10, after.length()))),
                Long.parseLong(after.substring(Math.min(11, after.length())))
            };
        } catch (java.time.format.DateTimeParseException | NumberFormatException e) {
            throw new Refusal("bad-cursor", "The cursor \"" + after + "\" is not one this list gave.", "after");
        }
    }

    /** Jobs with what they lack; {@code where} may use the parameters. */
    private List<PlanJob> of(
            String where,
            LocalDate today,
            Map<String, Object> params,
            @Nullable LocalDate monday,
            @Nullable LocalDate afterDue) {
        Map<Long, Plan> byId = new HashMap<>();
        plans.all().forEach(p -> byId.put(p.id(), p));
        Map<String, String> titles = titles();
        ReadyFacts facts = facts();
        var statement = jdbc.sql(
                        """
        SELECT j.id, j.asset, j.position, p.site, s.name, a.maker, a.model, a.serial, j.procedure, j.reason, j.opens,
          j.due, j.closes, j.planned_for, j.person, w.name, j.deferred_to, j.cannot,
          (SELECT d.why FROM job_decision d WHERE d.job = j.id AND d.kind IN ('deferred', 'cannot', 'put back',
            'raised') ORDER BY d.id DESC LIMIT 1), j.minutes, j.status, j.plan,
          (SELECT r.id FROM run r WHERE r.job = j.id AND r.status = 'open' LIMIT 1), j.fixed
        FROM job j JOIN position p ON p.code = j.position JOIN site s ON s.code = p.site JOIN asset a
          ON a.id = j.asset LEFT JOIN person w ON w.id = j.person WHERE\s"""
                                + where)
                .param("today", today)
                .param("monday", monday, java.sql.Types.DATE)
                .param("afterDue", afterDue, java.sql.Types.DATE);
        for (Map.Entry<String, Object> param : params.entrySet()) {
            statement = statement.param(param.getKey(), param.getValue());
        }
        return statement.query((rs, i) -> job(rs, today, byId, titles, facts)).list();
    }

    private static PlanJob job(
            ResultSet rs, LocalDate today, Map<Long, Plan> plans, Map<String, String> titles, ReadyFacts facts)
            throws SQLException {
        Occurrence window = new Occurrence(
                rs.getObject(11, LocalDate.class),
                rs.getObject(12, LocalDate.class),
                rs.getObject(13, LocalDate.class));
        LocalDate planned = rs.getObject(14, LocalDate.class);
        LocalDate deferred = rs.getObject(17, LocalDate.class);
        DueState state = DueState.of(window, new DueState.Decided(deferred, rs.getString(18) != null), today);
        Plan plan = plans.get(rs.getLong(22));
        LocalDate day = planned != null && !planned.isBefore(today)
                ? planned
                : window.due().isBefore(today) ? today : window.due();
        List<String> lacks =
                plan == null ? List.of() : facts.lacks(plan, rs.getString(4), rs.getString(3), rs.getString(15), day);
        LocalDate arrange =
                plan == null || plan.leadDays() == 0 ? null : window.due().minusDays(plan.leadDays());
        return new PlanJob(
                rs.getLong(1),
                rs.getString(2),
                rs.getString(3),
                rs.getString(4),
                rs.getString(5),
                rs.getString(6),
                rs.getString(7),
                rs.getString(8),
                rs.getString(9),
                titles.getOrDefault(rs.getString(9), rs.getString(9)),
                rs.getString(10),
                window.opens(),
                window.due(),
                window.closes(),
                state,
                window.overdue(today),
                planned,
                planned != null && rs.getBoolean(24),
                rs.getString(15),
                rs.getString(16),
                deferred,
                rs.getString(18),
                rs.getString(19),
                rs.getInt(20),
                lacks,
                arrange,
                "running".equals(rs.getString(21)),
                rs.getObject(23, UUID.class));
    }

    /** One job as the plan screen shows it. */
    public PlanJob one(long id) {
        return of("j.id = :id", today(), Map.of("id", id), null, null).stream()
                .findFirst()
                .orElseThrow(() -> new org.juratest.server.web.NotFoundException("job", String.valueOf(id)));
    }

    /** What is there for jobs now. */
    public ReadyFacts facts() {
        return new ReadyFacts(jdbc);
    }

    /** Titles of procedures by code, of their newest versions. */
    public Map<String, String> titles() {
        Map<String, String> titles = new LinkedHashMap<>();
        procedures.all().forEach(p -> titles.putIfAbsent(p.code(), p.title()));
        return titles;
    }
}
