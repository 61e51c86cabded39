package org.juratest.core.signal;

/** Weights of power by frequency. */
public enum Weighting {

    /** Every frequency counts the same. */
    NONE {
        @Override
        public double power(double hertz) {
            return 1;
        }
    },

    /**
     * Psophometric weighting for telephone circuits (ITU-T O.41 (10/94), Table 1), linear in dB over the logarithm of
     * frequency between its rows; below the first row as there, above the last nothing.
     */
    PSOPHOMETRIC {
        @Override
        public double power(double hertz) {
            return Math.pow(10, decibels(hertz) / 10);
        }
    },

    /** De-emphasis of 750 us: 6 dB per octave above 212 Hz, the receiver's half of phase modulation, 0 dB at 1 kHz. */
    DE_EMPHASIS_750 {
        @Override
        public double power(double hertz) {
            return lowPass(hertz) / lowPass(1000);
        }

        private double lowPass(double hertz) {
            double turned = 2 * Math.PI * hertz * 750e-6;
            return 1 / (1 + turned * turned);
        }
    };

    private static final double[] ROWS = {
        16.66, 50, 100, 200, 300, 400, 500, 600, 700, 800, 900, 1000, 1200, 1400, 1600, 1800, 2000, 2500, 3000, 3500,
        4000, 4500, 5000, 6000
    };
    private static final double[] DECIBELS = {
        -85, -63, -41, -21, -10.6, -6.3, -3.6, -2.0, -0.9, 0, 0.6, 1.0, 0, -0.9, -1.7, -2.4, -3.0, -4.2, -5.6, -8.5,
        -15, -25, -36, -43
    };

    /**
     * Factor of power at a frequency.
     *
     * @param hertz not negative
     */
    public abstract double power(double hertz);

    static double decibels(double hertz) {
        int last = ROWS.length - 1;
        if (!(hertz > ROWS[0])) {
            return DECIBELS[0];
        }
        if (hertz > ROWS[last]) {
            return Double.NEGATIVE_INFINITY;
        }
        int above = 1;
        while (hertz > ROWS[above]) {
            above++;
        }
        double share = Math.log(hertz / ROWS[above - 1]) / Math.log(ROWS[above] / ROWS[above - 1]);
        return DECIBELS[above - 1] + share * (DECIBELS[above] - DECIBELS[above - 1]);
    }
}
