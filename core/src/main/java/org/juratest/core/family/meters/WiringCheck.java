package org.juratest.core.family.meters;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/**
 * Which wirings of three voltages and three currents fit the phasors that are measured. Every way in which the leads
 * may be exchanged and the currents reversed is tried: one fits where the voltages then turn as first, second, third,
 * and each current then lies where a load of the kind that is assumed draws it, all three alike. Several may fit:
 * phasors alone cannot tell a reversed current from a load of another power factor, so all of them are told, with what
 * they assume.
 */
public final class WiringCheck {

    /** Which way the energy goes. */
    public enum Direction {
        /** Into the load. */
        IMPORT,
        /** Out of it. */
        EXPORT
    }

    /**
     * What is taken for granted of the load.
     *
     * @param leads by how many degrees a current may lead its voltage, 0 to 90
     * @param lags by how many degrees it may lag behind it, 0 to 90
     * @param apart by how many degrees the three may differ from one another
     * @param direction which way the energy goes
     */
    public record Assumed(double leads, double lags, double apart, Direction direction) {

        /** Power factor 0.97 leading to 0.64 lagging, alike within 30 degrees, drawing energy. */
        public static final Assumed USUAL = new Assumed(15, 50, 30, Direction.IMPORT);

        public Assumed {
            if (!(leads >= 0 && leads <= 90 && lags >= 0 && lags <= 90 && apart > 0 && apart <= 180)) {
                throw new IllegalArgumentException("a load leads by 0 to 90 degrees and lags by 0 to 90, not by "
                        + leads + " and " + lags + ", its phases apart by " + apart);
            }
        }

        /** In words: "0.97 leading to 0.64 lagging, drawing energy". */
        public String words() {
            return String.format(
                    Locale.ROOT,
                    "power factor %.2f leading to %.2f lagging, phases alike within %.0f\u00b0, energy %s",
                    Math.cos(Math.toRadians(leads)),
                    Math.cos(Math.toRadians(lags)),
                    apart,
                    direction == Direction.IMPORT ? "drawn" : "delivered");
        }
    }

    /**
     * A wiring that fits.
     *
     * @param voltages which phase, 1 to 3, the voltage on each input is of
     * @param currents likewise of the currents
     * @param reversed which currents are reversed
     * @param angles by how many degrees the current of each phase then lags behind its voltage; NaN where none flows
     * @param faults what is wrong, in words; empty where it is as it should be
     */
    public record Wiring(
            List<Integer> voltages,
            List<Integer> currents,
            List<Boolean> reversed,
            List<Double> angles,
            List<String> faults) {

        public Wiring {
            voltages = List.copyOf(voltages);
            currents = List.copyOf(currents);
            reversed = List.copyOf(reversed);
            angles = List.copyOf(angles);
            faults = List.copyOf(faults);
        }

        /** Whether nothing is to be changed. */
        public boolean right() {
            return faults.isEmpty();
        }

        /** In words. */
        public String name() {
            return right() ? "as it should be" : String.join(", ", faults);
        }
    }

    private static final int[][] ORDERS = {{0, 1, 2}, {1, 2, 0}, {2, 0, 1}, {0, 2, 1}, {2, 1, 0}, {1, 0, 2}};
    /** Of the largest current, below which an input has none. */
    private static final double NO_CURRENT = 0.02;
    /** Degrees by which voltages that turn as they should may lie off their places. */
    private static final double OFF = 25;

    private WiringCheck() {}

    /** Inputs, from 1, without a voltage; what is measured there says nothing. */
    public static List<Integer> missingVoltages(ThreePhase measured) {
        return below(measured.voltages(), ThreePhase.MISSING);
    }

    /** Inputs, from 1, without a current. */
    public static List<Integer> missingCurrents(ThreePhase measured) {
        return below(measured.currents(), NO_CURRENT);
    }

    private static List<Integer> below(List<Phasor> all, double share) {
        double most = all.stream().mapToDouble(Phasor::rms).max().orElse(0);
        List<Integer> found = new ArrayList<>();
        for (int k = 0; k < all.size(); k++) {
            if (!(all.get(k).rms() > share * most)) {
                found.add(k + 1);
            }
        }
        return found;
    }

    /** The wirings that fit, those with least to change first; none where the load is of another kind than assumed. */
    public static List<Wiring> fitting(ThreePhase measured, Assumed assumed) {
        return fitting(measured, assumed, false);
    }

