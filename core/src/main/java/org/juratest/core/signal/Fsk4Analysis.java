package org.juratest.core.signal;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.OptionalDouble;
import java.util.OptionalInt;
import org.jspecify.annotations.Nullable;

/**
 * Four-level frequency keying at 4800 symbols a second: symbol timing, slicer, bit errors against {@link Prbs9},
 * fidelity. Dibits are 01: +3, 00: +1, 10: -1, 11: -3, first bit first (TIA-102.BAAA, 9.3; ETSI TS 102 361-1, 10.2.2).
 *
 * <p>Three ways of shaping are tried, and the one that leaves the least of a symbol in its neighbours is taken: raised
 * cosine, decided as it stands; C4FM, decided after averaging over a symbol; root raised cosine (roll-off 0.2), decided
 * after the same filter once more.
 *
 * <p>A slotted transmission is analysed burst by burst, each with a timing of its own, and errors are added up. Where
 * no burst locks to the sequence there is no error ratio. Silence, and noise without a carrier, give no figures.
 * Samples that are not finite, fewer than {@value #SHORTEST} s, and a rate below {@value #LOWEST_RATE} Hz are refused.
 */
public final class Fsk4Analysis {

    /** Symbols a second. */
    public static final double SYMBOL_RATE = 4800;
    /** Shortest record, s: 96 symbols. */
    public static final double SHORTEST = 0.02;
    /** Lowest sample rate, Hz: three samples a symbol. */
    public static final double LOWEST_RATE = 14_400;
    /** Fidelity of levels that were decided from noise, per cent: above this they say nothing unless bits lock. */
    private static final double NO_LEVELS = 20;

    /** Makes up for demodulation giving the mean between two samples: 1 + (pi f/rate)^2/6, to the second order. */
    private static final Fir FLATTENED = new Fir(new double[] {-1.0 / 24, 1 + 1.0 / 12, -1.0 / 24});

    /** How symbols were shaped, and so are decided. */
    public enum Shaping {
        RAISED_COSINE,
        C4FM,
        ROOT_RAISED_COSINE
    }

    private final List<Symbols> bursts;
    private final List<Prbs9.Lock> locks;
    private final List<String> warnings;

    private Fsk4Analysis(List<Symbols> bursts, List<Prbs9.Lock> locks, List<String> warnings) {
        this.bursts = bursts;
        this.locks = locks;
        this.warnings = List.copyOf(warnings);
    }

    /**
     * Analyses a record.
     *
     * @throws SignalException if it cannot be analysed
     */
    public static Fsk4Analysis of(Iq record) {
        record.check(SHORTEST);
        if (!(record.rate() >= LOWEST_RATE)) {
            throw new SignalException(
                    "rate-too-low",
                    "a sample rate of " + record.rate() + " Hz does not hold 4800 symbols/s; at least " + LOWEST_RATE
                            + " Hz are needed");
        }
        List<String> warnings = new ArrayList<>();
        if (Samples.silent(record.meanPower())) {
            warnings.add("digital silence: there is no signal");
            return new Fsk4Analysis(List.of(), List.of(), warnings);
        }
        List<Iq> parts = Bursts.of(record, SHORTEST);
        if (parts.stream().allMatch(FmAnalysis::noCarrier)) {
            warnings.add("no carrier: the samples are noise");
            return new Fsk4Analysis(List.of(), List.of(), warnings);
        }
        if (parts.size() > 1 || parts.get(0).length() < record.length()) {
            warnings.add("gated to the " + (parts.size() == 1 ? "burst" : parts.size() + " bursts") + " in it");
        }
        List<Symbols> bursts = new ArrayList<>();
        List<Prbs9.Lock> locks = new ArrayList<>();
        for (Iq part : parts) {
            Symbols symbols = symbols(part);
            Prbs9.Lock lock = Prbs9.lock(symbols.bits());
            if (lock != null) {
                symbols = symbols.trained(lock);
                locks.add(lock);
            } else if (Prbs9.lock(symbols.inverted()) != null) {
                warnings.add("the sequence is there upside down: I and Q are exchanged");
            }
            bursts.add(symbols);
        }
        if (locks.isEmpty()) {
            warnings.add(
                    "the bits are not the sequence of ITU-T O.153 with 511 bits, so that errors cannot be counted");
        }
        return new Fsk4Analysis(bursts, locks, warnings);
    }

    private static Symbols symbols(Iq iq) {
        double[] hertz = FLATTENED.held(channel(iq).demodulated());
        List<Symbols> tried = new ArrayList<>();
        for (Shaping shaping : Shaping.values()) {
            tried.add(Symbols.of(filter(shaping, iq.rate()).held(hertz), iq.rate(), shaping));
        }
        return tried.stream().min(Comparator.comparingDouble(Symbols::smeared)).orElseThrow();
    }

