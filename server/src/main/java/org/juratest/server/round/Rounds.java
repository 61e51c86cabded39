package org.juratest.server.round;

import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Verdict;
import org.juratest.core.plan.DayRoute;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunState;
import org.juratest.server.condition.Attention;
import org.juratest.server.job.Decisions;
import org.juratest.server.job.Jobs;
import org.juratest.server.job.Moves;
import org.juratest.server.people.Reach;
import org.juratest.server.plan.Plan;
import org.juratest.server.plan.PlanPages;
import org.juratest.server.plan.Plans;
import org.juratest.server.plan.ReadyFacts;
import org.juratest.server.round.RoundRows.Row;
import org.juratest.server.run.PointViews;
import org.juratest.server.run.RunStore;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;
import org.springframework.transaction.annotation.Transactional;

/**
 * Days of people: their jobs as stops along the line, what to take along, what stands against it, and what lies near.
 */
@Repository
public class Rounds {

    private static final int LATER_SHOWN = 5;
    private static final int SUGGESTED = 3;
    private static final int LOOKED_THROUGH = 400;
    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("d MMM yyyy", Locale.UK);

    private final JdbcClient jdbc;
    private final RoundRows rows;
    private final RunStore runs;
    private final Loadouts loadouts;
    private final Plans plans;
    private final PlanPages pages;
    private final Decisions decisions;
    private final Jobs known;
    private final Clock clock;
    private final Reach reach;
    private final Moves moves;
    private final Attention attention;
    private final double kmPerHour;
    private final double boarding;

    public Rounds(
            JdbcClient jdbc,
            RoundRows rows,
            RunStore runs,
            Loadouts loadouts,
            Plans plans,
            PlanPages pages,
            Decisions decisions,
            Jobs known,
            Clock clock,
            Reach reach,
            Moves moves,
            Attention attention,
            @Value("${juratest.line.km-per-hour:18}") double kmPerHour,
            @Value("${juratest.line.boarding-minutes:4}") double boarding) {
        this.jdbc = jdbc;
        this.rows = rows;
        this.runs = runs;
        this.loadouts = loadouts;
        this.plans = plans;
        this.pages = pages;
        this.decisions = decisions;
        this.known = known;
        this.clock = clock;
        this.reach = reach;
        this.moves = moves;
        this.attention = attention;
        this.kmPerHour = kmPerHour;
        this.boarding = boarding;
    }

    /**
     * A person's day.
     *
     * @param leaves minute of the day
     * @param back minute of the day on which the base is reached again
     * @param work min
     * @param travel min
     * @param dayMinutes the person works on a day
     * @param ordered whether by hand, not along the line
     * @param stops in visiting order
     * @param loadout what to take along
     * @param conflicts what stands against it, in words
     * @param suggestions what lies near and may be done on the day
     * @param later what is due next after the day, first due first
     * @param leftOver what was on an earlier day of the person and is open still
     */
    public record Round(
            String person,
            String name,
            LocalDate day,
            LocalDate today,
            int leaves,
            int back,
            int work,
            int travel,
            int dayMinutes,
            boolean ordered,
            String base,
            List<Stop> stops,
            List<Loadouts.LoadItem> loadout,
            List<String> conflicts,
            List<Suggestion> suggestions,
            List<Later> later,
            List<Later> leftOver) {}

    /**
     * A site with its jobs.
     *
     * @param km along the line
     * @param altitude m
     * @param travel minutes to get there
     * @param arrives minute of the day
     * @param goesOn minute of the day
     * @param needs devices at the site that have to be acted on or watched, those of its jobs among them
     */
    public record Stop(
            String site,
            String name,
            double km,
            int altitude,
            int travel,
            int arrives,
            int goesOn,
            List<StopJob> jobs,
            List<Attention.SiteNeed> needs) {}

    /**
     * A job of a round.
     *
     * @param minutes it usually takes
     * @param overdue days since it was due; negative while it is not
     * @param over whether its window is closed
     * @param run the open run of it; absent if there is none
     * @param made the finished run of it; absent if there is none
     * @param last the asset's last record; absent if it was never tested
     * @param lacks what it lacks on the day, in words
     */
    public record StopJob(
            long id,
            String position,
            String asset,
            String maker,
            String model,
            String serial,
            String title,
            String reason,
            LocalDate opens,
            LocalDate due,
            LocalDate closes,
            long overdue,
            boolean over,
            int minutes,
            String status,
            @Nullable UUID run,
            @Nullable UUID made,
            @Nullable LastRecord last,
            List<String> lacks) {}

