package org.juratest.core.signal;

import java.util.ArrayList;
import java.util.List;

/** Where in a record a carrier is on: slotted transmissions, a key pressed late. */
final class Bursts {

    /** Time over which power is averaged before it is compared, s. */
    private static final double SMOOTHED = 1e-3;
    /** A carrier is on where the power is above this share (6 dB) of the strongest that lasts. */
    private static final double ON = 0.25;
    /** Left out at each end of a burst, s: there the carrier rises and falls. */
    private static final double EDGE = 0.5e-3;

    private Bursts() {}

    /**
     * Parts of a record, in order, in which the carrier is on for at least a time; the whole record where it is on
     * throughout.
     *
     * @param shortest s
     */
    static List<Iq> of(Iq iq, double shortest) {
        int block = Math.max(1, (int) Math.round(SMOOTHED * iq.rate()));
        int blocks = iq.length() / block;
        if (blocks < 3) {
            return List.of(iq);
        }
        double[] power = new double[blocks];
        for (int b = 0; b < blocks; b++) {
            for (int n = b * block; n < (b + 1) * block; n++) {
                power[b] += iq.re(n) * iq.re(n) + iq.im(n) * iq.im(n);
            }
        }
        double level = ON * lasting(power, Math.max(1, (int) Math.floor(shortest * iq.rate() / block) - 1));
        List<Iq> bursts = new ArrayList<>();
        int begun = -1;
        for (int b = 0; b <= blocks; b++) {
            boolean on = b < blocks && power[b] >= level;
            if (on && begun < 0) {
                begun = b;
            } else if (!on && begun >= 0) {
                add(bursts, iq, begun * block, b == blocks ? iq.length() : b * block, shortest);
                begun = -1;
            }
        }
        return bursts;
    }

    /**
     * The strongest power that holds for a number of blocks in a row, however little of the record that is; a click
     * shorter than that does not count.
     */
    private static double lasting(double[] power, int blocks) {
        double strongest = 0;
        int window = Math.min(blocks, power.length);
        for (int first = 0; first + window <= power.length; first++) {
            double weakest = power[first];
            for (int b = first + 1; b < first + window; b++) {
                weakest = Math.min(weakest, power[b]);
            }
            strongest = Math.max(strongest, weakest);
        }
        return strongest;
    }

    private static void add(List<Iq> bursts, Iq iq, int from, int to, double shortest) {
        int edge = (int) Math.round(EDGE * iq.rate());
        int first = from == 0 ? 0 : from + edge;
        int last = to == iq.length() ? to : to - edge;
        if ((last - first) / iq.rate() >= shortest) {
            bursts.add(iq.part(first, last));
        }
    }
}
