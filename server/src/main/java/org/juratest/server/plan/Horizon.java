package org.juratest.server.plan;

import jakarta.annotation.PostConstruct;
import jakarta.annotation.PreDestroy;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import org.juratest.core.plan.Counter;
import org.juratest.core.plan.Coverage;
import org.juratest.core.plan.Forecast;
import org.juratest.core.plan.Happening;
import org.juratest.core.plan.Occurrence;
import org.juratest.core.procedure.Step;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.db.Worker;
import org.juratest.server.job.Jobs;
import org.juratest.server.procedure.Procedures;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Service;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Lays jobs ahead of time. Each device has a row that says when its jobs are laid anew; a process claims some of those
 * whose time has come, by their row locks, and no other process lays these meanwhile.
 */
@Service
public class Horizon {

    /** How far ahead jobs are laid, weeks. */
    public static final int WEEKS = 26;
    /** Jobs are laid a little further than any screen looks. */
    private static final int DAYS = WEEKS * 7 + 14;

    private static final int AT_ONCE = 500;
    private static final int FAR_YEARS = 10;
    private static final long TICK_MILLIS = 2000;

    private final JdbcClient jdbc;
    private final HorizonRows rows;
    private final Plans plans;
    private final Procedures procedures;
    private final TransactionTemplate transaction;
    /** Of its own: whatever has to be laid, nothing that watches outputs waits behind it. */
    private final Worker worker = new Worker("horizon", this::layAll);

    private final Clock clock;

    public Horizon(
            JdbcClient jdbc,
            HorizonRows rows,
            Plans plans,
            Procedures procedures,
            PlatformTransactionManager transactions,
            Clock clock) {
        this.jdbc = jdbc;
        this.rows = rows;
        this.plans = plans;
        this.procedures = procedures;
        this.transaction = new TransactionTemplate(transactions);
        this.clock = clock;
    }

    /** A job as it is to be. */
    record Laid(
            String asset,
            long plan,
            String position,
            String procedure,
            String reason,
            String occasion,
            LocalDate opens,
            LocalDate due,
            LocalDate closes,
            int minutes) {

        boolean sameAs(HorizonRows.Open job) {
            return position.equals(job.position())
                    && procedure.equals(job.procedure())
                    && reason.equals(job.reason())
                    && opens.equals(job.opens())
                    && due.equals(job.due())
                    && closes.equals(job.closes())
                    && minutes == job.minutes();
        }
    }

    /** An open job that gets another day or content. */
    record Moved(HorizonRows.Open from, Laid to) {

        /**
         * What was planned for a day stays where it is unless that day is out of its window now, and was not before.
         */
        boolean leavesItsDay() {
            LocalDate day = from.plannedFor();
            return day != null && (day.isBefore(to.opens) || day.isAfter(to.closes) && !day.isAfter(from.closes()));
        }
    }

    /** What has to change so that the jobs are as the plans say. */
    record Changes(
            List<Laid> added,
            List<Moved> moved,
            List<HorizonRows.Open> withdrawn,
            List<HorizonRows.Open> missed,
            List<Laid> addedAsMissed) {

        static Changes none() {
            return new Changes(
                    new ArrayList<>(), new ArrayList<>(), new ArrayList<>(), new ArrayList<>(), new ArrayList<>());
        }
    }

    @PostConstruct
    void start() {
        worker.start(TICK_MILLIS);
    }

    @PreDestroy
    void stop() {
        worker.stop();
    }

    /** Lays jobs until nothing is left to claim; gives how many devices it did. */
    public int layAll() {
        int all = 0;
        int some;
        do {
            some = Objects.requireNonNullElse(transaction.execute(s -> claimed()), 0);
            all += some;
        } while (some > 0 && !worker.isEnding());
        return all;
    }

    private int claimed() {
        List<String> assets = jdbc.sql(
                        "SELECT asset FROM horizon WHERE again_at <= :now ORDER BY again_at, asset LIMIT :most "
                                + "FOR UPDATE SKIP LOCKED")
                .param("now", clock.instant().atOffset(ZoneOffset.UTC))
                .param("most", AT_ONCE)
                .query(String.class)
                .list();
        if (assets.isEmpty()) {
            return 0;
        }
        List<String> free = unheld(assets);
        if (!free.isEmpty()) {
            settle(free);
        }
        return free.size();
    }