    /**
     * The last record of an asset.
     *
     * @param nearest the reading nearest to its limit; absent if none was judged with a margin
     */
    public record LastRecord(
            UUID run,
            @Nullable String record,
            Instant at,
            Verdict verdict,
            boolean complete,
            PointViews.@Nullable PointView nearest) {}

    /**
     * A job that could be added.
     *
     * @param detour minutes of travel it adds
     * @param total minutes the day would take with it
     */
    public record Suggestion(
            long job,
            String position,
            String siteName,
            String title,
            LocalDate due,
            boolean over,
            int minutes,
            int detour,
            int total) {}

    /** A job that is due after the round, or was left over from one. */
    public record Later(long job, String position, String siteName, String title, LocalDate due) {}

    /**
     * A job that can be put on a day.
     *
     * @param detour minutes of travel it adds
     */
    public record FreeJob(
            long id,
            String position,
            String asset,
            String site,
            String siteName,
            double km,
            String title,
            String reason,
            LocalDate opens,
            LocalDate due,
            LocalDate closes,
            boolean over,
            int minutes,
            int detour,
            List<String> lacks) {}

    /**
     * A person's day in short.
     *
     * @param away why the person is away; absent while not
     */
    public record DayOf(
            String person,
            String name,
            LocalDate day,
            int leaves,
            int back,
            int work,
            int travel,
            int dayMinutes,
            @Nullable String away,
            List<DayStop> stops,
            List<String> conflicts) {}

    /** A stop of it. */
    public record DayStop(String site, String name, double km, int arrives, int goesOn, List<DayJob> jobs) {}

    /** A job of it. */
    public record DayJob(long id, String position, String title, int minutes, String status, boolean over) {}

    private DayRoute route(int leaves) {
        return new DayRoute(rows.base().km(), kmPerHour, boarding, leaves);
    }

    /** Consecutive jobs at one site are one stop. */
    private static List<List<Row>> stops(List<Row> jobs) {
        List<List<Row>> stops = new ArrayList<>();
        for (Row row : jobs) {
            if (stops.isEmpty() || !stops.get(stops.size() - 1).get(0).site().equals(row.site())) {
                stops.add(new ArrayList<>());
            }
            stops.get(stops.size() - 1).add(row);
        }
        return stops;
    }

    private static List<DayRoute.Stop> legs(List<List<Row>> stops) {
        return stops.stream()
                .map(s -> new DayRoute.Stop(
                        s.get(0).km(), s.stream().mapToDouble(Row::minutes).sum()))
                .toList();
    }

    private static int whole(double minutes) {
        return (int) Math.round(minutes);
    }

    private Map<Long, Plan> plansById() {
        Map<Long, Plan> byId = new HashMap<>();
        plans.all().forEach(p -> byId.put(p.id(), p));
        return byId;
    }

    public LocalDate today() {
        return rows.today();
    }

    /** A person's day. */
    public Round of(String person, LocalDate day) {
        RoundRows.Who who = rows.who(person, day);
        LocalDate today = rows.today();
        List<Row> everybodys = rows.planned(null, day, day);
        List<Row> mine =
                everybodys.stream().filter(r -> r.person().equals(person)).toList();
        Map<Long, Plan> byId = plansById();
        ReadyFacts facts = pages.facts();
        Map<String, String> titles = pages.titles();
        List<List<Row>> stops = stops(mine);
        int leaves = rows.leaves(person, day);
        DayRoute route = route(leaves);
        DayRoute.Timetable table = route.of(legs(stops));
        List<Attention.SiteNeed> needs =
                attention.at(stops.stream().map(s -> s.get(0).site()).distinct().toList());
        List<Stop> shown = new ArrayList<>();
        for (int i = 0; i < stops.size(); i++) {
            Row at = stops.get(i).get(0);
            DayRoute.Timed timed = table.stops().get(i);
            shown.add(new Stop(
                    at.site(),
                    at.siteName(),
                    at.km(),
                    at.altitude(),
                    whole(timed.travel()),
                    whole(timed.from()),
                    whole(timed.to()),
                    stops.get(i).stream()
                            .map(r -> job(r, day, titles, lacks(r, byId, facts, day)))
                            .toList(),
                    needs.stream().filter(n -> n.site().equals(at.site())).toList()));
        }
        Loadouts.Loadout loadout = loadouts.of(
                person,
                day,
                mine.stream().filter(r -> !r.status().equals("done")).toList(),
                everybodys,
                byId,
                facts);
        List<String> conflicts = new ArrayList<>(conflicts(who, day, today, mine, leaves, table, byId, facts));
        conflicts.addAll(loadout.conflicts());
        double total = table.work() + table.travel();
        return new Round(
                person,
                who.name(),
                day,
                today,
                leaves,
                whole(table.back()),
                whole(table.work()),
                whole(table.travel()),
                who.minutesADay(),
                ordered(person, day),
                rows.base().name(),
                shown,
                loadout.items(),
                conflicts,
                day.isBefore(today) ? List.of() : suggestions(day, stops, route, total, titles, byId, facts),
                rows.later(day, LATER_SHOWN).stream().map(r -> later(r, titles)).toList(),
                day.equals(today)
                        ? rows.leftOver(person, today).stream()
                                .map(r -> later(r, titles))
                                .toList()
                        : List.of());
    }

