package org.juratest.core.limit;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.OptionalDouble;
import org.jspecify.annotations.Nullable;
import org.juratest.core.formula.Formula;
import org.juratest.core.formula.FormulaException;
import org.juratest.core.quantity.Unit;
import org.juratest.core.standard.StandardTable;

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
            return nominal(nominal, source, context);
        } else if (kind instanceof LimitKind.Table table) {
            return table(table, source, context);
        } else if (kind instanceof LimitKind.Standard standard) {
            return standard(standard, source, context);
        } else if (kind instanceof LimitKind.DeviceCurve curve) {
            return curve(curve.part(), source, context);
        } else if (kind instanceof LimitKind.Along along) {
            return along(along, source, context);
        } else if (kind instanceof LimitKind.Formula formula) {
            return formula(formula, source, context);
        } else if (kind instanceof LimitKind.Spread spread) {
            return spread(spread, source, context);
        }
        return change((LimitKind.Change) kind, source, context);
    }

    private static Sides nominal(LimitKind.Nominal limit, String source, LimitContext context) {
        double n = limit.nominal();
        return switch (limit.in()) {
            case UNIT -> new Sides(n - limit.minus(), n + limit.plus(), n, source);
            case PERCENT -> relative(n, limit.minus() / 100, limit.plus() / 100, source);
            case PPM -> relative(n, limit.minus() / 1e6, limit.plus() / 1e6, source);
            case DB -> decibels(limit, source, context.unit());
        };
    }

    /** ISO 80000-1:2009, annex C: a level difference of power quantities is 10 lg of their ratio, of others 20 lg. */
    private static Sides decibels(LimitKind.Nominal limit, String source, @Nullable Unit unit) {
        double n = limit.nominal();
        if (unit != null && unit.isLevel()) {
            return new Sides(n - limit.minus(), n + limit.plus(), n, source);
        }
        double per = unit != null && unit.isPower() ? 10 : 20;
        return new Sides(n * Math.pow(10, -limit.minus() / per), n * Math.pow(10, limit.plus() / per), n, source);
    }

    private static Sides relative(double n, double minus, double plus, String source) {
        return new Sides(n - Math.abs(n) * minus, n + Math.abs(n) * plus, n, source);
    }

    private static Sides table(LimitKind.Table table, String source, LimitContext context) {
        Key of = new Key(InputRef.parse(table.of()), context);
        Key by = table.by() == null ? null : new Key(InputRef.parse(table.by()), context);
        for (LimitKind.Row row : table.rows()) {
            if (of.fits(row.upTo(), row.is()) && (by == null || by.fits(row.byUpTo(), row.byIs()))) {
                return new Sides(row.low(), row.high(), row.ideal(), source);
            }
        }
        List<LimitKind.Row> rows = table.rows();
        Double last = rows.isEmpty() ? null : rows.get(rows.size() - 1).upTo();
        throw new Missing(
                by == null && last != null
                        ? of.said() + " is above the last row of the table (" + figure(last)
                                + "); set a limit for this run"
                        : "the table has no row for " + of.said() + (by == null ? "" : " and " + by.said())
                                + "; set a limit for this run");
    }

    private static Sides standard(LimitKind.Standard standard, String source, LimitContext context) {
        StandardTable kept = context.table(standard.group());
        if (kept == null) {
            throw new Missing("no table of standards is meant for this device; set a limit for this run");
        }
        LimitTable table;
        try {
            table = LimitTable.of(kept);
        } catch (StandardTable.FaultException e) {
            throw new Missing("the table \"" + kept.title() + "\" gives no limits: " + e.getMessage());
        }
        List<String> unmatched = table.unmatched(standard.where().keySet());
        if (!unmatched.isEmpty()) {
            throw new Missing("the table \"" + kept.title() + "\" does not go by \"" + unmatched.get(0) + "\"");
        }
        Map<String, String> words = new HashMap<>();
        Map<String, Double> numbers = new HashMap<>();
        List<String> said = new ArrayList<>();
        for (String heading : table.keys()) {
            String of = standard.where().get(heading);
            if (of == null) {
                continue;
            }
            if (LimitTable.isNumber(heading)) {
                double number = required(InputRef.parse(of), context);
                numbers.put(heading, number);
                said.add(LimitTable.quantity(heading) + " " + figure(number));
            } else {
                String word = InputRef.looksLike(of) ? context.words(InputRef.parse(of)) : of;
                if (word == null || word.isBlank()) {
                    InputRef ref = InputRef.parse(of);
                    throw new Missing(
                            ref.from() == InputRef.From.NAMEPLATE
                                    ? "the nameplate has no " + context.title(ref.name())
                                    : "nothing is said of " + ref);
                }
                words.put(heading, word);
                said.add(heading + " " + word);
            }
        }
        LimitTable.Bounds bounds = table.at(words, numbers);
        String place = String.join(", ", said);
        if (bounds == null) {
            throw new Missing(kept.edition() + " has no row for " + place + "; set a limit for this run");
        }
        boolean around = bounds.low() != null && bounds.high() != null && -bounds.low() == bounds.high();
        return new Sides(
                bounds.low(),
                bounds.high(),
                around ? (Double) 0.0 : null,
                kept.edition() + ", " + place + "; " + source);
    }

    /** What a key of a table is set against: a number, or a word where the rows have words. */
    private record Key(InputRef ref, LimitContext context) {

        boolean fits(@Nullable Double upTo, @Nullable String is) {
            return is != null ? is.equals(context.words(ref)) : upTo != null && required(ref, context) <= upTo;
        }

        String said() {
            String word = context.words(ref);
            OptionalDouble number = context.input(ref);
            return words(ref, context) + " of "
                    + (number.isPresent() ? figure(number.getAsDouble()) : "\"" + word + "\"");
        }
    }

    private static Sides curve(@Nullable String part, String source, LimitContext context) {
        Envelope whole = context.envelope();
        if (whole == null) {
            throw new Missing("no curve is known for this device");
        }
        Envelope envelope = part == null ? whole : whole.part(part).orElse(null);
        if (envelope == null) {
            throw new Missing("the curve of this device has no part \"" + part + "\"");
        }
        double place = context.with(envelope.over());
        Envelope.Bounds bounds = envelope.bounds(place);
        if (bounds.unknown() != null) {
            throw new Missing(bounds.unknown());
        }
        String at = figure(place) + " " + envelope.unit().symbol();
        Double low = bounds.low();
        Double high = bounds.high();
        if (low == null && high == null) {
            throw new Missing("at " + at + " no element of the curve operates");
        }
        // The nominal curve runs in the geometric middle of bounds drawn on log axes. Where no lowest value is stated
        // there is no middle.
        Double ideal = low == null || high == null || !(low > 0) ? null : Math.sqrt(low * high);
        return new Sides(low, high, ideal, source + ", " + envelope.source() + ", at " + at);
    }

    private static Sides along(LimitKind.Along along, String source, LimitContext context) {
        InputRef ref = InputRef.parse(along.of());
        double place = ref.from() == InputRef.From.WITH ? context.with(ref.name()) : required(ref, context);
        if (!(Math.abs(place) <= Double.MAX_VALUE)) {
            throw new Missing(words(ref, context) + " was not measured");
        }
        List<LimitKind.Place> places = along.places();
        for (int i = 0; i < places.size(); i++) {
            LimitKind.Place to = places.get(i);
            if (place == to.at()) {
                return new Sides(to.low(), to.high(), to.ideal(), source + ", at " + figure(place));
            }
            if (i > 0 && place < to.at() && place > places.get(i - 1).at()) {
                LimitKind.Place from = places.get(i - 1);
                return new Sides(
                        between(along.between(), from.at(), from.low(), to.at(), to.low(), place),
                        between(along.between(), from.at(), from.high(), to.at(), to.high(), place),
                        between(along.between(), from.at(), from.ideal(), to.at(), to.ideal(), place),
                        source + ", at " + figure(place));
            }
        }
        throw new Missing(words(ref, context) + " of " + figure(place) + " lies outside the table ("
                + figure(places.get(0).at()) + " to "
                + figure(places.get(places.size() - 1).at())
                + "); set a limit for this run");
    }

    private static @Nullable Double between(
            LimitKind.Between how, double x0, @Nullable Double y0, double x1, @Nullable Double y1, double x) {
        if (y0 == null || y1 == null) {
            return null;
        }
        return how == LimitKind.Between.LINEAR
                ? y0 + (y1 - y0) * (x - x0) / (x1 - x0)
                : y0 * Math.pow(y1 / y0, Math.log(x / x0) / Math.log(x1 / x0));
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
                        case NAMEPLATE -> "the nameplate has no " + context.title(ref.name());
                        case PARAM -> "the step has no parameter " + ref.name();
                        case READING -> "there is no reading " + ref.name() + "/" + ref.point();
                        case WITH -> "the reading has no " + ref.name();
                        case LANE -> "no number is known for the " + ref.name();
                        case CONDITION -> "the " + ref.name() + " was not entered";
                        case CURVE -> "no curve is known for this device there";
                    });
        }
        return value.getAsDouble();
    }

    private static String words(InputRef ref, LimitContext context) {
        return switch (ref.from()) {
            case NAMEPLATE -> context.title(ref.name());
            case WITH -> ref.name();
            default -> ref.toString();
        };
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
