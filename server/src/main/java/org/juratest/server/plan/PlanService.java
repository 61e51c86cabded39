package org.juratest.server.plan;

import java.time.LocalDate;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.juratest.server.web.FieldsException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;

/** Plans as people change them: what a change would do is shown first, and then done in one go. */
@Service
class PlanService {

    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("d MMM yyyy", Locale.UK);
    private static final int EXAMPLES = 8;

    private final JdbcClient jdbc;
    private final Plans plans;
    private final PlanCheck check;
    private final Horizon horizon;
    private final PlanPages pages;

    PlanService(JdbcClient jdbc, Plans plans, PlanCheck check, Horizon horizon, PlanPages pages) {
        this.jdbc = jdbc;
        this.plans = plans;
        this.check = check;
        this.horizon = horizon;
        this.pages = pages;
    }

    /**
     * A plan in the list.
     *
     * @param why how often, in words
     * @param devices that it applies to
     * @param open jobs
     * @param over of these over their window
     * @param advice what its records advise; absent where too little is known of every device
     */
    record PlanLine(
            Plan plan,
            String procedureTitle,
            String classTitle,
            String why,
            long devices,
            long open,
            long over,
            @Nullable PlanAdvice advice) {}

    /**
     * The longest interval at which the chance to find a device outside at its next test stays under the set risk.
     * Never applied by itself.
     *
     * @param risk as a share
     * @param devices it is known of
     * @param shorter how many of them would need a shorter one than is set
     * @param least of all, months
     * @param leastAsset the device that is of
     * @param leastPosition where it stands
     * @param middle half of the devices would do with a longer one, months
     */
    record PlanAdvice(
            double risk, long devices, long shorter, int least, String leastAsset, String leastPosition, int middle) {}

    /**
     * What a change would do to open jobs.
     *
     * @param devices concerned
     * @param added jobs that would be new
     * @param moved that would get another day, window or content
     * @param gone that would be withdrawn
     * @param offRounds that would leave the day they are planned for
     * @param examples a few of these, in words
     */
    record PlanPreview(int devices, int added, int moved, int gone, int offRounds, List<String> examples) {}

    List<PlanLine> lines() {
        Map<String, String> titles = pages.titles();
        double risk = jdbc.sql("SELECT CAST(value AS double precision) FROM setting WHERE key = 'advice.risk'")
                .query(Double.class)
                .single();
        Map<Long, long[]> counts = new HashMap<>();
        jdbc.sql("SELECT plan, count(*), count(*) FILTER (WHERE closes < :today AND cannot IS NULL AND "
                        + "(deferred_to IS NULL OR deferred_to < :today)) FROM job WHERE plan IS NOT "
                        + "NULL AND status IN ('open', 'running', 'partly done') GROUP BY plan")
                .param("today", pages.today())
                .query(rs -> {
                    counts.put(rs.getLong(1), new long[] {rs.getLong(2), rs.getLong(3)});
                });
        Map<String, String> classes = new HashMap<>();
        Map<String, Long> standing = new HashMap<>();
        jdbc.sql("SELECT code, title FROM asset_class").query(rs -> {
            classes.put(rs.getString(1), rs.getString(2));
        });
        jdbc.sql("SELECT a.class, a.maker || ' ' || a.model, count(*) FROM asset a JOIN installation i ON "
                        + "i.asset = a.id AND upper_inf(i.during) GROUP BY 1, 2")
                .query(rs -> {
                    standing.merge(rs.getString(1), rs.getLong(3), Long::sum);
                    standing.merge(rs.getString(1) + " " + rs.getString(2), rs.getLong(3), Long::sum);
                });
        return plans.all().stream()
                .map(p -> {
                    long[] of = counts.getOrDefault(p.id(), new long[2]);
                    long devices = p.assetClass() == null
                            ? p.positions().size()
                            : standing.getOrDefault(
                                    p.model() == null ? p.assetClass() : p.assetClass() + " " + p.model(), 0L);
                    return new PlanLine(
                            p,
                            titles.getOrDefault(p.procedure(), p.procedure()),
                            p.assetClass() == null ? "" : classes.getOrDefault(p.assetClass(), p.assetClass()),
                            p.why(),
                            devices,
                            of[0],
                            of[1],
                            advice(p, risk));
                })
                .toList();
    }

