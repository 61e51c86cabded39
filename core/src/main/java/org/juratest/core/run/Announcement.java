package org.juratest.core.run;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Collections;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.juratest.core.quantity.Quantity;

/**
 * What an armed step will do. What runs is what was announced: it is kept with the arming, built again when the step is
 * started, and the method works through ports that let nothing else through.
 *
 * @param method name of the method
 * @param what voltage or current, for how long, where, in words
 * @param hazard whether it takes a held press
 * @param settings what will be set, by name, for people
 * @param bounds what may be set; several of one name must all hold
 * @param outputs roles of ports that may be switched on, by the simple name of their interface
 * @param longest how long an output may be on without a break, s in the gear's time
 * @param gear what is claimed for it: ids, what measures first
 */
public record Announcement(
        String step,
        String lane,
        String method,
        String what,
        boolean hazard,
        Map<String, Quantity> settings,
        List<Bound> bounds,
        List<String> outputs,
        double longest,
        List<String> gear) {

    public Announcement {
        settings = Collections.unmodifiableMap(new TreeMap<>(settings));
        bounds = List.copyOf(bounds);
        outputs = outputs.stream().sorted().toList();
        gear = List.copyOf(gear);
        if (!(longest > 0 && longest <= 7 * 86_400)) {
            throw new IllegalArgumentException("an output is on for some time up to a week, not for " + longest + " s");
        }
    }

    /** SHA-256 of all it says, lower-case hex: two announcements that differ in anything differ in it. */
    public String digest() {
        try {
            return HexFormat.of()
                    .formatHex(MessageDigest.getInstance("SHA-256")
                            .digest(toString().getBytes(StandardCharsets.UTF_8)));
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every Java has SHA-256", e);
        }
    }

    /** The bounds of a set-point; none where nothing was announced under its name. */
    public List<Bound> boundsOf(String setPoint) {
        return bounds.stream().filter(b -> b.setPoint().equals(setPoint)).toList();
    }

    /**
     * Bounds of a set-point.
     *
     * @param setPoint name of the set-point
     * @param allowed where a value may lie: in any of them
     * @param unit UCUM code of the base unit the spans are in
     * @param source where the bound comes from, in words
     */
    public record Bound(String setPoint, List<Span> allowed, String unit, String source) {
        /** Below any level there is. */
        private static final double LOWEST = -1e6;

        public Bound {
            allowed = List.copyOf(allowed);
        }

        /** Up to a greatest value, both ways. */
        public static Bound upTo(String setPoint, double greatest, String unit, String source) {
            return new Bound(setPoint, List.of(new Span(-Math.abs(greatest), greatest)), unit, source);
        }

        /** Up to a greatest value on a scale without a zero, such as a level. */
        public static Bound below(String setPoint, double greatest, String unit, String source) {
            return new Bound(setPoint, List.of(new Span(Math.min(LOWEST, greatest), greatest)), unit, source);
        }

        /** Exactly some values, within a billionth: no more than rounding. */
        public static Bound at(String setPoint, List<Double> values, String unit, String source) {
            return new Bound(
                    setPoint,
                    values.stream()
                            .map(v -> new Span(v - Math.abs(v) * 1e-9, v + Math.abs(v) * 1e-9))
                            .toList(),
                    unit,
                    source);
        }

        /** Whether a value lies in one of the spans; NaN never does. */
        public boolean allows(double value) {
            return allowed.stream().anyMatch(s -> value >= s.low && value <= s.high);
        }
    }

    /** From a value to another, both included. */
    public record Span(double low, double high) {
        public Span {
            if (!(low <= high)) {
                throw new IllegalArgumentException("a span goes up, not from " + low + " to " + high);
            }
        }
    }
}
