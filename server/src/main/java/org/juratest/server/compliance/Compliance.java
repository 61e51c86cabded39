package org.juratest.server.compliance;

import java.time.LocalDate;
import java.time.temporal.ChronoUnit;
import java.time.temporal.IsoFields;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.run.Refusal;
import org.juratest.server.plan.PlanPages;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;

/** What of the jobs due in a period was done in time, late, or not at all. */
@Repository
public class Compliance {

    private static final String OUTCOME =
            """
      CASE WHEN j.status = 'done' AND j.done_on <= j.closes THEN 'IN_WINDOW' WHEN j.status = 'done' THEN 'LATE'
        WHEN j.status = 'missed' THEN 'MISSED'
        WHEN j.closes < :today THEN 'OVER' ELSE 'AHEAD' END""";
    /** What was said last about why it was not done. */
    private static final String WHY =
            "coalesce((SELECT d.why FROM job_decision d WHERE d.job = j.id AND d.kind IN ('deferred', 'cannot', "
                    + "'put back') ORDER BY d.id DESC LIMIT 1), '')";

    private static final int MOST_WHYS = 4;
    private static final int MOST_MONTHS = 240;

    private final JdbcClient jdbc;
    private final PlanPages pages;

    public Compliance(JdbcClient jdbc, PlanPages pages) {
        this.jdbc = jdbc;
        this.pages = pages;
    }

    /** What came of a job. */
    public enum Outcome {
        IN_WINDOW,
        LATE,
        MISSED,
        OVER,
        AHEAD
    }

    /**
     * A report.
     *
     * @param from first due date
     * @param to last due date
     * @param by {@code month}, {@code quarter} or {@code year}
     * @param all over all procedures, one a period
     */
    public record ComplianceReport(
            LocalDate from,
            LocalDate to,
            String by,
            LocalDate today,
            List<ComplianceCell> all,
            List<ComplianceRow> rows) {}

    /** A procedure, period by period. */
    public record ComplianceRow(String procedure, String title, ComplianceCell total, List<ComplianceCell> periods) {}

    /**
     * A period of a procedure.
     *
     * @param due jobs whose due date lies in it
     * @param inWindow done within the window
     * @param late done after it
     * @param missed went by undone
     * @param over still open, their window is closed
     * @param ahead still open, their window is not closed
     * @param whys of what was late, missed or is over: what people said, most often said first
     */
    public record ComplianceCell(
            String period,
            LocalDate from,
            LocalDate to,
            int due,
            int inWindow,
            int late,
            int missed,
            int over,
            int ahead,
            List<WhyCount> whys) {}

    /** A reason, and how often it was given. */
    public record WhyCount(String why, int count) {}

    /**
     * A job of the report.
     *
     * @param outcome as in the cells
     * @param run whose record it led to
     */
    public record ComplianceJob(
            long id,
            String procedure,
            String title,
            String asset,
            String position,
            String siteName,
            String reason,
            LocalDate opens,
            LocalDate due,
            LocalDate closes,
            @Nullable LocalDate doneOn,
            Outcome outcome,
            String why,
            @Nullable UUID run,
            @Nullable String record) {}

    private static LocalDate start(LocalDate day, String by) {
        return switch (by) {
            case "month" -> day.withDayOfMonth(1);
            case "quarter" -> day.with(IsoFields.DAY_OF_QUARTER, 1);
            default -> day.withDayOfYear(1);
        };
    }

    private static LocalDate next(LocalDate start, String by) {
        return start.plusMonths(by.equals("month") ? 1 : by.equals("quarter") ? 3 : 12);
    }

    private static String label(LocalDate start, String by) {
        return switch (by) {
            case "month" ->
                java.time.format.DateTimeFormatter.ofPattern("MMM yyyy", java.util.Locale.UK)
                        .format(start);
            case "quarter" -> "Q" + start.get(IsoFields.QUARTER_OF_YEAR) + " " + start.getYear();
            default -> String.valueOf(start.getYear());
        };
    }

    private static void check(LocalDate from, LocalDate to, String by) {
        if (!List.of("month", "quarter", "year").contains(by)) {
            throw new Refusal("unknown-period", "\"" + by + "\" is no period; take month, quarter or year.", "by");
        }
        if (to.isBefore(from)) {
            throw new Refusal("out-of-range", "The last day is before the first; give a later one.", "to");
        }
        if (ChronoUnit.MONTHS.between(from, to) > MOST_MONTHS) {
            throw new Refusal("out-of-range", "A report goes over 20 years at most; give a later first day.", "from");
        }
    }

    /** The report; {@code site} narrows it to one. */
    public ComplianceReport report(LocalDate from, LocalDate to, String by, @Nullable String site) {
        check(from, to, by);
        Map<String, String> titles = pages.titles();
        Map<String, List<Counted>> byProcedure =
                new TreeMap<>(Comparator.comparing((String code) -> titles.getOrDefault(code, code))
                        .thenComparing(c -> c));
        List<Counted> counted = counted(from, to, by, site);
        counted.forEach(c -> byProcedure
                .computeIfAbsent(c.procedure, code -> new ArrayList<>())
                .add(c));
        return new ComplianceReport(
                from,
                to,
                by,
                pages.today(),
                periods(counted, from, to, by),
                byProcedure.entrySet().stream()
                        .map(e -> new ComplianceRow(
                                e.getKey(),
                                titles.getOrDefault(e.getKey(), e.getKey()),
                                cell("all", from, to, e.getValue()),
                                periods(e.getValue(), from, to, by)))
                        .toList());
    }

