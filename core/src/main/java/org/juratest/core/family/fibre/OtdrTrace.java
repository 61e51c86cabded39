package org.juratest.core.family.fibre;

/**
 * A trace of backscatter as a reflectometer shows it: five times the decimal logarithm of the power that comes back, so
 * that a fibre's loss one way is what the trace falls.
 *
 * @param wavelength nm
 * @param pulse width, ns
 * @param first position of the first sample from the front of the instrument, m
 * @param spacing of samples along the fibre, m
 * @param groupIndex of the fibre, 1 to 2
 * @param backscatter level of the backscatter of a pulse of 1 ns below that pulse, dB, negative (about -80)
 * @param level dB upwards, at least {@value #LEAST} samples, not copied
 * @param top level that the receiver cannot show more than, dB
 */
public record OtdrTrace(
        double wavelength,
        double pulse,
        double first,
        double spacing,
        double groupIndex,
        double backscatter,
        double[] level,
        double top) {

    /** Samples below which there is nothing to analyse. */
    public static final int LEAST = 64;
    /** Speed of light in vacuum, m/s (exact, SI). */
    public static final double LIGHT = 299_792_458;

    /** @throws IllegalArgumentException naming the value that is out of its range */
    public OtdrTrace {
        within("wavelength", wavelength, 300, 3000, "nm");
        within("pulse width", pulse, 0.01, 1e6, "ns");
        within("position of the first sample", first, -1e6, 1e6, "m");
        within("spacing of samples", spacing, 1e-4, 1e4, "m");
        within("group index", groupIndex, 1, 2, "");
        within("backscatter at 1 ns", backscatter, -150, -20, "dB");
        if (level.length < LEAST) {
            throw new IllegalArgumentException(
                    "a trace of " + level.length + " samples has nothing to analyse, " + LEAST + " are needed");
        }
        for (int i = 0; i < level.length; i++) {
            if (!(Math.abs(level[i]) < 1000)) {
                throw new IllegalArgumentException("sample " + i + " is " + level[i] + " dB");
            }
        }
    }

    private static void within(String what, double value, double low, double high, String unit) {
        if (!(value >= low && value <= high)) {
            throw new IllegalArgumentException(
                    "the " + what + " is " + value + " " + unit + ", not " + low + " to " + high);
        }
    }

    /** How long a reflection of the pulse is on the trace, m: half the length of the pulse in the fibre. */
    public double pulseLength() {
        return pulse * 1e-9 * LIGHT / (2 * groupIndex);
    }

    /** The same in samples, at least 1. */
    int pulseSamples() {
        return (int) Math.max(1, Math.min(level.length / 8.0, Math.round(pulseLength() / spacing)));
    }

    /** Position of a sample from the front of the instrument, m. */
    public double position(double sample) {
        return first + sample * spacing;
    }
}