    /**
     * Of some devices those of which nobody just changes a job, the plate or the place; they stay so until the
     * transaction ends. The others wait for the next time: nobody here waits for a row, so that no two can wait for
     * each other.
     */
    private List<String> unheld(List<String> assets) {
        Set<String> free =
                new HashSet<>(rows("SELECT id FROM asset WHERE id = ANY (:assets) FOR KEY SHARE SKIP LOCKED", assets));
        String places = "SELECT i.asset FROM installation i JOIN position p ON p.code = i.position WHERE "
                + "upper_inf(i.during) AND i.asset = ANY (:assets)";
        Set<String> heldPlace = new HashSet<>(rows(places, assets));
        rows(places + " FOR KEY SHARE OF p SKIP LOCKED", assets).forEach(heldPlace::remove);
        String jobs = " FROM job WHERE plan IS NOT NULL AND status IN " + Jobs.OPEN + " AND asset = ANY (:assets)";
        Set<String> heldJobs = new HashSet<>(rows("SELECT asset || ' ' || id" + jobs, assets));
        rows("SELECT asset || ' ' || id" + jobs + " FOR UPDATE SKIP LOCKED", assets)
                .forEach(heldJobs::remove);
        heldJobs.forEach(j -> free.remove(j.substring(0, j.lastIndexOf(' '))));
        return assets.stream()
                .filter(a -> free.contains(a) && !heldPlace.contains(a))
                .toList();
    }

    private List<String> rows(String sql, List<String> assets) {
        return jdbc.sql(sql)
                .param("assets", assets.toArray(String[]::new))
                .query(String.class)
                .list();
    }

    /**
     * Has the jobs of devices laid anew as soon as the transaction at hand is through, by whichever process comes
     * first.
     */
    public void again(Collection<String> assets) {
        jdbc.sql("UPDATE horizon SET again_at = '-infinity' WHERE asset = ANY (:assets)")
                .param("assets", assets.toArray(String[]::new))
                .update();
        TransactionSynchronizationManager.registerSynchronization(new TransactionSynchronization() {
            @Override
            public void afterCommit() {
                worker.now();
            }
        });
    }

    private void settle(Collection<String> assets) {
        List<Plan> active = plans.active();
        HorizonRows.Known known = rows.read(assets, active.stream().anyMatch(Plan::counted));
        write(changes(assets, active, known));
        Map<String, Instant> again = new HashMap<>();
        for (String asset : assets) {
            HorizonRows.Standing s = known.standing().get(asset);
            // What stands nowhere is laid anew when it is installed.
            again.put(
                    asset,
                    s == null
                            ? Instant.parse("9999-01-01T00:00:00Z")
                            : LocalDate.ofInstant(clock.instant(), s.zone())
                                    .plusDays(1)
                                    .atStartOfDay(s.zone())
                                    .toInstant());
        }
        jdbc.sql("UPDATE horizon h SET again_at = CAST(n.value AS timestamptz) FROM "
                        + "jsonb_each_text(CAST(:again AS jsonb)) n WHERE h.asset = n.key")
                .param("again", CoreJson.mapper().writeValueAsString(again))
                .update();
    }

    /** What is due next on a device by the plans, however far ahead. */
    public record NextDue(LocalDate due, String reason) {}

    /**
     * What is due next, beyond the days that jobs are laid for; empty where no plan asks for anything within ten years.
     */
    public Optional<NextDue> next(String asset) {
        List<Plan> active = plans.active();
        HorizonRows.Known known = rows.read(List.of(asset), active.stream().anyMatch(Plan::counted));
        HorizonRows.Standing standing = known.standing().get(asset);
        if (standing == null) {
            return Optional.empty();
        }
        LocalDate today = LocalDate.ofInstant(clock.instant(), standing.zone());
        List<Plan> applied = applied(active, standing);
        return new Forecast(coverage(active), today, today.plusYears(FAR_YEARS))
                .of(timed(applied, standing), past(asset, known)).stream()
                        .filter(d -> !d.open().isEmpty())
                        .map(d -> new NextDue(
                                d.open().get(0).due(),
                                applied.stream()
                                        .filter(p -> p.id() == d.plan())
                                        .findFirst()
                                        .orElseThrow()
                                        .why()))
                        .min(Comparator.comparing(NextDue::due));
    }

    private static List<Forecast.Applied> timed(List<Plan> applied, HorizonRows.Standing standing) {
        return applied.stream()
                .map(p -> new Forecast.Applied(p.id(), p.procedure(), p.timing(standing.since()), p.starts()))
                .toList();
    }