    /** How many jobs of a procedure came to the same in a period, for the same reason. */
    private record Counted(String procedure, LocalDate start, Outcome outcome, String why, int jobs) {}

    private List<Counted> counted(LocalDate from, LocalDate to, String by, @Nullable String site) {
        return jdbc.sql(
                        """
        SELECT procedure, CAST(date_trunc(:by, due) AS date), outcome,
          CASE WHEN outcome IN ('LATE', 'MISSED', 'OVER') THEN %s ELSE '' END AS why, count(*)
        FROM (SELECT j.id, j.procedure, j.due, %s AS outcome FROM job j JOIN position p ON p.code = j.position
          WHERE j.due BETWEEN :from AND :to AND j.status <> 'withdrawn' AND (CAST(:site AS text) IS NULL
            OR p.site = :site)) j
        GROUP BY 1, 2, 3, 4"""
                                .formatted(WHY, OUTCOME))
                .param("by", by)
                .param("today", pages.today())
                .param("from", from)
                .param("to", to)
                .param("site", site, java.sql.Types.VARCHAR)
                .query((rs, i) -> new Counted(
                        rs.getString(1),
                        rs.getObject(2, LocalDate.class),
                        Outcome.valueOf(rs.getString(3)),
                        rs.getString(4),
                        rs.getInt(5)))
                .list();
    }

    private static List<ComplianceCell> periods(List<Counted> counted, LocalDate from, LocalDate to, String by) {
        List<ComplianceCell> cells = new ArrayList<>();
        Map<LocalDate, List<Counted>> byStart = new HashMap<>();
        counted.forEach(
                c -> byStart.computeIfAbsent(c.start, s -> new ArrayList<>()).add(c));
        for (LocalDate at = start(from, by); !at.isAfter(to); at = next(at, by)) {
            LocalDate last = next(at, by).minusDays(1);
            cells.add(cell(
                    label(at, by),
                    at.isBefore(from) ? from : at,
                    last.isAfter(to) ? to : last,
                    byStart.getOrDefault(at, List.of())));
        }
        return cells;
    }

    private static ComplianceCell cell(String label, LocalDate from, LocalDate to, List<Counted> counted) {
        int[] counts = new int[Outcome.values().length];
        Map<String, Integer> whys = new TreeMap<>();
        for (Counted c : counted) {
            counts[c.outcome.ordinal()] += c.jobs;
            if (c.outcome != Outcome.IN_WINDOW && c.outcome != Outcome.AHEAD) {
                whys.merge(c.why.isEmpty() ? "nothing was said" : c.why, c.jobs, Integer::sum);
            }
        }
        return new ComplianceCell(
                label,
                from,
                to,
                java.util.Arrays.stream(counts).sum(),
                counts[0],
                counts[1],
                counts[2],
                counts[3],
                counts[4],
                whys.entrySet().stream()
                        .sorted(Map.Entry.<String, Integer>comparingByValue().reversed())
                        .limit(MOST_WHYS)
                        .map(e -> new WhyCount(e.getKey(), e.getValue()))
                        .toList());
    }

    /** The jobs due in some days, first due first; of one procedure where it is given. */
    public List<ComplianceJob> jobs(LocalDate from, LocalDate to, @Nullable String site, @Nullable String procedure) {
        check(from, to, "year");
        Map<String, String> titles = pages.titles();
        return jdbc.sql(
                        """
        SELECT j.id, j.procedure, j.asset, j.position, s.name, j.reason, j.opens, j.due, j.closes, j.done_on,
          %s, %s, r.id, r.record
        FROM job j JOIN position p ON p.code = j.position JOIN site s ON s.code = p.site
          LEFT JOIN LATERAL (SELECT id, record FROM run WHERE run.job = j.id AND run.status = 'finished'
            ORDER BY finished_at DESC LIMIT 1) r ON true
        WHERE j.due BETWEEN :from AND :to AND j.status <> 'withdrawn' AND (CAST(:site AS text) IS NULL
          OR s.code = :site) AND (CAST(:procedure AS text) IS NULL OR j.procedure = :procedure)
        ORDER BY j.due, j.id"""
                                .formatted(OUTCOME, WHY))
                .param("today", pages.today())
                .param("from", from)
                .param("to", to)
                .param("site", site, java.sql.Types.VARCHAR)
                .param("procedure", procedure, java.sql.Types.VARCHAR)
                .query((rs, i) -> new ComplianceJob(
                        rs.getLong(1),
                        rs.getString(2),
                        titles.getOrDefault(rs.getString(2), rs.getString(2)),
                        rs.getString(3),
                        rs.getString(4),
                        rs.getString(5),
                        rs.getString(6),
                        rs.getObject(7, LocalDate.class),
                        rs.getObject(8, LocalDate.class),
                        rs.getObject(9, LocalDate.class),
                        rs.getObject(10, LocalDate.class),
                        Outcome.valueOf(rs.getString(11)),
                        rs.getString(12),
                        rs.getObject(13, UUID.class),
                        rs.getString(14)))
                .list();
    }
}
