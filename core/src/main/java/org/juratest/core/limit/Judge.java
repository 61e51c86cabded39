package org.juratest.core.limit;

import java.math.BigDecimal;
import java.math.MathContext;
import java.util.Locale;
import java.util.OptionalDouble;
import org.jspecify.annotations.Nullable;
import org.juratest.core.quantity.Near;

/**
 * Sets a value against a resolved limit. Equality with a limit is inside ({@link Near}). NaN, infinity, a missing limit
 * and a bound that does not decide are <em>not judged</em>, never a pass.
 */
public final class Judge {

    private Judge() {}

    /**
     * Judges one value.
     *
     * @param value in the unit of the limit
     * @param uncertainty expanded uncertainty U in the same unit; absent where unknown
     * @param rule used unless the limit states its own
     */
    public static Judgement judge(
            double value,
            Qualifier qualifier,
            @Nullable Double uncertainty,
            ResolvedLimit limit,
            DecisionRule rule,
            Scale scale) {
        if (limit.unresolved() != null) {
            return Judgement.notJudged(limit.unresolved());
        }
        if (!(Math.abs(value) <= Double.MAX_VALUE)) {
            return Judgement.notJudged("no value");
        }
        DecisionRule used = limit.rule() != null ? limit.rule() : rule;
        double guard = 0;
        if (used == DecisionRule.GUARDED) {
            if (uncertainty == null || !(uncertainty >= 0 && uncertainty <= Double.MAX_VALUE)) {
                return Judgement.notJudged("the guarded rule needs the uncertainty of the reading");
            }
            guard = uncertainty;
        }
        OptionalDouble margin = Margin.used(value, limit, scale);
        Double marginUsed = margin.isPresent() ? margin.getAsDouble() : null;
        Zone zone = new Zone(limit, guard);
        Verdict verdict = qualifier == Qualifier.EQUAL ? zone.verdict(value) : zone.verdictOfBound(value, qualifier);
        String why = null;
        if (verdict == Verdict.NOT_JUDGED) {
            why = "\"" + qualifier.sign() + " " + plain(value) + "\" does not decide against this limit";
        } else if (zone.noPassPossible()) {
            why = "the limits are closer together than twice the uncertainty, so that no reading can pass";
        } else if (!verdict.passes()) {
            why = deviation(value, qualifier, limit);
        }
        return new Judgement(verdict, marginUsed, why, tooCoarse(uncertainty, limit));
    }

    /** How far outside a value is and how bad that is; null where the limit does not tell, or is 0. */
    private static @Nullable String deviation(double value, Qualifier qualifier, ResolvedLimit limit) {
        Double severe = limit.severeBeyond();
        Double side = limit.high() != null && value > limit.high() ? limit.high() : limit.low();
        if (severe == null || side == null || side == 0) {
            return null;
        }
        double beyond = 100 * Math.abs(value - side) / Math.abs(side);
        return String.format(
                Locale.ROOT,
                "%s%s\u2006%% beyond its limit, a %s deviation",
                qualifier == Qualifier.EQUAL ? "" : "at least ",
                percent(beyond),
                beyond > severe ? "severe" : "minor");
    }

    /** Three digits and never an exponent: it is read by people. */
    private static String percent(double value) {
        return value < 999.5 || Double.isInfinite(value)
                ? String.format(Locale.ROOT, "%.3g", value)
                : String.format(Locale.ROOT, "%.0f", new BigDecimal(value).round(new MathContext(3)));
    }

    private static String plain(double value) {
        return value == Math.rint(value) && Math.abs(value) < 1e15
                ? Long.toString((long) value)
                : Double.toString(value);
    }

    private static boolean tooCoarse(@Nullable Double uncertainty, ResolvedLimit limit) {
        if (uncertainty == null || limit.ideal() == null) {
            return false;
        }
        double ideal = limit.ideal();
        double toLow = limit.low() == null ? Double.POSITIVE_INFINITY : ideal - limit.low();
        double toHigh = limit.high() == null ? Double.POSITIVE_INFINITY : limit.high() - ideal;
        double nearest = Math.min(toLow, toHigh);
        return nearest > 0 && uncertainty > nearest / 3;
    }

    /** The limit with its guard band (0 under the simple rule). */
    private record Zone(ResolvedLimit limit, double guard) {

        Verdict verdict(double v) {
            return below(v).worse(above(v));
        }

        /** Verdict of the low side alone. */
        private Verdict below(double v) {
            Double low = limit.low();
            if (low == null) {
                return Verdict.PASS;
            }
            if (!Near.atLeast(v, low)) {
                return guard > 0 && Near.atLeast(v, low - guard) ? Verdict.MARGINAL_OUTSIDE : Verdict.FAIL;
            }
            boolean inside = Near.atLeast(v, low + guard)
                    && (limit.marginalLow() == null || Near.atLeast(v, limit.marginalLow()));
            return inside ? Verdict.PASS : Verdict.MARGINAL_INSIDE;
        }

        private Verdict above(double v) {
            Double high = limit.high();
            if (high == null) {
                return Verdict.PASS;
            }
            if (!Near.atMost(v, high)) {
                return guard > 0 && Near.atMost(v, high + guard) ? Verdict.MARGINAL_OUTSIDE : Verdict.FAIL;
            }
            boolean inside = Near.atMost(v, high - guard)
                    && (limit.marginalHigh() == null || Near.atMost(v, limit.marginalHigh()));
            return inside ? Verdict.PASS : Verdict.MARGINAL_INSIDE;
        }

        /**
         * The true value is only known to lie to one side of v. It decides if every value there is outside, or if none
         * is: then the verdict is that of v itself, the worst of them.
         */
        Verdict verdictOfBound(double v, Qualifier qualifier) {
            boolean lowerBound = qualifier.isLowerBound();
            Double ahead = lowerBound ? limit.high() : limit.low();
            if (ahead == null) {
                Verdict atBound = lowerBound ? below(v) : above(v);
                return atBound.passes() ? atBound : Verdict.NOT_JUDGED;
            }
            double beyond = lowerBound ? ahead + guard : ahead - guard;
            boolean strict = qualifier == Qualifier.MORE || qualifier == Qualifier.LESS;
            boolean reached = lowerBound ? Near.atLeast(v, beyond) : Near.atMost(v, beyond);
            boolean allOutside = reached && (strict || !Near.equal(v, beyond));
            return allOutside ? Verdict.FAIL : Verdict.NOT_JUDGED;
        }

        boolean noPassPossible() {
            return guard > 0
                    && limit.low() != null
                    && limit.high() != null
                    && !Near.atLeast(limit.high() - limit.low(), 2 * guard);
        }
    }
}
