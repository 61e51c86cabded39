package org.juratest.core.uncertainty;

/**
 * What a gear's data sheet states for one quantity: +-(per cent of reading + per cent of range + floor).
 *
 * @param percentOfReading per cent, not negative
 * @param percentOfRange per cent, not negative
 * @param floor in the unit of the quantity, not negative
 * @param stated how the figure is to be read
 */
public record AccuracySpec(double percentOfReading, double percentOfRange, double floor, Stated stated) {

    /** How a data sheet's figure is meant. */
    public enum Stated {
        /** Limits of error, every value inside equally likely (JCGM 100, 4.3.7): u = a / sqrt(3). */
        RECTANGULAR,
        /** An expanded uncertainty with k = 2: u = a / 2. */
        EXPANDED_K2
    }

    public AccuracySpec {
        if (!(percentOfReading >= 0 && percentOfRange >= 0 && floor >= 0)
                || !(percentOfReading + percentOfRange + floor <= Double.MAX_VALUE)) {
            throw new IllegalArgumentException("accuracy figures must be finite and not negative");
        }
    }

    /** Standard uncertainty at a reading on a range, both in the unit of the quantity. */
    public double standardAt(double reading, double range) {
        double half = percentOfReading / 100 * Math.abs(reading) + percentOfRange / 100 * Math.abs(range) + floor;
        return switch (stated) {
            case RECTANGULAR -> half / Math.sqrt(3);
            case EXPANDED_K2 -> half / 2;
        };
    }
}
