package org.juratest.core.limit;

import java.math.BigDecimal;
import java.math.MathContext;
import java.math.RoundingMode;
import org.jspecify.annotations.Nullable;
import org.juratest.core.quantity.Near;
import org.juratest.core.quantity.Unit;

/**
 * Figures as people read them. Rounded only to be shown, and never so that a value appears on the other side of a limit
 * than it is: then it gets one more digit, until the shown figure and the shown limit stand to each other as the true
 * ones do.
 */
public final class Figures {

    private static final int USUAL = 3;
    private static final int MOST = 15;

    private Figures() {}

    /**
     * A figure of three digits, or of all before the point where there are more: 0.0123, 4.57, 21.4, 203, 4810. "-" for
     * what is not finite.
     */
    public static String of(double value) {
        return of(value, USUAL);
    }

    static String of(double value, int digits) {
        if (!(Math.abs(value) <= Double.MAX_VALUE)) {
            return "-";
        }
        BigDecimal exact = new BigDecimal(value);
        int whole = Math.max(0, exact.precision() - exact.scale());
        BigDecimal rounded = value == 0
                ? BigDecimal.ZERO
                : exact.round(new MathContext(Math.max(digits, Math.min(whole, MOST)), RoundingMode.HALF_EVEN));
        if (rounded.signum() == 0) {
            return "0";
        }
        // Digits that rounding made certain stay, also where they are zeros: 38.0 is not 38.
        return rounded.setScale(Math.max(0, digits - (rounded.precision() - rounded.scale())), RoundingMode.HALF_EVEN)
                .toPlainString();
    }

    /**
     * A value's figure in its unit, beside its limit, with the sign of a bound before it and a true minus sign: "&gt;
     * 200", "\u22125.0".
     */
    public static String shown(double value, Qualifier qualifier, @Nullable ResolvedLimit limit, @Nullable Unit unit) {
        return sign(qualifier) + of(value, limit, unit).replace('-', '\u2212');
    }

    /** The sign of a bound, with what parts it from its figure; empty for a value. */
    public static String sign(Qualifier qualifier) {
        return switch (qualifier) {
            case EQUAL -> "";
            case LESS -> "< ";
            case AT_MOST -> "\u2264 ";
            case MORE -> "> ";
            case AT_LEAST -> "\u2265 ";
        };
    }

    /** A value's figure beside its limit, with at most one more place than the limit's own. */
    public static String of(double value, @Nullable ResolvedLimit limit) {
        return beside(value, limit, digits(value, limit, USUAL));
    }

    /**
     * A value's figure in its unit, beside its limit. A level in decibels has a tenth, however far from 0 its reference
     * puts it: -120.4 dBm says no more than 0.4 dB does.
     */
    public static String of(double value, @Nullable ResolvedLimit limit, @Nullable Unit unit) {
        // What is counted is counted: 2 faces, not 2.00.
        if (Unit.ONE.equals(unit) && value == Math.rint(value) && Math.abs(value) < 1e15) {
            return String.valueOf((long) value);
        }
        boolean level = unit != null
                && unit.dimension().endsWith("level")
                && Math.abs(value) >= 100
                && Math.abs(value) <= Double.MAX_VALUE;
        return level ? beside(value, limit, digits(value, limit, USUAL + 1)) : of(value, limit);
    }

    private static String beside(double value, @Nullable ResolvedLimit limit, int digits) {
        String figure = of(value, digits);
        int places = limit == null || limit.low() == null && limit.high() == null
                ? Integer.MAX_VALUE
                : Math.max(places(limit.low(), digits), places(limit.high(), digits));
        if (places == Integer.MAX_VALUE || figure.equals("-")) {
            return figure;
        }
        BigDecimal shown = new BigDecimal(figure);
        return shown.scale() > places
                ? shown.setScale(places, RoundingMode.HALF_EVEN).toPlainString()
                : figure;
    }

    private static int places(@Nullable Double side, int digits) {
        if (side == null) {
            return 0;
        }
        // A limit of zero says nothing of how fine a value beside it has to be.
        return side == 0 ? Integer.MAX_VALUE : new BigDecimal(of(side, digits)).scale() + 1;
    }

    /** The allowed span in words, {@code 14.1 to 38.0}, {@code at most 297}, {@code at least 100}; null without one. */
    public static @Nullable String span(@Nullable ResolvedLimit limit, @Nullable Double value) {
        if (limit == null || limit.low() == null && limit.high() == null) {
            return null;
        }
        int digits = value == null ? USUAL : digits(value, limit, USUAL);
        if (limit.low() == null) {
            return "at most " + of(limit.high(), digits);
        }
        return limit.high() == null
                ? "at least " + of(limit.low(), digits)
                : of(limit.low(), digits) + " to " + of(limit.high(), digits);
    }

    private static int digits(double value, @Nullable ResolvedLimit limit, int usual) {
        int digits = usual;
        if (limit != null && Math.abs(value) <= Double.MAX_VALUE) {
            while (digits < MOST
                    && !(tells(value, limit, limit.low(), digits) && tells(value, limit, limit.high(), digits))) {
                digits++;
            }
        }
        return digits;
    }

    private static boolean tells(double value, ResolvedLimit limit, @Nullable Double side, int digits) {
        if (side == null || Near.equal(value, side)) {
            return true;
        }
        int shown = new BigDecimal(beside(value, limit, digits)).compareTo(new BigDecimal(of(side, digits)));
        return Integer.signum(shown) == Double.compare(value, side);
    }
}