    /**
     * Likewise.
     *
     * @param threeWires whether there is no transformer in the second phase: the currents of the first and the third
     *     may be exchanged with each other alone
     */
    public static List<Wiring> fitting(ThreePhase measured, Assumed assumed, boolean threeWires) {
        List<Integer> noCurrent = missingCurrents(measured);
        // One of each set that differs only in what the phases are called: that with least to change.
        Map<String, Wiring> best = new LinkedHashMap<>();
        for (int[] u : ORDERS) {
            List<Phasor> turned = inPlace(measured.voltages(), u, missingVoltages(measured));
            if (turned.isEmpty()) {
                continue;
            }
            for (int[] i : ORDERS) {
                if (threeWires && i[1] != 1) {
                    continue;
                }
                for (int signs = 0; signs < 8; signs++) {
                    Wiring wiring = fits(measured, u, i, signs, turned, noCurrent, assumed);
                    if (wiring != null) {
                        best.merge(pairing(u, i, signs, noCurrent), wiring, (a, b) -> changes(b) < changes(a) ? b : a);
                    }
                }
            }
        }
        return best.values().stream()
                .sorted(Comparator.comparingInt(WiringCheck::changes))
                .toList();
    }

    /**
     * What stays the same when the phases are called otherwise: which current is beside which voltage, and how it
     * turns.
     */
    private static String pairing(int[] u, int[] i, int signs, List<Integer> noCurrent) {
        StringBuilder words = new StringBuilder();
        for (int k = 0; k < 3; k++) {
            int apart = Math.floorMod(i[k] - u[k], 3);
            words.append(noCurrent.contains(k + 1) ? "-" : apart).append(signs >> k & 1);
        }
        return words.append(Math.floorMod(u[1] - u[0], 3)).toString();
    }

    private static int changes(Wiring w) {
        int count = 0;
        for (int k = 0; k < 3; k++) {
            count += w.voltages.get(k) == k + 1 ? 0 : 1;
            count += w.currents.get(k) == k + 1 ? 0 : 1;
            count += w.reversed.get(k) ? 1 : 0;
        }
        return count;
    }

    /** The voltages phase by phase, a missing one where the others say it would be; empty where they do not turn so. */
    private static List<Phasor> inPlace(List<Phasor> measured, int[] order, List<Integer> missing) {
        Phasor[] phase = new Phasor[3];
        int known = -1;
        for (int k = 0; k < 3; k++) {
            if (!missing.contains(k + 1)) {
                phase[order[k]] = measured.get(k);
                known = order[k];
            }
        }
        if (known < 0) {
            return List.of();
        }
        Phasor first = phase[known];
        for (int j = 0; j < 3; j++) {
            Phasor expected = first.turned(-120.0 * (j - known));
            if (phase[j] == null) {
                phase[j] = expected;
            } else if (Math.abs(phase[j].behind(expected)) > OFF) {
                return List.of();
            }
        }
        return List.of(phase);
    }

    private static Wiring fits(
            ThreePhase measured,
            int[] u,
            int[] i,
            int signs,
            List<Phasor> voltages,
            List<Integer> noCurrent,
            Assumed assumed) {
        Double[] angles = {Double.NaN, Double.NaN, Double.NaN};
        double least = Double.POSITIVE_INFINITY;
        double most = Double.NEGATIVE_INFINITY;
        boolean any = false;
        for (int k = 0; k < 3; k++) {
            boolean reversed = (signs >> k & 1) == 1;
            if (noCurrent.contains(k + 1)) {
                if (reversed) {
                    return null;
                }
                continue;
            }
            Phasor current = measured.currents().get(k).times(reversed ? -1 : 1);
            Phasor drawn = assumed.direction() == Direction.IMPORT ? current : current.times(-1);
            double behind = drawn.behind(voltages.get(i[k]));
            if (behind < -assumed.leads() || behind > assumed.lags()) {
                return null;
            }
            angles[i[k]] = behind;
            least = Math.min(least, behind);
            most = Math.max(most, behind);
            any = true;
        }
        if (!any || most - least > assumed.apart()) {
            return null;
        }
        List<Boolean> turned = List.of((signs & 1) == 1, (signs & 2) == 2, (signs & 4) == 4);
        return new Wiring(oneBased(u), oneBased(i), turned, List.of(angles), faults(u, i, turned));
    }

    private static List<Integer> oneBased(int[] order) {
        return List.of(order[0] + 1, order[1] + 1, order[2] + 1);
    }

    private static List<String> faults(int[] u, int[] i, List<Boolean> reversed) {
        List<String> words = new ArrayList<>();
        exchanged("voltage", u, words);
        exchanged("current", i, words);
        for (int k = 0; k < 3; k++) {
            if (reversed.get(k)) {
                words.add("current " + (k + 1) + " reversed");
            }
        }
        return words;
    }

    private static void exchanged(String what, int[] order, List<String> words) {
        List<Integer> off = new ArrayList<>();
        for (int k = 0; k < 3; k++) {
            if (order[k] != k) {
                off.add(k);
            }
        }
        if (off.size() == 2) {
            words.add(what + "s " + (off.get(0) + 1) + " and " + (off.get(1) + 1) + " exchanged");
        } else if (off.size() == 3) {
            words.add(what + "s moved on: input 1 has phase " + (order[0] + 1) + ", 2 has " + (order[1] + 1)
                    + ", 3 has " + (order[2] + 1));
        }
    }
}