    private @Nullable PlanAdvice advice(Plan plan, double risk) {
        return jdbc.sql(
                        """
        WITH known AS (SELECT x.asset, i.position, min(x.advice) AS months, 12 * min(n.test_interval) AS set
          FROM series_state x JOIN asset a ON a.id = x.asset JOIN asset_state n ON n.asset = x.asset
            JOIN installation i ON i.asset = x.asset AND upper_inf(i.during)
          WHERE x.advice IS NOT NULL AND x.procedure = :procedure AND a.retired_at IS NULL
            AND (CAST(:class AS text) IS NULL AND i.position = ANY (:positions) OR a.class = :class
              AND (CAST(:model AS text) IS NULL OR a.maker || ' ' || a.model = :model)) GROUP BY 1, 2)
        SELECT count(*), count(*) FILTER (WHERE months < set), min(months),
          percentile_disc(0.5) WITHIN GROUP (ORDER BY months),
          (SELECT array[asset, position] FROM known ORDER BY months, asset LIMIT 1) FROM known HAVING count(*) > 0""")
                .param("procedure", plan.procedure())
                .param("class", plan.assetClass(), java.sql.Types.VARCHAR)
                .param("model", plan.model(), java.sql.Types.VARCHAR)
                .param("positions", plan.positions().toArray(String[]::new))
                .query((rs, i) -> {
                    String[] least = (String[]) rs.getArray(5).getArray();
                    return new PlanAdvice(
                            risk, rs.getLong(1), rs.getLong(2), rs.getInt(3), least[0], least[1], rs.getInt(4));
                })
                .optional()
                .orElse(null);
    }

    private List<Plan> with(Plan plan) {
        List<Plan> all = new ArrayList<>(
                plans.active().stream().filter(p -> p.id() != plan.id()).toList());
        FieldsException.throwIf(check.problems(plan, all));
        if (!plan.ended()) {
            all.add(plan);
        }
        return all;
    }

    private List<String> concerned(Plan plan, @Nullable Plan before) {
        Set<Plan> both = new LinkedHashSet<>(List.of(plan));
        if (before != null) {
            both.add(before);
        }
        return horizon.concerned(both);
    }

    /** What storing a plan would do. Nothing is stored. */
    @Transactional(readOnly = true)
    public PlanPreview preview(Plan plan) {
        List<Plan> all = with(plan);
        List<String> devices = concerned(plan, plan.id() == 0 ? null : plans.byId(plan.id()));
        Horizon.Changes changes = horizon.changes(devices, all);
        List<String> examples = new ArrayList<>();
        changes.moved().stream()
                .filter(Horizon.Moved::leavesItsDay)
                .limit(EXAMPLES)
                .forEach(m -> examples.add(m.from().position() + " leaves "
                        + day(m.from().plannedFor())
                        + (m.from().person() == null ? "" : " of " + m.from().person()) + ": its window becomes "
                        + day(m.to().opens()) + " to " + day(m.to().closes())));
        changes.moved().stream()
                .filter(m -> !m.leavesItsDay())
                .limit(Math.max(0, EXAMPLES - examples.size()))
                .forEach(m -> examples.add(m.from().position()
                        + (m.from().due().equals(m.to().due())
                                ? ", due " + day(m.to().due()) + ": window " + day(m.to().opens()) + " to "
                                        + day(m.to().closes())
                                : ": due " + day(m.to().due()) + ", not "
                                        + day(m.from().due()))));
        changes.withdrawn().stream()
                .limit(Math.max(1, EXAMPLES / 2))
                .forEach(j -> examples.add(j.position() + ": no job on " + day(j.due()) + " any more"
                        + (j.plannedFor() == null ? "" : "; it was planned for " + day(j.plannedFor()))));
        changes.added().stream()
                .limit(Math.max(1, EXAMPLES / 2))
                .forEach(j -> examples.add(j.position() + ": new job, due " + day(j.due())));
        long off = changes.moved().stream().filter(Horizon.Moved::leavesItsDay).count()
                + changes.withdrawn().stream()
                        .filter(j -> j.plannedFor() != null)
                        .count();
        return new PlanPreview(
                devices.size(),
                changes.added().size(),
                changes.moved().size(),
                changes.withdrawn().size() + changes.missed().size(),
                (int) off,
                examples);
    }

    private static String day(@Nullable LocalDate day) {
        return day == null ? "no day" : DAY.format(day);
    }

    /** Stores a plan, new or changed, and lays the jobs of what it concerns anew. */
    @Transactional
    public Plan store(Plan plan, String by) {
        with(plan);
        Plan before = plan.id() == 0 ? null : plans.byId(plan.id());
        long id = plan.id();
        if (before == null) {
            id = plans.insert(plan, by);
        } else {
            plans.update(plan, by);
        }
        horizon.again(concerned(plan, before));
        return plans.byId(id);
    }
}
