package org.juratest.core.family.fibre;

import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * Analyses of the traces that were seen last. The mean of both ways and the bends of a fibre go back to the traces it
 * was measured with, time and again; a trace that is the same sample by sample is analysed once.
 */
final class SeenTraces {

    /** Samples that are held at most over all traces: 32 MB. */
    private static final int MOST_SAMPLES = 4_000_000;
    /** What a trace loses of its positions by being kept as level over distance, as a part of the spacing. */
    private static final double ROUNDING = 1e-6;

    private static final SeenTraces SHARED = new SeenTraces(MOST_SAMPLES);

    private final int mostSamples;
    private final Map<Key, OtdrAnalysis> seen = new LinkedHashMap<>(16, 0.75f, true);
    private int samples;

    /** All but the positions, which differ in their last digits once a trace was kept. */
    private record Key(
            int levels,
            int size,
            double wavelength,
            double pulse,
            double index,
            double backscatter,
            @Nullable Double lead) {}

    /** @param mostSamples that are held over all traces together */
    SeenTraces(int mostSamples) {
        this.mostSamples = mostSamples;
    }

    /** As {@link Otdr#analyse}; what was found before for the same trace, if it is still held. */
    static OtdrAnalysis analysis(OtdrTrace trace, @Nullable Double lead) {
        return SHARED.of(trace, lead);
    }

    OtdrAnalysis of(OtdrTrace trace, @Nullable Double lead) {
        Key key = new Key(
                Arrays.hashCode(trace.level()),
                trace.level().length,
                trace.wavelength(),
                trace.pulse(),
                trace.groupIndex(),
                trace.backscatter(),
                lead);
        OtdrAnalysis before = held(key);
        if (before != null && isSame(before.trace(), trace)) {
            return before;
        }
        OtdrAnalysis found = Otdr.analyse(trace, lead);
        hold(key, found);
        return found;
    }

    private synchronized @Nullable OtdrAnalysis held(Key key) {
        return seen.get(key);
    }

    private synchronized void hold(Key key, OtdrAnalysis found) {
        OtdrAnalysis replaced = seen.put(key, found);
        samples += key.size - (replaced == null ? 0 : key.size);
        var oldest = seen.keySet().iterator();
        while (samples > mostSamples && oldest.hasNext()) {
            samples -= oldest.next().size;
            oldest.remove();
        }
    }

    private static boolean isSame(OtdrTrace a, OtdrTrace b) {
        double last = a.level().length - 1;
        double tolerance = ROUNDING * a.spacing();
        return a.top() == b.top()
                && Math.abs(a.first() - b.first()) <= tolerance
                && Math.abs(a.position(last) - b.position(last)) <= tolerance
                && Arrays.equals(a.level(), b.level());
    }
}