    private static Forecast.Past past(String asset, HorizonRows.Known known) {
        return new Forecast.Past(
                known.done().getOrDefault(asset, Map.of()),
                known.missed().getOrDefault(asset, Map.of()),
                known.counters().getOrDefault(asset, Counter.NONE),
                known.happened().getOrDefault(asset, List.<Happening>of()));
    }

    /** Devices that some plans apply to. */
    List<String> concerned(Collection<Plan> some) {
        Set<String> classes = new HashSet<>();
        Set<String> positions = new HashSet<>();
        some.forEach(p -> {
            if (p.assetClass() != null) {
                classes.add(p.assetClass());
            }
            positions.addAll(p.positions());
        });
        return jdbc.sql(
                        """
        SELECT DISTINCT i.asset FROM installation i JOIN asset a ON a.id = i.asset
        WHERE upper_inf(i.during) AND (a.class = ANY (:classes) OR i.position = ANY (:positions)) ORDER BY 1""")
                .param("classes", classes.toArray(String[]::new))
                .param("positions", positions.toArray(String[]::new))
                .query(String.class)
                .list();
    }

    /** What would change if the plans were these, without changing anything. */
    Changes changes(Collection<String> assets, List<Plan> active) {
        Changes all = Changes.none();
        List<String> list = List.copyOf(assets);
        boolean counted = active.stream().anyMatch(Plan::counted);
        for (int i = 0; i < list.size(); i += AT_ONCE) {
            List<String> some = list.subList(i, Math.min(list.size(), i + AT_ONCE));
            Changes of = changes(some, active, rows.read(some, counted));
            all.added.addAll(of.added);
            all.moved.addAll(of.moved);
            all.withdrawn.addAll(of.withdrawn);
            all.missed.addAll(of.missed);
            all.addedAsMissed.addAll(of.addedAsMissed);
        }
        return all;
    }

    private Changes changes(Collection<String> assets, List<Plan> active, HorizonRows.Known known) {
        Coverage coverage = coverage(active);
        Map<Long, Integer> minutes = new HashMap<>();
        Changes changes = Changes.none();
        for (String asset : assets) {
            List<HorizonRows.Open> open = known.open().getOrDefault(asset, List.of());
            HorizonRows.Standing standing = known.standing().get(asset);
            if (standing == null) {
                open.stream().filter(j -> !j.fixed()).forEach(changes.withdrawn::add);
                continue;
            }
            LocalDate today = LocalDate.ofInstant(clock.instant(), standing.zone());
            List<Plan> applied = applied(active, standing);
            Map<Long, Forecast.Due> due = new HashMap<>();
            new Forecast(coverage, today, today.plusDays(DAYS))
                    .of(timed(applied, standing), past(asset, known))
                    .forEach(d -> due.put(d.plan(), d));
            for (Plan plan : applied) {
                List<HorizonRows.Open> there =
                        open.stream().filter(j -> j.plan() == plan.id()).toList();
                compare(
                        standing,
                        plan,
                        minutes.computeIfAbsent(plan.id(), id -> minutes(plan)),
                        Objects.requireNonNull(due.get(plan.id())),
                        there,
                        changes);
            }
            Set<Long> ids = new HashSet<>();
            applied.forEach(p -> ids.add(p.id()));
            open.stream().filter(j -> !ids.contains(j.plan()) && !j.fixed()).forEach(changes.withdrawn::add);
        }
        return changes;
    }

    /** The plans of a device; of those that say the same procedure and occasion, the narrowest. */
    private static List<Plan> applied(List<Plan> active, HorizonRows.Standing s) {
        Map<String, Plan> narrowest = new HashMap<>();
        active.stream()
                .filter(p -> p.appliesTo(s.assetClass(), s.model(), s.position()))
                .forEach(p -> narrowest.merge(
                        p.procedure() + " " + p.occasion(), p, (a, b) -> b.narrowness() > a.narrowness() ? b : a));
        return narrowest.values().stream()
                .sorted(Comparator.comparing(Plan::id))
                .toList();
    }

    private static Coverage coverage(List<Plan> active) {
        Map<String, Set<String>> contains = new HashMap<>();
        active.forEach(p ->
                contains.computeIfAbsent(p.procedure(), c -> new HashSet<>()).addAll(p.covers()));
        return new Coverage(contains);
    }

    /** @throws IllegalArgumentException where a procedure would contain itself */
    static void checkCoverage(List<Plan> active) {
        coverage(active);
    }

    private int minutes(Plan plan) {
        if (plan.minutes() != null) {
            return plan.minutes();
        }
        try {
            return (int) Math.max(
                    1,
                    Math.round(procedures.newest(plan.procedure()).procedure().steps().stream()
                            .mapToDouble(Step::minutes)
                            .sum()));
        } catch (NotFoundException e) {
            // The procedure is still being written; the plan may come first.
            return 30;
        }
    }