    /** The signal about its mean frequency, with the noise outside its channel taken away. */
    private static Iq channel(Iq iq) {
        if (iq.rate() < 30_000) {
            return iq;
        }
        double[] hertz = iq.demodulated();
        double turn = -2 * Math.PI * Samples.mean(hertz) / iq.rate();
        double[] i = new double[iq.length()];
        double[] q = new double[iq.length()];
        for (int n = 0; n < i.length; n++) {
            double cos = Math.cos(turn * n);
            double sin = Math.sin(turn * n);
            i[n] = iq.re(n) * cos - iq.im(n) * sin;
            q[n] = iq.re(n) * sin + iq.im(n) * cos;
        }
        Fir fir = Fir.lowPass(9000, 4000, iq.rate());
        double[] fi = fir.held(i);
        double[] fq = fir.held(q);
        for (int n = 0; n < i.length; n++) {
            double cos = Math.cos(turn * n);
            double sin = Math.sin(turn * n);
            i[n] = fi[n] * cos + fq[n] * sin;
            q[n] = fq[n] * cos - fi[n] * sin;
        }
        return new Iq(i, q, iq.rate());
    }

    private static Fir filter(Shaping shaping, double rate) {
        return switch (shaping) {
            case RAISED_COSINE -> rate < 24_000 ? new Fir(new double[] {1}) : Fir.lowPass(6000, 5000, rate);
            case C4FM -> Fir.average(rate / SYMBOL_RATE);
            case ROOT_RAISED_COSINE -> Fir.rootRaisedCosine(rate / SYMBOL_RATE, 0.2);
        };
    }

    /** What a person should know beside the figures. */
    public List<String> warnings() {
        return warnings;
    }

    /** Bits counted; empty where nothing locked. */
    public OptionalInt bits() {
        return locks.isEmpty()
                ? OptionalInt.empty()
                : OptionalInt.of(locks.stream().mapToInt(Prbs9.Lock::bits).sum());
    }

    /** Wrong ones among them; empty where nothing locked. */
    public OptionalInt errors() {
        return locks.isEmpty()
                ? OptionalInt.empty()
                : OptionalInt.of(locks.stream().mapToInt(Prbs9.Lock::errors).sum());
    }

    /** Bit error ratio, 0 to 1; empty where nothing locked. */
    public OptionalDouble ber() {
        return locks.isEmpty()
                ? OptionalDouble.empty()
                : OptionalDouble.of((double) errors().orElse(0) / bits().orElse(1));
    }

    private boolean levels() {
        return !bursts.isEmpty() && (!locks.isEmpty() || fidelityOf(bursts) <= NO_LEVELS);
    }

    private static double fidelityOf(List<Symbols> bursts) {
        double count = bursts.stream().mapToInt(Symbols::count).sum();
        return Math.sqrt(bursts.stream()
                        .mapToDouble(b -> b.fidelity() * b.fidelity() * b.count())
                        .sum()
                / count);
    }

    private OptionalDouble mean(java.util.function.ToDoubleFunction<Symbols> of) {
        double count = bursts.stream().mapToInt(Symbols::count).sum();
        return levels()
                ? OptionalDouble.of(bursts.stream()
                                .mapToDouble(b -> of.applyAsDouble(b) * b.count())
                                .sum()
                        / count)
                : OptionalDouble.empty();
    }

    /**
     * Deviation of the outer symbols, Hz: nominally 1800 (TIA-102) or 1944 (ETSI TS 102 361); the inner ones stand at a
     * third of it.
     */
    public OptionalDouble symbolDeviation() {
        return mean(b -> 3 * b.level());
    }

    /** Carrier offset, Hz. */
    public OptionalDouble frequencyError() {
        return mean(Symbols::offset);
    }

    /** Root mean square of what symbols miss their levels by, per cent of the levels' own. */
    public OptionalDouble fidelity() {
        return levels() ? OptionalDouble.of(fidelityOf(bursts)) : OptionalDouble.empty();
    }

    /** How much faster than 4800 symbols/s they come, parts per million; from the longest burst. */
    public OptionalDouble symbolRateError() {
        return levels()
                ? bursts.stream()
                        .max(Comparator.comparingInt(Symbols::count))
                        .map(b -> OptionalDouble.of(b.rateError()))
                        .orElse(OptionalDouble.empty())
                : OptionalDouble.empty();
    }

    /** How symbols are shaped; null where there are none. */
    public @Nullable Shaping shaping() {
        return levels() ? bursts.get(0).shaping() : null;
    }

    /** What was decided on, symbol by symbol, Hz about the offset; empty where there are none. */
    public double[] eye() {
        return levels() ? bursts.get(0).centred() : new double[0];
    }
}
