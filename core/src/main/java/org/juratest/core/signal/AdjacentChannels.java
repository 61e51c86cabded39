package org.juratest.core.signal;

/**
 * Power in the channels on both sides of a carrier, against the carrier's own (as ETSI EN 300 086, 7.4: a power meter
 * of a bandwidth, once on the channel and once beside it).
 *
 * @param lower dB above the carrier, of the channel below: negative
 * @param upper of the channel above
 */
public record AdjacentChannels(double lower, double upper) {

    /** Shortest record, s: a tenth. */
    public static final double SHORTEST = 0.1;

    /**
     * Measures.
     *
     * @param iq the channel's centre at 0 Hz
     * @param spacing Hz from one channel to the next
     * @param bandwidth Hz of the measurement
     * @throws SignalException if the samples cannot be analysed, are silence, or their rate does not hold the channels
     *     beside
     */
    public static AdjacentChannels of(Iq iq, double spacing, double bandwidth) {
        iq.check(SHORTEST);
        if (!(bandwidth > 0 && bandwidth <= 2 * spacing && spacing <= Double.MAX_VALUE)) {
            throw new SignalException(
                    "bad-channel", "channels of " + bandwidth + " Hz, " + spacing + " Hz apart, make no sense");
        }
        if (!(iq.rate() / 2 >= spacing + bandwidth / 2)) {
            throw new SignalException(
                    "rate-too-low",
                    "a sample rate of " + iq.rate() + " Hz does not hold the channel " + spacing + " Hz away");
        }
        if (Samples.silent(iq.meanPower())) {
            throw new SignalException("silence", "digital silence: there is no signal");
        }
        Spectrum spectrum = Spectrum.of(iq);
        double own = spectrum.power(-bandwidth / 2, bandwidth / 2, f -> 1);
        return new AdjacentChannels(
                beside(spectrum, -spacing, bandwidth, own), beside(spectrum, spacing, bandwidth, own));
    }

    private static double beside(Spectrum spectrum, double centre, double bandwidth, double own) {
        return 10 * Math.log10(spectrum.power(centre - bandwidth / 2, centre + bandwidth / 2, f -> 1) / own);
    }

    /** The greater of the two, dB above the carrier. */
    public double greater() {
        return Math.max(lower, upper);
    }

    /**
     * A spectrum to be drawn: columns of equal width about 0 Hz, dB of each column's power against the whole.
     *
     * @param iq at least 8 samples
     * @param to half the span, Hz
     * @param columns number of columns
     * @return two rows: frequency (Hz), dB
     */
    public static double[][] drawn(Iq iq, double to, int columns) {
        Spectrum spectrum = Spectrum.of(iq);
        double whole = Math.max(iq.meanPower(), Double.MIN_NORMAL);
        double[][] rows = new double[2][columns];
        for (int c = 0; c < columns; c++) {
            double from = -to + 2 * to * c / columns;
            double until = -to + 2 * to * (c + 1) / columns;
            rows[0][c] = (from + until) / 2;
            rows[1][c] = 10 * Math.log10(Math.max(spectrum.power(from, until, f -> 1) / whole, 1e-15));
        }
        return rows;
    }
}
