package org.juratest.core.limit;

/** How a test point's values are spread: decides strips, margins and fits. */
public enum Scale {
    LINEAR,
    LOGARITHMIC;

    /** The coordinate of a value on this scale; NaN for a logarithm that does not exist. */
    public double coordinate(double value) {
        return this == LINEAR ? value : value > 0 ? Math.log10(value) : Double.NaN;
    }

    /** The value of a coordinate. */
    public double value(double coordinate) {
        return this == LINEAR ? coordinate : Math.pow(10, coordinate);
    }
}
