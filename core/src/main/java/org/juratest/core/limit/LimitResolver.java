package org.juratest.core.limit;

import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.OptionalDouble;
import org.jspecify.annotations.Nullable;
import org.juratest.core.curve.TimeCurrentBand;
import org.juratest.core.curve.TimeWindow;
import org.juratest.core.formula.Formula;
import org.juratest.core.formula.FormulaException;

/**
 * Turns a stated limit into plain numbers with their source in words. Whatever is missing (a rating, an earlier record,
 * a second lane, a curve) gives an unresolved limit with the reason, never a guess and never an exception.
 */
public final class LimitResolver {

    private LimitResolver() {}

    /** Resolves a limit for one point and lane. */
    public static ResolvedLimit resolve(LimitSpec spec, Scale scale, LimitContext context) {
        try {
            Sides sides = sides(spec, context);
            return ResolvedLimit.of(spec, scale, sides.low, sides.high, sides.ideal, sides.source);
        } catch (Missing e) {
            return ResolvedLimit.unresolved(spec.source(), e.getMessage());
        } catch (FormulaException e) {
            return ResolvedLimit.unresolved(spec.source(), e.getMessage());
        } catch (IllegalArgumentException e) {
            return ResolvedLimit.unresolved(spec.source(), "the limit makes no sense here: " + e.getMessage());
        }
    }

    private record Sides(@Nullable Double low, @Nullable Double high, @Nullable Double ideal, String source) {}

    /** Something a limit needs is not there; its message is the reason shown. */
    private static final class Missing extends RuntimeException {
        Missing(String reason) {
            super(reason, null, false, false);
        }
    }

    private static Sides sides(LimitSpec spec, LimitContext context) {
        LimitKind kind = spec.kind();
        String source = spec.source();
        if (kind instanceof LimitKind.Fixed fixed) {
            return new Sides(fixed.low(), fixed.high(), fixed.ideal(), source);
        } else if (kind instanceof LimitKind.AtMost atMost) {
            return new Sides(null, atMost.high(), atMost.ideal(), source);
        } else if (kind instanceof LimitKind.AtLeast atLeast) {
            return new Sides(atLeast.low(), null, atLeast.ideal(), source);
        } else if (kind instanceof LimitKind.Nominal nominal) {
            return nominal(nominal, source);
        } else if (kind instanceof LimitKind.Table table) {
            return table(table, source, context);
        } else if (kind instanceof LimitKind.Band) {
            return band(source, context);
        } else if (kind instanceof LimitKind.Formula formula) {
            return formula(formula, source, context);
        } else if (kind instanceof LimitKind.Spread spread) {
            return spread(spread, source, context);
        }
        return change((LimitKind.Change) kind, source, context);
    }

    private static Sides nominal(LimitKind.Nominal limit, String source) {
        double n = limit.nominal();
        return switch (limit.in()) {
            case UNIT -> new Sides(n - limit.minus(), n + limit.plus(), n, source);
            case PERCENT -> relative(n, limit.minus() / 100, limit.plus() / 100, source);
            case PPM -> relative(n, limit.minus() / 1e6, limit.plus() / 1e6, source);
            case DB -> new Sides(n * Math.pow(10, -limit.minus() / 20), n * Math.pow(10, limit.plus() / 20), n, source);
        };
    }

    private static Sides relative(double n, double minus, double plus, String source) {
        return new Sides(n - Math.abs(n) * minus, n + Math.abs(n) * plus, n, source);
    }

    private static Sides table(LimitKind.Table table, String source, LimitContext context) {
        InputRef ref = InputRef.parse(table.of());
        double value = required(ref, context);
        for (LimitKind.Row row : table.rows()) {
            if (value <= row.upTo()) {
                return new Sides(row.low(), row.high(), row.ideal(), source);
            }
        }
        List<LimitKind.Row> rows = table.rows();
        throw new Missing(words(ref) + " of " + figure(value) + " is above the last row of the table"
                + (rows.isEmpty() ? "" : " (" + figure(rows.get(rows.size() - 1).upTo()) + ")")
                + "; set a limit for this run");
    }