    private void compare(
            HorizonRows.Standing s,
            Plan plan,
            int minutes,
            Forecast.Due due,
            List<HorizonRows.Open> there,
            Changes changes) {
        List<HorizonRows.Open> left = new ArrayList<>(there);
        for (Occurrence missed : due.missed()) {
            HorizonRows.Open job = left.stream()
                    .filter(j -> j.due().equals(missed.due()) && !j.fixed())
                    .findFirst()
                    .orElse(null);
            if (job == null) {
                changes.addedAsMissed.add(laid(s, plan, minutes, missed));
            } else {
                left.remove(job);
                changes.missed.add(job);
            }
        }
        for (Occurrence occurrence : due.open()) {
            Laid laid = laid(s, plan, minutes, occurrence);
            if (left.isEmpty()) {
                changes.added.add(laid);
                continue;
            }
            HorizonRows.Open job = left.remove(0);
            if (!job.fixed() && !laid.sameAs(job)) {
                changes.moved.add(new Moved(job, laid));
            }
        }
        left.stream().filter(j -> !j.fixed()).forEach(changes.withdrawn::add);
    }

    private static Laid laid(HorizonRows.Standing s, Plan plan, int minutes, Occurrence o) {
        return new Laid(
                s.asset(),
                plan.id(),
                s.position(),
                plan.procedure(),
                plan.why(),
                plan.occasion(),
                o.opens(),
                o.due(),
                o.closes(),
                minutes);
    }

    private void write(Changes changes) {
        status(changes.withdrawn, "withdrawn");
        status(changes.missed, "missed");
        if (!changes.moved.isEmpty()) {
            // Out of the way first: one may come to the day that another leaves.
            status(changes.moved.stream().map(Moved::from).toList(), "withdrawn");
            jdbc.sql(
                            """
          UPDATE job j SET status = 'open', position = m.position, procedure = m.procedure, reason = m.reason,
            opens = m.opens, due = m.due, closes = m.closes, minutes = m.minutes,
            planned_for = CASE WHEN m.leaves THEN NULL ELSE j.planned_for END, person = CASE WHEN m.leaves THEN NULL
              ELSE j.person END,
            deferred_to = CASE WHEN m.due > j.due THEN NULL ELSE j.deferred_to END, cannot = CASE WHEN m.due > j.due
              THEN NULL ELSE j.cannot END
          FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS m(id bigint, position text, procedure text, reason text,
            opens date, due date, closes date, minutes integer, leaves boolean)
          WHERE j.id = m.id""")
                    .param(
                            "rows",
                            CoreJson.mapper()
                                    .writeValueAsString(changes.moved.stream()
                                            .map(m -> new MovedRow(
                                                    m.from.id(),
                                                    m.to.position,
                                                    m.to.procedure,
                                                    m.to.reason,
                                                    m.to.opens,
                                                    m.to.due,
                                                    m.to.closes,
                                                    m.to.minutes,
                                                    m.leavesItsDay()))
                                            .toList()))
                    .update();
        }
        insert(changes.added, "open");
        insert(changes.addedAsMissed, "missed");
    }

    private record MovedRow(
            long id,
            String position,
            String procedure,
            String reason,
            LocalDate opens,
            LocalDate due,
            LocalDate closes,
            int minutes,
            boolean leaves) {}

    private void status(List<HorizonRows.Open> jobs, String status) {
        if (!jobs.isEmpty()) {
            jdbc.sql("UPDATE job SET status = :status WHERE id = ANY (:ids)")
                    .param("status", status)
                    .param("ids", jobs.stream().map(HorizonRows.Open::id).toArray(Long[]::new))
                    .update();
        }
    }

    private void insert(List<Laid> jobs, String status) {
        if (!jobs.isEmpty()) {
            jdbc.sql(
                            """
          INSERT INTO job (asset, plan, position, procedure, reason, occasion, opens, due, closes, minutes, status)
          SELECT asset, plan, position, procedure, reason, occasion, opens, due, closes, minutes, :status
          FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(asset text, plan bigint, position text, procedure text,
            reason text, occasion text, opens date, due date, closes date, minutes integer)
          ORDER BY due, asset, plan ON CONFLICT DO NOTHING""")
                    .param("status", status)
                    .param("rows", CoreJson.mapper().writeValueAsString(jobs))
                    .update();
        }
    }
}