    private boolean ordered(String person, LocalDate day) {
        return jdbc.sql("SELECT EXISTS (SELECT 1 FROM job WHERE person = :person AND planned_for = :day AND place > 0)")
                .param("person", person)
                .param("day", day)
                .query(Boolean.class)
                .single();
    }

    private static Later later(Row r, Map<String, String> titles) {
        return new Later(
                r.id(), r.position(), r.siteName(), titles.getOrDefault(r.procedure(), r.procedure()), r.due());
    }

    private static List<String> lacks(Row r, Map<Long, Plan> plans, ReadyFacts facts, LocalDate day) {
        Plan plan = r.plan() == null ? null : plans.get(r.plan());
        return plan == null || r.status().equals("done") || r.run() != null
                ? List.of()
                : facts.lacks(plan, r.site(), r.position(), r.person().isEmpty() ? null : r.person(), day);
    }

    private StopJob job(Row row, LocalDate day, Map<String, String> titles, List<String> lacks) {
        UUID shown = row.ownRun() == null ? row.lastRun() : row.ownRun();
        return new StopJob(
                row.id(),
                row.position(),
                row.asset(),
                row.maker(),
                row.model(),
                row.serial(),
                titles.getOrDefault(row.procedure(), row.procedure()),
                row.reason(),
                row.opens(),
                row.due(),
                row.closes(),
                ChronoUnit.DAYS.between(row.due(), day),
                row.closes().isBefore(day),
                row.minutes(),
                row.status(),
                row.run(),
                row.ownRun(),
                shown == null ? null : last(shown),
                lacks);
    }

    private @Nullable LastRecord last(UUID run) {
        RunState state = runs.state(run);
        RunEvents.Finished finished = state.finished();
        return finished == null
                ? null
                : new LastRecord(
                        run,
                        finished.record(),
                        Objects.requireNonNull(state.finishedAt()),
                        finished.judgement().verdict(),
                        finished.judgement().complete(),
                        PointViews.nearest(state, finished.judgement()));
    }

    /** Hours and minutes in words. */
    static String hours(double minutes) {
        int whole = whole(minutes);
        return whole < 60
                ? whole + " min"
                : whole % 60 == 0
                        ? whole / 60 + " h"
                        : whole / 60 + " h " + String.format(Locale.ROOT, "%02d", whole % 60);
    }

    private static List<String> conflicts(
            RoundRows.Who who,
            LocalDate day,
            LocalDate today,
            List<Row> mine,
            int leaves,
            DayRoute.Timetable table,
            Map<Long, Plan> plans,
            ReadyFacts facts) {
        List<String> words = new ArrayList<>();
        if (mine.isEmpty()) {
            return words;
        }
        if (who.away() != null) {
            words.add(who.name() + " is away on that day: " + who.away() + ".");
        }
        double total = table.back() - leaves;
        if (total > who.minutesADay()) {
            words.add("The day takes " + hours(total) + " with travel, " + hours(total - who.minutesADay())
                    + " more than the " + hours(who.minutesADay()) + " of " + who.name() + ".");
        }
        for (Row r : mine) {
            if (r.status().equals("done")) {
                continue;
            }
            if (r.barred() != null) {
                words.add(r.position() + ": not to be used, " + r.barred() + ".");
            }
            if (day.isBefore(r.opens())) {
                words.add(r.position() + ": its window opens on " + DAY.format(r.opens()) + ".");
            } else if (day.isAfter(r.closes()) && !today.isAfter(r.closes())) {
                words.add(r.position() + ": its window closes on " + DAY.format(r.closes()) + ".");
            }
            List<String> lacks = lacks(r, plans, facts, day);
            if (!lacks.isEmpty()) {
                words.add(r.position() + ": " + String.join("; ", lacks) + ".");
            }
        }
        return words;
    }

