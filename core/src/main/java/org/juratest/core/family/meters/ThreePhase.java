package org.juratest.core.family.meters;

import java.util.ArrayList;
import java.util.List;
import org.juratest.core.signal.SignalException;

/**
 * The quantities of three phases, from samples of three voltages to neutral and three currents taken together (IEEE
 * 1459-2010, 3.1.2 and 3.2.3). The frequency is found from the voltages; everything is computed over the whole cycles
 * there are, so that neither a part of a cycle nor a frequency beside the nominal one tells in it.
 *
 * @param frequency of the fundamental, Hz
 * @param cycles over which it was computed
 * @param phases three
 * @param voltages fundamentals, turned so that the first that is there lies at 0 degrees
 * @param currents likewise
 */
public record ThreePhase(
        double frequency, int cycles, List<PhaseQuantities> phases, List<Phasor> voltages, List<Phasor> currents) {

    /** How the voltages follow each other. */
    public enum Rotation {
        /** First, second, third. */
        POSITIVE,
        NEGATIVE,
        /** A voltage is missing, or they do not turn. */
        UNKNOWN
    }

    /** Least number of whole cycles. */
    private static final int LEAST_CYCLES = 2;

    private static final double LOWEST = 40;
    private static final double HIGHEST = 70;
    /** Of the largest voltage, below which a voltage is missing. */
    static final double MISSING = 0.3;
    /** Of the largest current, below which none flows. */
    private static final double NOTHING = 1e-4;

    public ThreePhase {
        phases = List.copyOf(phases);
        voltages = List.copyOf(voltages);
        currents = List.copyOf(currents);
    }

    /**
     * Computes them.
     *
     * @param perSecond samples a second
     * @param voltage three series, V, of one length
     * @param current three series, A, of that length
     * @throws SignalException if there are not three of each, the samples are too few or not finite, no voltage is
     *     there, or its frequency lies outside 40 to 70 Hz
     */
    public static ThreePhase of(double perSecond, double[][] voltage, double[][] current) {
        int n = checked(perSecond, voltage, current);
        int reference = largest(voltage);
        double frequency = frequency(voltage[reference], perSecond);
        int cycles = (int) Math.floor(n / perSecond * frequency + 1e-6);
        if (cycles < LEAST_CYCLES) {
            throw new SignalException(
                    "too-short",
                    "the samples hold " + cycles + " whole cycles; at least " + LEAST_CYCLES + " are needed");
        }
        double used = cycles / frequency * perSecond;
        List<Phasor> u = new ArrayList<>();
        List<Phasor> i = new ArrayList<>();
        for (int k = 0; k < 3; k++) {
            u.add(fundamental(voltage[k], perSecond, frequency, used));
            i.add(fundamental(current[k], perSecond, frequency, used));
        }
        double most = u.stream().mapToDouble(Phasor::rms).max().orElseThrow();
        double turn = u.stream()
                .filter(p -> p.rms() > MISSING * most)
                .findFirst()
                .orElseThrow()
                .degrees();
        double mostCurrent = i.stream().mapToDouble(Phasor::rms).max().orElseThrow();
        List<PhaseQuantities> phases = new ArrayList<>();
        List<Phasor> turnedU = u.stream().map(p -> p.turned(-turn)).toList();
        List<Phasor> turnedI = i.stream().map(p -> p.turned(-turn)).toList();
        for (int k = 0; k < 3; k++) {
            phases.add(phase(voltage[k], current[k], used, turnedU.get(k), turnedI.get(k), NOTHING * mostCurrent));
        }
        return new ThreePhase(frequency, cycles, phases, turnedU, turnedI);
    }

    /**
     * Three voltages to neutral and three currents of a supply with three wires, from what is measured against its
     * second wire and in its first and third: without a neutral the voltages to the middle add up to nothing, and so do
     * the currents.
     *
     * @param voltage V of the first and the third wire against the second, in places 0 and 2
     * @param current A in the first and the third wire, in places 0 and 2
     * @return voltage and current, three series each
     */
    public static double[][][] ofThreeWires(double[][] voltage, double[][] current) {
        if (voltage.length != 3 || current.length != 3) {
            throw new SignalException(
                    "bad-samples",
                    "three voltages and three currents, not " + voltage.length + " and " + current.length);
        }
        int n = Math.min(voltage[0].length, voltage[2].length);
        int m = Math.min(current[0].length, current[2].length);
        double[][] u = new double[3][n];
        for (int k = 0; k < n; k++) {
            u[1][k] = -(voltage[0][k] + voltage[2][k]) / 3;
            u[0][k] = voltage[0][k] + u[1][k];
            u[2][k] = voltage[2][k] + u[1][k];
        }
        double[][] i = {current[0], new double[m], current[2]};
        for (int k = 0; k < m; k++) {
            i[1][k] = -(current[0][k] + current[2][k]);
        }
        return new double[][][] {u, i};
    }

    private static int checked(double perSecond, double[][] voltage, double[][] current) {
        if (voltage.length != 3 || current.length != 3) {
            throw new SignalException(
                    "bad-samples",
                    "three voltages and three currents, not " + voltage.length + " and " + current.length);
        }
        if (!(perSecond > 2 * HIGHEST) || !(perSecond <= 1e9)) {
            throw new SignalException(
                    "bad-samples", "a rate of " + perSecond + " samples a second cannot show a cycle");
        }
        int n = voltage[0].length;
        for (double[][] three : List.of(voltage, current)) {
            for (double[] one : three) {
                if (one.length != n) {
                    throw new SignalException(
                            "bad-samples", "the series have " + n + " and " + one.length + " samples");
                }
                for (int k = 0; k < n; k++) {
                    if (!(Math.abs(one[k]) <= Double.MAX_VALUE)) {
                        throw new SignalException("bad-samples", "sample " + (k + 1) + " is not finite");
                    }
                }
            }
        }
        if (n < LEAST_CYCLES * perSecond / HIGHEST) {
            throw new SignalException("too-short", n + " samples hold no two cycles");
        }
        return n;
    }

    private static int largest(double[][] voltage) {
        int best = 0;
        double most = 0;
        for (int k = 0; k < 3; k++) {
            double square = 0;
            for (double v : voltage[k]) {
                square += v * v;
            }
            if (square > most) {
                most = square;
                best = k;
            }
        }
        if (most == 0) {
            throw new SignalException("no-voltage", "there is no voltage");
        }
        return best;
    }

    /**
     * Of the fundamental, by how far its phase turns between two windows of a Hann-weighted Fourier sum: harmonics fall
     * out of it, and it needs no crossing of zero. Twice, the second time at the frequency found.
     */
    private static double frequency(double[] x, double perSecond) {
        double seen = coarse(x, perSecond);
        for (int pass = 0; pass < 3; pass++) {
            int half = (int)
                    Math.min(x.length / 2, Math.round(Math.floor(x.length / 2 * seen / perSecond) / seen * perSecond));
            if (half < perSecond / seen) {
                break;
            }
            Phasor first = hann(x, 0, half, perSecond, seen);
            Phasor second = hann(x, x.length - half, half, perSecond, seen);
            double turned = Math.IEEEremainder(second.degrees() - first.degrees(), 360);
            seen += turned / 360 * perSecond / (x.length - half);
        }
        if (!(seen >= LOWEST && seen <= HIGHEST)) {
            throw new SignalException(
                    "no-frequency",
                    String.format(java.util.Locale.ROOT, "the voltage has %.3g Hz; 40 to 70 Hz are known", seen));
        }
        return seen;
    }

    /** The strongest of the frequencies that a few steps apart lie in what is known. */
    private static double coarse(double[] x, double perSecond) {
        double best = 50;
        double most = -1;
        double step = Math.min(1, 0.25 * perSecond / x.length);
        // Some thousand samples tell it as well as all of them.
        int stride = Math.max(1, Math.min(x.length / 1000, (int) (perSecond / 4000)));
        double[] some = new double[x.length / stride];
        for (int k = 0; k < some.length; k++) {
            some[k] = x[k * stride];
        }
        for (double f = LOWEST - 2; f <= HIGHEST + 2; f += step) {
            double size = hann(some, 0, some.length, perSecond / stride, f).rms();
            if (size > most) {
                most = size;
                best = f;
            }
        }
        return best;
    }

    private static Phasor hann(double[] x, int from, int count, double perSecond, double frequency) {
        double re = 0;
        double im = 0;
        for (int k = 0; k < count; k++) {
            double w = 0.5 - 0.5 * Math.cos(2 * Math.PI * (k + 0.5) / count);
            double a = 2 * Math.PI * frequency * (from + k) / perSecond;
            re += w * x[from + k] * Math.cos(a);
            im -= w * x[from + k] * Math.sin(a);
        }
        // Against the first sample of the record: the two windows are compared in one time.
        return new Phasor(re, im);
    }

    /** Of the whole cycles; the last sample counts for the part of it that lies in them. */
    private static Phasor fundamental(double[] x, double perSecond, double frequency, double used) {
        double re = 0;
        double im = 0;
        int last = (int) Math.floor(used);
        for (int k = 0; k <= last && k < x.length; k++) {
            double w = k < last ? 1 : used - last;
            double a = 2 * Math.PI * frequency * k / perSecond;
            re += w * x[k] * Math.cos(a);
            im -= w * x[k] * Math.sin(a);
        }
        return new Phasor(re, im).times(Math.sqrt(2) / used);
    }

    private static double mean(double[] a, double[] b, double used) {
        double sum = 0;
        int last = (int) Math.floor(used);
        for (int k = 0; k <= last && k < a.length; k++) {
            sum += (k < last ? 1 : used - last) * a[k] * b[k];
        }
        return sum / used;
    }

    private static double mean(double[] a, double used) {
        double sum = 0;
        int last = (int) Math.floor(used);
        for (int k = 0; k <= last && k < a.length; k++) {
            sum += (k < last ? 1 : used - last) * a[k];
        }
        return sum / used;
    }

    private static PhaseQuantities phase(
            double[] voltage, double[] current, double used, Phasor u, Phasor i, double nothing) {
        double rmsU = Math.sqrt(mean(voltage, voltage, used));
        double rmsI = Math.sqrt(mean(current, current, used));
        boolean flows = i.rms() > nothing && i.rms() > 0;
        double active = mean(voltage, current, used);
        double apparent = rmsU * rmsI;
        double behind = Math.toRadians(i.behind(u));
        double reactive = flows ? u.rms() * i.rms() * Math.sin(behind) : 0;
        double rest = apparent * apparent - active * active - reactive * reactive;
        return new PhaseQuantities(
                rmsU,
                u.degrees(),
                rmsI,
                flows ? i.degrees() : Double.NaN,
                active,
                reactive,
                apparent,
                Math.sqrt(Math.max(0, rest)),
                apparent > 0 ? active / apparent : Double.NaN,
                flows && u.rms() > 0 ? Math.cos(behind) : Double.NaN,
                thd(rmsU, mean(voltage, used), u.rms()),
                flows ? thd(rmsI, mean(current, used), i.rms()) : Double.NaN);
    }

    private static double thd(double rms, double direct, double fundamental) {
        return fundamental > 0
                ? Math.sqrt(Math.max(0, rms * rms - direct * direct - fundamental * fundamental)) / fundamental
                : Double.NaN;
    }

    /** P of all three, W. */
    public double active() {
        return phases.stream().mapToDouble(PhaseQuantities::active).sum();
    }

    /** Q1 of all three, var. */
    public double reactive() {
        return phases.stream().mapToDouble(PhaseQuantities::reactive).sum();
    }

    /** Arithmetic apparent power, VA (IEEE 1459-2010, 3.2.2.5). */
    public double apparent() {
        return phases.stream().mapToDouble(PhaseQuantities::apparent).sum();
    }

    /** How the voltages follow each other, from their symmetrical components. */
    public Rotation rotation() {
        double most = voltages.stream().mapToDouble(Phasor::rms).max().orElseThrow();
        if (voltages.stream().anyMatch(v -> v.rms() < MISSING * most)) {
            return Rotation.UNKNOWN;
        }
        Symmetrical s = Symmetrical.of(voltages);
        double larger = Math.max(s.positive().rms(), s.negative().rms());
        double smaller = Math.min(s.positive().rms(), s.negative().rms());
        return smaller > 0.5 * larger
                ? Rotation.UNKNOWN
                : s.positive().rms() > s.negative().rms() ? Rotation.POSITIVE : Rotation.NEGATIVE;
    }

    /**
     * Symmetrical components of three phasors.
     *
     * @param zero what is alike in all
     * @param positive what turns as first, second, third
     * @param negative what turns the other way
     */
    public record Symmetrical(Phasor zero, Phasor positive, Phasor negative) {

        /** With a = 1 at 120 degrees: (x + a y + a^2 z) / 3 and so on. */
        public static Symmetrical of(List<Phasor> three) {
            Phasor x = three.get(0);
            Phasor y = three.get(1);
            Phasor z = three.get(2);
            return new Symmetrical(
                    x.plus(y).plus(z).times(1 / 3.0),
                    x.plus(y.turned(120)).plus(z.turned(240)).times(1 / 3.0),
                    x.plus(y.turned(240)).plus(z.turned(120)).times(1 / 3.0));
        }
    }
}
