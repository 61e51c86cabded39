package org.juratest.core.family.radios;

import java.util.List;
import java.util.Locale;
import org.juratest.core.run.Refusal;

/**
 * Distress and calling frequencies (ITU Radio Regulations, Appendix 15): nothing here keys a transmitter on them, not
 * even into a load.
 */
public final class Distress {

    /** Half a channel on both sides, Hz. */
    private static final double AROUND = 12_500;

    private record Guarded(double from, double to, String name) {}

    private static final List<Guarded> ALL = List.of(
            at(2_182_000, 3000, "2182 kHz, distress and calling"),
                    at(2_187_500, 3000, "2187.5 kHz, digital selective calling"),
            at(4_207_500, 3000, "4207.5 kHz, digital selective calling"),
                    at(6_312_000, 3000, "6312 kHz, digital selective calling"),
            at(8_414_500, 3000, "8414.5 kHz, digital selective calling"),
                    at(12_577_000, 3000, "12577 kHz, digital selective calling"),
            at(16_804_500, 3000, "16804.5 kHz, digital selective calling"),
                    at(121_500_000, AROUND, "121.5 MHz, aeronautical emergency"),
            at(156_525_000, AROUND, "156.525 MHz, digital selective calling"),
                    at(156_800_000, AROUND, "156.8 MHz, distress and calling"),
            at(243_000_000, AROUND, "243 MHz, emergency"), new Guarded(406e6, 406.1e6, "406 MHz, distress beacons"));

    private Distress() {}

    private static Guarded at(double hertz, double around, String name) {
        return new Guarded(hertz - around, hertz + around, name);
    }

    /**
     * Refuses what must not be keyed.
     *
     * @param hertz carrier
     * @throws Refusal if it is one of them, or no frequency
     */
    public static void check(double hertz) {
        if (!(hertz > 0 && hertz <= 1e11)) {
            throw new Refusal(
                    "bad-frequency", "A transmitter cannot be keyed on " + hertz + " Hz.", "params.frequency");
        }
        ALL.stream().filter(g -> hertz >= g.from && hertz <= g.to).findFirst().ifPresent(g -> {
            throw new Refusal(
                    "distress-frequency",
                    String.format(
                            Locale.ROOT,
                            "%.6g MHz lies on %s. No transmitter is keyed there, not even into a load. Choose "
                                    + "another test frequency.",
                            hertz / 1e6,
                            g.name),
                    "params.frequency");
        });
    }
}