    private List<Suggestion> suggestions(
            LocalDate day,
            List<List<Row>> stops,
            DayRoute route,
            double total,
            Map<String, String> titles,
            Map<Long, Plan> plans,
            ReadyFacts facts) {
        if (stops.isEmpty()) {
            return List.of();
        }
        List<Double> kms = stops.stream().map(s -> s.get(0).km()).toList();
        return rows.free(day, null, LOOKED_THROUGH).stream()
                .filter(r -> r.barred() == null && lacks(r, plans, facts, day).isEmpty())
                .map(r -> {
                    int detour = whole(route.detour(kms, r.km()));
                    return new Suggestion(
                            r.id(),
                            r.position(),
                            r.siteName(),
                            titles.getOrDefault(r.procedure(), r.procedure()),
                            r.due(),
                            r.closes().isBefore(day),
                            r.minutes(),
                            detour,
                            whole(total + detour + r.minutes()));
                })
                .sorted(Comparator.comparing((Suggestion s) -> !s.over)
                        .thenComparing(Suggestion::detour)
                        .thenComparing(Suggestion::due)
                        .thenComparing(Suggestion::job))
                .limit(SUGGESTED)
                .toList();
    }

    /** What can be put on a person's day: along the line, at one site where it is given. */
    public List<FreeJob> free(String person, LocalDate day, @Nullable String site) {
        rows.who(person, day);
        Map<Long, Plan> byId = plansById();
        ReadyFacts facts = pages.facts();
        Map<String, String> titles = pages.titles();
        List<Double> kms = stops(rows.planned(person, day, day)).stream()
                .map(s -> s.get(0).km())
                .toList();
        DayRoute route = route(0);
        return rows.free(day, site, LOOKED_THROUGH).stream()
                .sorted(Comparator.comparing(Row::km).thenComparing(Row::due).thenComparing(Row::id))
                .map(r -> {
                    Plan plan = r.plan() == null ? null : byId.get(r.plan());
                    return new FreeJob(
                            r.id(),
                            r.position(),
                            r.asset(),
                            r.site(),
                            r.siteName(),
                            r.km(),
                            titles.getOrDefault(r.procedure(), r.procedure()),
                            r.reason(),
                            r.opens(),
                            r.due(),
                            r.closes(),
                            r.closes().isBefore(day),
                            r.minutes(),
                            whole(route.detour(kms, r.km())),
                            plan == null ? List.of() : facts.lacks(plan, r.site(), r.position(), person, day));
                })
                .toList();
    }

    /** Everybody's day, side by side. */
    public List<DayOf> side(LocalDate day) {
        LocalDate today = rows.today();
        List<Row> everybodys = rows.planned(null, day, day);
        Map<Long, Plan> byId = plansById();
        ReadyFacts facts = pages.facts();
        Map<String, String> titles = pages.titles();
        return rows.everybody(day).stream()
                .map(who -> {
                    List<Row> mine = everybodys.stream()
                            .filter(r -> r.person().equals(who.id()))
                            .toList();
                    List<List<Row>> stops = stops(mine);
                    int leaves = rows.leaves(who.id(), day);
                    DayRoute.Timetable table = route(leaves).of(legs(stops));
                    List<DayStop> shown = new ArrayList<>();
                    for (int i = 0; i < stops.size(); i++) {
                        Row at = stops.get(i).get(0);
                        shown.add(new DayStop(
                                at.site(),
                                at.siteName(),
                                at.km(),
                                whole(table.stops().get(i).from()),
                                whole(table.stops().get(i).to()),
                                stops.get(i).stream()
                                        .map(r -> new DayJob(
                                                r.id(),
                                                r.position(),
                                                titles.getOrDefault(r.procedure(), r.procedure()),
                                                r.minutes(),
                                                r.status(),
                                                r.closes().isBefore(day)))
                                        .toList()));
                    }
                    List<String> conflicts =
                            new ArrayList<>(conflicts(who, day, today, mine, leaves, table, byId, facts));
                    conflicts.addAll(loadouts.of(
                                    who.id(),
                                    day,
                                    mine.stream()
                                            .filter(r -> !r.status().equals("done"))
                                            .toList(),
                                    everybodys,
                                    byId,
                                    facts)
                            .conflicts());
                    return new DayOf(
                            who.id(),
                            who.name(),
                            day,
                            leaves,
                            whole(table.back()),
                            whole(table.work()),
                            whole(table.travel()),
                            who.minutesADay(),
                            who.away(),
                            shown,
                            conflicts);
                })
                .toList();
    }

