package org.juratest.core.curve;

import java.util.Optional;
import java.util.OptionalDouble;

/**
 * Inverse-time characteristics by formula.
 *
 * <p>IEC 60255-151:2009, the formula of the dependent-time characteristic: t = TMS * (k / (M^a - 1) + c). IEEE
 * C37.112-2018, the trip characteristic: t = TD * (A / (M^p - 1) + B), and its reset characteristic t = TD * tr / (1 -
 * M^2) for 0 &lt;= M &lt; 1. M is the multiple of the pick-up current. There is no trip time for M &lt;= 1 and no reset
 * time for M &gt;= 1.
 */
public enum InverseTimeCurve {
    IEC_SI("iec-si", "IEC 60255-151 standard inverse", 0.14, 0.02, 0, Double.NaN),
    IEC_VI("iec-vi", "IEC 60255-151 very inverse", 13.5, 1, 0, Double.NaN),
    IEC_EI("iec-ei", "IEC 60255-151 extremely inverse", 80, 2, 0, Double.NaN),
    /** Common practice; not in the table of IEC 60255-151. */
    LTI("lti", "long-time inverse (common practice, not in IEC 60255-151)", 120, 1, 0, Double.NaN),
    IEEE_MI("ieee-mi", "IEEE C37.112 moderately inverse", 0.0515, 0.02, 0.1140, 4.85),
    IEEE_VI("ieee-vi", "IEEE C37.112 very inverse", 19.61, 2, 0.491, 21.6),
    IEEE_EI("ieee-ei", "IEEE C37.112 extremely inverse", 28.2, 2, 0.1217, 29.1);

    private final String id;
    private final String title;
    private final double numerator;
    private final double exponent;
    private final double constant;
    private final double reset;

    InverseTimeCurve(String id, String title, double numerator, double exponent, double constant, double reset) {
        this.id = id;
        this.title = title;
        this.numerator = numerator;
        this.exponent = exponent;
        this.constant = constant;
        this.reset = reset;
    }

    /** The name used in files, such as {@code iec-si}. */
    public String id() {
        return id;
    }

    /** The standard and the curve's name in it. */
    public String title() {
        return title;
    }

    /** The curve of a name used in files; empty if there is none. */
    public static Optional<InverseTimeCurve> byId(String id) {
        for (InverseTimeCurve curve : values()) {
            if (curve.id.equals(id)) {
                return Optional.of(curve);
            }
        }
        return Optional.empty();
    }

    /**
     * Operating time, s.
     *
     * @param timeSetting time multiplier setting (IEC) or time dial (IEEE); finite, positive
     * @param multiple M, current over pick-up; finite, not negative
     * @return empty for M &lt;= 1, and where the time is too long for a double
     * @throws IllegalArgumentException outside those ranges, or NaN
     */
    public OptionalDouble tripTime(double timeSetting, double multiple) {
        check(timeSetting, multiple);
        if (multiple <= 1) {
            return OptionalDouble.empty();
        }
        // expm1 keeps M^a - 1 exact where M is just above 1.
        double seconds = timeSetting * (numerator / Math.expm1(exponent * Math.log(multiple)) + constant);
        return seconds <= Double.MAX_VALUE ? OptionalDouble.of(seconds) : OptionalDouble.empty();
    }

    /**
     * Reset time after a full operation, s.
     *
     * @return empty for M &gt;= 1, and for the curves whose standard gives none
     * @throws IllegalArgumentException as {@link #tripTime}
     */
    public OptionalDouble resetTime(double timeSetting, double multiple) {
        check(timeSetting, multiple);
        if (multiple >= 1 || Double.isNaN(reset)) {
            return OptionalDouble.empty();
        }
        return OptionalDouble.of(timeSetting * reset / (1 - multiple * multiple));
    }

    private static void check(double timeSetting, double multiple) {
        if (!(timeSetting > 0 && timeSetting <= Double.MAX_VALUE)) {
            throw new IllegalArgumentException("timeSetting must be finite and above 0, not " + timeSetting);
        }
        if (!(multiple >= 0 && multiple <= Double.MAX_VALUE)) {
            throw new IllegalArgumentException("multiple must be finite and not negative, not " + multiple);
        }
    }
}
