package org.juratest.formats.trend;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.OptionalDouble;
import org.jspecify.annotations.Nullable;
import org.juratest.core.condition.Line;
import org.juratest.core.condition.Monotony;
import org.juratest.core.condition.Timed;
import org.juratest.core.condition.Trend;
import org.juratest.core.condition.TrendWords;
import org.juratest.core.run.Refusal;
import org.juratest.formats.analyse.Analyses;
import org.juratest.formats.analyse.Analysis;
import org.juratest.formats.analyse.AnalysisFamily;
import org.juratest.formats.json.CoreJson;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** {@code analyse trend}: a test point over time, with its limits and what was done to the device in between. */
public final class TrendAnalyses implements AnalysisFamily {

    private static final double SHARE = 0.95;

    @Override
    public List<Analysis> analyses() {
        return List.of(new Analysis() {
            @Override
            public String kind() {
                return "trend";
            }

            @Override
            public ObjectNode of(List<Path> inputs, Map<String, String> options) throws IOException {
                try (var in = Files.newBufferedReader(inputs.get(0), StandardCharsets.UTF_8)) {
                    return trend(TrendTable.read(in));
                } catch (IllegalArgumentException e) {
                    throw new Refusal("bad-table", String.valueOf(e.getMessage()), "INPUT");
                }
            }
        });
    }

    private static ObjectNode trend(List<TrendTable.Row> rows) {
        List<Trend.Visit> visits = new ArrayList<>();
        boolean upper = isUpper(rows);
        for (TrendTable.Row row : rows) {
            visits.add(new Trend.Visit(
                    new Timed(row.date().toEpochDay() / 365.25, row.value()),
                    upper ? null : row.limit(),
                    upper ? row.limit() : null,
                    0,
                    row.event() != null));
        }
        Trend trend = Trend.of(visits);
        ObjectNode result = CoreJson.mapper().createObjectNode();
        ArrayNode segments = result.putArray("segments");
        trend.segments().forEach(s -> segment(segments.addObject(), s, rows, trend));
        ArrayNode steps = result.putArray("steps");
        trend.steps().forEach(s -> steps.add(rows.get(s).date().toString()));
        TrendTable.Row last = rows.get(rows.size() - 1);
        result.put("words", TrendWords.of(trend, last.date().toEpochDay() / 365.25));
        return result;
    }

    /** A table has one limit and no sign: it is the upper one where the first value that has one is not above it. */
    private static boolean isUpper(List<TrendTable.Row> rows) {
        return rows.stream()
                .filter(r -> r.limit() != null)
                .findFirst()
                .map(r -> r.value() <= Objects.requireNonNull(r.limit()))
                .orElse(true);
    }

    private static void segment(ObjectNode node, Trend.Segment s, List<TrendTable.Row> rows, Trend trend) {
        Monotony monotony = s.monotony();
        Line line = s.line();
        node.put("from", rows.get(s.from()).date().toString());
        node.put("to", rows.get(s.to()).date().toString());
        node.put("n", s.n());
        Analyses.put(node, "theilSenPerYear", monotony.slope());
        Analyses.put(node, "theilSenLow95", monotony.low());
        Analyses.put(node, "theilSenHigh95", monotony.high());
        double half = line == null ? Double.NaN : line.slopeHalf(SHARE);
        Analyses.put(node, "olsPerYear", line == null ? OptionalDouble.empty() : OptionalDouble.of(line.slope()));
        Analyses.put(node, "olsLow95", finite(line == null ? Double.NaN : line.slope() - half));
        Analyses.put(node, "olsHigh95", finite(line == null ? Double.NaN : line.slope() + half));
        Analyses.put(
                node,
                "mannKendallP",
                monotony.slope().isPresent() ? OptionalDouble.of(monotony.p()) : OptionalDouble.empty());
        Line.Range range = s.range();
        node.put("crossing", day(s.crossing().orElse(Double.NaN)));
        node.put("crossingFrom80", day(range == null ? Double.NaN : range.from()));
        node.put("crossingTo80", day(range == null ? Double.NaN : range.to()));
        node.put("method", method(s, trend));
    }

    private static @Nullable String method(Trend.Segment s, Trend trend) {
        String pooled = trend.pooled() ? ", segments pooled" : "";
        return switch (s.method()) {
            case FIELLER -> "ordinary least squares, Fieller" + pooled;
            case BOOTSTRAP -> "Theil-Sen, bootstrap" + pooled;
            case NONE -> null;
        };
    }

    private static OptionalDouble finite(double value) {
        return Math.abs(value) <= Double.MAX_VALUE ? OptionalDouble.of(value) : OptionalDouble.empty();
    }

    /** The day of a number of years; absent for an open end, and for what lies beyond the year 9999. */
    private static @Nullable String day(double years) {
        double days = years * 365.25;
        return Math.abs(days) < 2_900_000
                ? LocalDate.ofEpochDay(Math.round(days)).toString()
                : null;
    }
}
