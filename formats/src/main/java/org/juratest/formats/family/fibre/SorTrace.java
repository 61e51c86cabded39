package org.juratest.formats.family.fibre;

import java.util.ArrayList;
import java.util.List;
import org.juratest.core.family.fibre.OtdrTrace;
import org.juratest.formats.sor.SorException;
import org.juratest.formats.sor.SorFile;

/**
 * The trace of a trace file, with positions from the front of the instrument.
 *
 * @param trace of the first pulse width
 * @param warnings of the file, and what was taken for granted
 */
public record SorTrace(OtdrTrace trace, List<String> warnings) {

    /** What is taken for the backscatter at 1 ns where a file says nothing, dB. */
    private static final double USUAL_BACKSCATTER = -80;
    /** The most samples that are analysed one by one. */
    private static final int MOST = 600_000;

    /**
     * Takes the trace out of a file.
     *
     * @throws SorException if it says what no trace can be
     */
    public static SorTrace of(SorFile file) {
        SorFile.Fixed fixed = file.fixed();
        SorFile.Pulse pulse = fixed.pulses().get(0);
        List<String> warnings = new ArrayList<>(file.warnings());
        if (fixed.pulses().size() > 1) {
            warnings.add("the file has " + fixed.pulses().size() + " pulse widths; the first is analysed");
        }
        if (fixed.backscatter() == 0) {
            warnings.add("the file does not say how much the fibre scatters back; -80 dB at 1 ns is taken");
        }
        int wavelength = fixed.wavelength() > 0
                ? fixed.wavelength()
                : file.general().map(SorFile.General::wavelength).orElse(0) * 10;
        double index = fixed.groupIndex() / 1e5;
        if (!(index >= 1 && index <= 2)) {
            throw file.fault(fixed.name(), "the group index is " + index + ", not 1 to 2");
        }
        if (file.data().traces().isEmpty()) {
            throw file.fault(file.data().name(), "it has no samples");
        }
        SorFile.Trace samples = file.data().traces().get(0);
        int there = samples.codes().length;
        boolean alone = fixed.pulses().size() == 1;
        if (alone && pulse.points() != there) {
            warnings.add("the file says that it has " + pulse.points() + " samples; there are " + there);
        }
        int used = alone ? there : (int) Math.min(there, pulse.points());
        int together = Math.max(1, (used + MOST - 1) / MOST);
        if (together > 1) {
            warnings.add("of " + used + " samples " + together + " at a time are taken together");
        }
        double[] level = levels(samples, used, together);
        try {
            OtdrTrace trace = new OtdrTrace(
                    wavelength / 10.0,
                    pulse.width(),
                    fixed.metresOf(fixed.offset()) - fixed.metresOf(fixed.frontPanelOffset()),
                    fixed.metres(pulse) * together,
                    index,
                    fixed.backscatter() == 0 ? USUAL_BACKSCATTER : -fixed.backscatter() / 10.0,
                    level,
                    0);
            return new SorTrace(trace, List.copyOf(warnings));
        } catch (IllegalArgumentException e) {
            String block = level.length < OtdrTrace.LEAST ? file.data().name() : fixed.name();
            throw file.fault(block, String.valueOf(e.getMessage()));
        }
    }

    /** Levels, the mean of so many samples each: a file may have more than an analysis should take memory for. */
    private static double[] levels(SorFile.Trace samples, int used, int together) {
        double[] level = new double[used / together];
        for (int i = 0; i < level.length; i++) {
            double sum = 0;
            for (int k = i * together; k < (i + 1) * together; k++) {
                sum -= samples.below(k);
            }
            level[i] = sum / together;
        }
        return level;
    }

    /** Whether a file says that it was taken from the far end. */
    static boolean isReversed(SorFile file) {
        return file.fixed().traceType().equals("RT");
    }
}