    /** Puts jobs on a person's day: all, or none where one of them cannot be. */
    @Transactional
    public void add(String person, LocalDate day, List<Long> jobs, String by) {
        if (jobs.isEmpty()) {
            throw new Refusal("no-jobs", "Choose at least one job.", "jobs");
        }
        long act = moves.begin(
                (jobs.size() == 1 ? known.byId(jobs.get(0)).position() + " put" : jobs.size() + " jobs put")
                        + " on " + DAY.format(day) + ", "
                        + rows.who(person, day).name(),
                by);
        for (long id : jobs) {
            Jobs.Job job = known.byId(id);
            if (job.plannedFor() != null && !job.plannedFor().isBefore(rows.today())) {
                throw new Refusal(
                        "changed-meanwhile",
                        job.position() + " is on " + DAY.format(job.plannedFor()) + " already"
                                + (job.person() == null ? "" : ", with " + job.person()) + "; nothing was added.",
                        "jobs");
            }
            decisions.move(act, id, new Decisions.DayGiven(day, person, job.plannedFor(), job.person()), true, by);
        }
    }

    /**
     * Orders a day by hand.
     *
     * @param jobs all of the day in their order; empty for the order along the line
     */
    @Transactional
    public void order(String person, LocalDate day, List<Long> jobs, String by) {
        own(person, by);
        List<Long> there = jdbc.sql(
                        "SELECT id FROM job WHERE person = :person AND planned_for = :day AND status IN ('open', "
                                + "'running', 'partly done', 'done') ORDER BY id FOR UPDATE")
                .param("person", person)
                .param("day", day)
                .query(Long.class)
                .list();
        Set<Long> given = new HashSet<>(jobs);
        if (!jobs.isEmpty() && (given.size() != jobs.size() || !given.equals(new HashSet<>(there)))) {
            throw new Refusal(
                    "changed-meanwhile",
                    "The jobs of this day have changed meanwhile. Look at it again; nothing was ordered.",
                    "jobs");
        }
        long act = moves.begin(
                (jobs.isEmpty() ? "Ordered along the line: " : "Ordered by hand: ") + DAY.format(day) + ", "
                        + rows.who(person, day).name(),
                by);
        for (long id : there) {
            moves.noted(act, id, () -> jdbc.sql("UPDATE job SET place = :place WHERE id = :id")
                    .param("place", jobs.isEmpty() ? 0 : jobs.indexOf(id) + 1)
                    .param("id", id)
                    .update());
        }
    }

    private void own(String person, String by) {
        reach.own(by, person, "This is another's day; they, an engineer or a supervisor arrange it.");
    }

    /** Sets when the day begins. */
    @Transactional
    public void leaves(String person, LocalDate day, int minute, String by) {
        own(person, by);
        if (minute < 0 || minute >= 1440) {
            throw new Refusal("out-of-range", "A day begins between 00:00 and 23:59.", "leaves");
        }
        rows.who(person, day);
        jdbc.sql("INSERT INTO round (person, day, leaves) VALUES (:person, :day, :leaves) ON CONFLICT "
                        + "(person, day) DO UPDATE SET leaves = excluded.leaves")
                .param("person", person)
                .param("day", day)
                .param("leaves", minute)
                .update();
    }

    /** Ticks something of the loadout off, or takes the tick away. */
    @Transactional
    public void tick(String person, LocalDate day, String item, boolean on, String by) {
        own(person, by);
        if (item.isBlank() || item.length() > 200) {
            throw new Refusal("bad-item", "There is nothing of that name in the loadout.", "item");
        }
        rows.who(person, day);
        if (on) {
            jdbc.sql("INSERT INTO round (person, day) VALUES (:person, :day) ON CONFLICT DO NOTHING")
                    .param("person", person)
                    .param("day", day)
                    .update();
            jdbc.sql("INSERT INTO round_tick (person, day, item, by, at) VALUES (:person, :day, :item, "
                            + ":by, :at) ON CONFLICT DO NOTHING")
                    .param("person", person)
                    .param("day", day)
                    .param("item", item)
                    .param("by", by)
                    .param("at", clock.instant().atOffset(ZoneOffset.UTC))
                    .update();
        } else {
            jdbc.sql("DELETE FROM round_tick WHERE person = :person AND day = :day AND item = :item")
                    .param("person", person)
                    .param("day", day)
                    .param("item", item)
                    .update();
        }
    }
}
