package org.juratest.server.month;

import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.LocalDate;
import java.time.OffsetDateTime;
import java.time.YearMonth;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Figures;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.limit.ResolvedLimit;
import org.juratest.server.compliance.Compliance;
import org.juratest.server.condition.Attention;
import org.juratest.server.plan.PlanPages;
import org.juratest.server.run.PointViews;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;

/** What a month came to, from jobs, records, repairs and trends. */
@Repository
class Months {

    private static final int YEAR = 12;
    private static final int MOST = 12;
    private static final int STEPS = 6;
    private static final DateTimeFormatter NAME = DateTimeFormatter.ofPattern("MMMM yyyy", Locale.UK);
    private static final DateTimeFormatter SHORT = DateTimeFormatter.ofPattern("MMM yyyy", Locale.UK);
    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("d MMM yyyy", Locale.UK);
    /** A point that somebody adjusted before it passed. */
    private static final String ADJUSTED = "v.as_left IS NOT NULL AND v.as_found IS DISTINCT FROM v.as_left";

    private final JdbcClient jdbc;
    private final Compliance compliance;
    private final Attention attention;
    private final PlanPages pages;

    Months(JdbcClient jdbc, Compliance compliance, Attention attention, PlanPages pages) {
        this.jdbc = jdbc;
        this.compliance = compliance;
        this.attention = attention;
        this.pages = pages;
    }

    MonthView of(YearMonth month) {
        Map<String, String> titles = pages.titles();
        List<MonthView.MonthFigures> year = year(month);
        return new MonthView(
                month.toString(),
                NAME.format(month),
                pages.today(),
                year.get(year.size() - 1),
                year,
                failed(month),
                repaired(month),
                inService(month),
                attention.coming(YEAR),
                moved(month, titles),
                steps(month, titles));
    }

    /** A month begins at midnight where the plan is. */
    private static OffsetDateTime start(YearMonth month, ZoneId zone) {
        return month.atDay(1).atStartOfDay(zone).toOffsetDateTime();
    }

    private JdbcClient.StatementSpec within(String sql, YearMonth from, YearMonth to) {
        ZoneId zone = pages.zone();
        String[] months = Stream.iterate(from, m -> !m.isAfter(to), m -> m.plusMonths(1))
                .map(m -> start(m, zone).toString())
                .toArray(String[]::new);
        return jdbc.sql(sql)
                .param("months", months)
                .param("from", start(from, zone))
                .param("to", start(to.plusMonths(1), zone));
    }

    /** The month of a bucket: the first is 1. */
    private static String month(YearMonth first, int bucket) {
        return first.plusMonths(bucket - 1L).toString();
    }

    private record Tested(int tested, int first, int failed) {}

    private List<MonthView.MonthFigures> year(YearMonth last) {
        YearMonth first = last.minusMonths(YEAR - 1L);
        Map<String, Tested> tested = new HashMap<>();
        within(
                        """
        SELECT width_bucket(r.finished_at, CAST(:months AS timestamptz[])), count(*),
          count(*) FILTER (WHERE r.verdict IN ('pass',
            'marginalInside')
            AND r.complete AND NOT EXISTS (SELECT 1 FROM run_point v WHERE v.run = r.id AND %s)),
          count(*) FILTER (WHERE r.verdict IN ('fail', 'marginalOutside'))
        FROM run r WHERE r.status = 'finished' AND r.finished_at >= :from AND r.finished_at < :to GROUP BY 1"""
                                .formatted(ADJUSTED),
                        first,
                        last)
                .query(rs -> {
                    tested.put(month(first, rs.getInt(1)), new Tested(rs.getInt(2), rs.getInt(3), rs.getInt(4)));
                });
        Map<String, Integer> putRight = counted(
                """
        SELECT width_bucket(at, CAST(:months AS timestamptz[])), count(DISTINCT asset) FROM (
          SELECT asset, at FROM asset_event WHERE kind = 'repair' AND at >= :from AND at < :to
          UNION ALL SELECT r.asset, r.finished_at FROM run r WHERE r.status = 'finished' AND r.finished_at >= :from
            AND r.finished_at < :to AND EXISTS (SELECT 1 FROM run_point v WHERE v.run = r.id AND %s)) d GROUP BY 1"""
                        .formatted(ADJUSTED),
                first,
                last);
        Map<String, Integer> inService = counted(
                "SELECT width_bucket(at, CAST(:months AS timestamptz[])), count(*) FROM "
                        + "asset_event WHERE kind = 'failure' AND at >= :from "
                        + "AND at "
                        + "< :to GROUP BY 1",
                first,
                last);
        List<MonthView.MonthFigures> all = new ArrayList<>();
        for (Compliance.ComplianceCell cell : compliance
                .report(first.atDay(1), last.atEndOfMonth(), "month", null)
                .all()) {
            String key = YearMonth.from(cell.from()).toString();
            Tested of = tested.getOrDefault(key, new Tested(0, 0, 0));
            all.add(new MonthView.MonthFigures(
                    key,
                    SHORT.format(cell.from()),
                    cell.due(),
                    cell.inWindow(),
                    cell.late(),
                    cell.missed(),
                    cell.over(),
                    cell.ahead(),
                    of.tested,
                    of.first,
                    of.failed,
                    putRight.getOrDefault(key, 0),
                    inService.getOrDefault(key, 0)));
        }
        return all;
    }