    private static Sides band(String source, LimitContext context) {
        TimeCurrentBand band = context.band();
        if (band == null) {
            throw new Missing("no curve is known for this device");
        }
        TimeWindow window = band.at(context.measuredCurrent());
        if (!window.known()) {
            throw new Missing(String.valueOf(window.unknown()));
        }
        Double earliest = window.earliest();
        Double latest = window.latest();
        if (earliest == null && latest == null) {
            throw new Missing("at " + figure(context.measuredCurrent()) + " A no element of the curve operates");
        }
        // The nominal curve runs in the geometric middle of a band drawn on log axes.
        Double ideal = earliest == null || latest == null ? null : Math.sqrt(earliest * latest);
        return new Sides(
                earliest,
                latest,
                ideal,
                source + ", " + band.source() + ", at " + figure(context.measuredCurrent()) + " A");
    }

    private static Sides formula(LimitKind.Formula limit, String source, LimitContext context) {
        Map<String, Double> values = new HashMap<>();
        limit.inputs().forEach((name, ref) -> values.put(name, required(InputRef.parse(ref), context)));
        return new Sides(
                evaluate(limit.low(), values), evaluate(limit.high(), values), evaluate(limit.ideal(), values), source);
    }

    private static @Nullable Double evaluate(@Nullable String formula, Map<String, Double> values) {
        return formula == null ? null : (Double) Formula.parse(formula).evaluate(values);
    }

    private static Sides spread(LimitKind.Spread spread, String source, LimitContext context) {
        Map<String, Double> lanes = context.lanes();
        if (lanes.size() < 2) {
            throw new Missing("a spread needs at least two " + context.laneWord() + "s, and this run has "
                    + (lanes.isEmpty() ? "none" : "one"));
        }
        double[] values =
                lanes.values().stream().mapToDouble(Double::doubleValue).toArray();
        double from =
                switch (spread.from()) {
                    case LOWEST -> java.util.Arrays.stream(values).min().orElseThrow();
                    case HIGHEST -> java.util.Arrays.stream(values).max().orElseThrow();
                    case MEAN -> java.util.Arrays.stream(values).average().orElseThrow();
                };
        Double high =
                spread.abovePercent() == null ? null : (Double) (from + Math.abs(from) * spread.abovePercent() / 100);
        Double low =
                spread.belowPercent() == null ? null : (Double) (from - Math.abs(from) * spread.belowPercent() / 100);
        String word = spread.from().name().toLowerCase(Locale.ROOT) + " " + context.laneWord();
        return new Sides(
                low,
                high,
                from,
                source + ": " + word + " " + figure(from)
                        + (spread.abovePercent() == null ? "" : " + " + figure(spread.abovePercent()) + " %")
                        + (spread.belowPercent() == null ? "" : " - " + figure(spread.belowPercent()) + " %"));
    }

    private static Sides change(LimitKind.Change change, String source, LimitContext context) {
        String word = change.against() == LimitKind.Against.BASELINE ? "baseline" : "last record";
        OptionalDouble found = context.prior(change.against());
        if (found.isEmpty()) {
            throw new Missing("there is no " + word + " to compare with");
        }
        double prior = found.getAsDouble();
        double per = change.in() == LimitKind.ChangeIn.PERCENT ? Math.abs(prior) / 100 : 1;
        Double low = change.low() == null ? null : (Double) (prior + change.low() * per);
        Double high = change.high() == null ? null : (Double) (prior + change.high() * per);
        return new Sides(low, high, prior, source + ": " + word + " " + figure(prior));
    }

    private static double required(InputRef ref, LimitContext context) {
        OptionalDouble value = context.input(ref);
        if (value.isEmpty() || !(Math.abs(value.getAsDouble()) <= Double.MAX_VALUE)) {
            throw new Missing(
                    switch (ref.from()) {
                        case NAMEPLATE -> "the nameplate has no " + ref.name();
                        case PARAM -> "the step has no parameter " + ref.name();
                        case READING -> "there is no reading " + ref.name() + "/" + ref.point();
                        case CURVE -> "no curve is known for this device at this current";
                    });
        }
        return value.getAsDouble();
    }

    private static String words(InputRef ref) {
        return ref.from() == InputRef.From.NAMEPLATE ? ref.name() : ref.toString();
    }

    /** Four digits: for words, never for comparing. */
    private static String figure(double value) {
        if (value == Math.rint(value) && Math.abs(value) < 1e9) {
            return Long.toString((long) value);
        }
        return new java.math.BigDecimal(value)
                .round(new java.math.MathContext(4))
                .stripTrailingZeros()
                .toPlainString();
    }
}