    private Map<String, Integer> counted(String sql, YearMonth from, YearMonth to) {
        Map<String, Integer> all = new HashMap<>();
        within(sql, from, to).query(rs -> {
            all.put(month(from, rs.getInt(1)), rs.getInt(2));
        });
        return all;
    }

    private List<MonthView.FailedTest> failed(YearMonth month) {
        return within(
                        """
        SELECT r.record, r.asset, r.position, a.maker || ' ' || a.model, r.finished_at, v.label, v.counting, v.low,
          v.high, v.unit, (SELECT n.record FROM run n WHERE n.asset = r.asset AND n.status = 'finished'
            AND n.finished_at > r.finished_at AND n.complete AND n.verdict IN ('pass', 'marginalInside')
            ORDER BY n.finished_at LIMIT 1),
          (SELECT min(e.at) FROM asset_event e WHERE e.asset = r.asset AND e.kind = 'repair' AND e.at > r.finished_at)
        FROM run r JOIN asset a ON a.id = r.asset LEFT JOIN LATERAL (SELECT * FROM run_point p WHERE p.run = r.id
          AND p.verdict IN ('fail', 'marginalOutside') ORDER BY p.margin_used DESC NULLS LAST,
            p.point LIMIT 1) v ON true
        WHERE r.status = 'finished' AND r.verdict IN ('fail', 'marginalOutside') AND r.finished_at >= :from
          AND r.finished_at < :to ORDER BY r.finished_at DESC, r.id LIMIT\s"""
                                + MOST,
                        month,
                        month)
                .query((rs, i) -> {
                    String passed = rs.getString(11);
                    java.sql.Timestamp repair = rs.getTimestamp(12);
                    return new MonthView.FailedTest(
                            rs.getString(1),
                            rs.getString(2),
                            rs.getString(3),
                            rs.getString(4),
                            rs.getTimestamp(5).toInstant(),
                            what(rs),
                            passed != null
                                    ? "passed since: " + passed
                                    : repair == null
                                            ? "open"
                                            : "repaired "
                                                    + DAY.format(LocalDate.ofInstant(repair.toInstant(), pages.zone()))
                                                    + ", not tested since");
                })
                .list();
    }

    private static String what(ResultSet rs) throws SQLException {
        String label = rs.getString(6);
        if (label == null) {
            return "failed";
        }
        Double value = rs.getObject(7, Double.class);
        Double low = rs.getObject(8, Double.class);
        Double high = rs.getObject(9, Double.class);
        ResolvedLimit limit =
                low == null && high == null ? null : new ResolvedLimit(low, high, null, null, null, "", null, null);
        return value == null
                ? label
                : label + ": " + figure(value, limit, rs.getString(10))
                        + (limit == null
                                ? ""
                                : ", allowed " + PointViews.words(String.valueOf(Figures.span(limit, value))));
    }

    private static String figure(double value, @Nullable ResolvedLimit limit, @Nullable String unit) {
        return (PointViews.figure(value, Qualifier.EQUAL, limit) + " " + PointViews.symbol(unit)).strip();
    }

    private List<MonthView.PutRight> repaired(YearMonth month) {
        return within(
                        """
        SELECT position, at, what, record FROM (
          SELECT coalesce((SELECT i.position FROM installation i WHERE i.asset = e.asset AND i.during @> e.at LIMIT 1),
            e.asset) AS position, e.at, e.words AS what, NULL AS record
          FROM asset_event e WHERE e.kind = 'repair' AND e.at >= :from AND e.at < :to
          UNION ALL SELECT r.position, r.finished_at, 'adjusted: ' || string_agg(v.label, ', ' ORDER BY v.point),
            r.record
          FROM run r JOIN run_point v ON v.run = r.id AND %s WHERE r.status = 'finished' AND r.finished_at >= :from
            AND r.finished_at < :to GROUP BY r.id) d ORDER BY at DESC LIMIT %d"""
                                .formatted(ADJUSTED, MOST),
                        month,
                        month)
                .query((rs, i) -> new MonthView.PutRight(
                        rs.getString(1), rs.getTimestamp(2).toInstant(), rs.getString(3), rs.getString(4)))
                .list();
    }

    private List<MonthView.ServiceFailure> inService(YearMonth month) {
        return within(
                        """
        SELECT coalesce((SELECT i.position FROM installation i WHERE i.asset = e.asset AND i.during @> e.at LIMIT 1),
          e.asset), e.at, e.words FROM asset_event e WHERE e.kind = 'failure' AND e.at >= :from AND e.at < :to
        ORDER BY e.at DESC LIMIT\s"""
                                + MOST,
                        month,
                        month)
                .query((rs, i) -> new MonthView.ServiceFailure(
                        rs.getString(1), rs.getTimestamp(2).toInstant(), rs.getString(3)))
                .list();
    }

    private List<MonthView.MovedJob> moved(YearMonth month, Map<String, String> titles) {
        return within(
                        """
        SELECT j.position, j.procedure, j.due, d.until, d.why, coalesce(p.name, d.by), d.at FROM job_decision d
          JOIN job j ON j.id = d.job LEFT JOIN person p ON p.id = d.by
        WHERE d.kind IN ('deferred', 'cannot') AND d.at >= :from AND d.at < :to ORDER BY d.at DESC, d.id DESC LIMIT\s"""
                                + MOST,
                        month,
                        month)
                .query((rs, i) -> new MonthView.MovedJob(
                        rs.getString(1),
                        titles.getOrDefault(rs.getString(2), rs.getString(2)),
                        rs.getObject(3, LocalDate.class),
                        rs.getObject(4, LocalDate.class),
                        rs.getString(5),
                        rs.getString(6),
                        rs.getTimestamp(7).toInstant()))
                .list();
    }

    /** Lanes of a point count together: what fails is the point. */
    private List<MonthView.FailingPoint> steps(YearMonth month, Map<String, String> titles) {
        return within(
                        """
        SELECT procedure, label, count(*) FILTER (WHERE failed), count(*) FROM (
          SELECT r.procedure, split_part(v.label, ', ', 1) AS label, r.id, bool_or(v.verdict IN ('fail',
            'marginalOutside')) AS failed FROM run r JOIN run_point v ON v.run = r.id
          WHERE r.status = 'finished' AND r.finished_at >= :from AND r.finished_at < :to AND v.verdict <> 'notJudged'
          GROUP BY 1, 2, 3) d
        GROUP BY 1, 2 HAVING count(*) FILTER (WHERE failed) > 0
        ORDER BY 3 DESC, 3::double precision / count(*) DESC, 1, 2 LIMIT\s"""
                                + STEPS,
                        month.minusMonths(YEAR - 1L),
                        month)
                .query((rs, i) -> new MonthView.FailingPoint(
                        titles.getOrDefault(rs.getString(1), rs.getString(1)),
                        rs.getString(2),
                        rs.getInt(3),
                        rs.getInt(4)))
                .list();
    }
}
