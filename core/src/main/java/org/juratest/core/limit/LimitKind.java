package org.juratest.core.limit;

import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * The ways a procedure can state a limit. Figures are in the unit of the test point. Named inputs
 * ({@code nameplate:key}, {@code reading:step/point}, {@code param:name}) are described at {@link InputRef}.
 */
public sealed interface LimitKind {

    /** Plain numbers; either side may be open. */
    record Fixed(@Nullable Double low, @Nullable Double high, @Nullable Double ideal) implements LimitKind {}

    /** Open below. */
    record AtMost(double high, @Nullable Double ideal) implements LimitKind {}

    /** Open above. */
    record AtLeast(double low, @Nullable Double ideal) implements LimitKind {}

    /** A nominal with tolerances, both given as positive figures. */
    record Nominal(double nominal, double minus, double plus, ToleranceIn in) implements LimitKind {}

    /** How a tolerance is given. */
    enum ToleranceIn {
        UNIT,
        PERCENT,
        PPM,
        /**
         * A factor of 10^(dB/10) for a power, of 10^(dB/20) for any other quantity (ISO 80000-1:2009, annex C); for
         * values that are levels already, a difference.
         */
        DB
    }

    /**
     * The first row whose keys both fit decides. No row: not judged.
     *
     * @param of input that the first key of a row is set against
     * @param by likewise the second; absent where rows have one key
     */
    record Table(String of, @Nullable String by, List<Row> rows) implements LimitKind {
        public Table {
            rows = List.copyOf(rows);
        }

        public Table(String of, List<Row> rows) {
            this(of, null, rows);
        }
    }

    /**
     * One row of a table. A key is either a number, at or below {@code upTo}, or a word, exactly {@code is}.
     *
     * @param upTo first key, a number
     * @param is first key, a word
     * @param byUpTo second key, a number
     * @param byIs second key, a word
     */
    record Row(
            @Nullable Double upTo,
            @Nullable String is,
            @Nullable Double byUpTo,
            @Nullable String byIs,
            @Nullable Double low,
            @Nullable Double high,
            @Nullable Double ideal) {

        /** A row with one key, a number. */
        public static Row upTo(double most, @Nullable Double low, @Nullable Double high, @Nullable Double ideal) {
            return new Row(most, null, null, null, low, high, ideal);
        }
    }

    /**
     * From a table of the library of standards, as the run was opened with it ({@link LimitTable}).
     *
     * @param group of tables, of which the device's is taken
     * @param where what the cells of a column are set against, by its heading: a named input, or a word as it stands;
     *     of a column that is not named only empty cells fit
     */
    record Standard(String group, Map<String, String> where) implements LimitKind {
        public Standard {
            where = java.util.Collections.unmodifiableMap(new java.util.TreeMap<>(Map.copyOf(where)));
        }
    }

    /**
     * Bounds over another value of the same reading, from the curve of the device.
     *
     * @param part of the curve that is meant, by its id; absent for the whole
     */
    record DeviceCurve(@Nullable String part) implements LimitKind {

        /** The whole curve. */
        public DeviceCurve() {
            this(null);
        }
    }

    /**
     * Bounds over another value, from a table, between its rows as stated and never beyond them.
     *
     * @param of input they run over; {@code with:name} for another value of the same reading
     * @param between how values between two rows are found
     */
    record Along(String of, Between between, List<Place> places) implements LimitKind {
        public Along {
            places = List.copyOf(places);
        }

        /** Whether it runs over another value of the same reading. */
        public boolean runsOverTheReading() {
            return of.startsWith("with:");
        }
    }

    /** One place of a limit along another value. */
    record Place(double at, @Nullable Double low, @Nullable Double high, @Nullable Double ideal) {}

    /** How values between two places are found. */
    enum Between {
        LINEAR,
        /** On two logarithmic axes; all values are above 0. */
        LOG
    }

    /** Formulas over named inputs; an absent side is open. */
    record Formula(@Nullable String low, @Nullable String high, @Nullable String ideal, Map<String, String> inputs)
            implements LimitKind {
        public Formula {
            inputs = Map.copyOf(inputs);
        }
    }

    /** Against the other lanes of the same point in this run. */
    record Spread(From from, @Nullable Double abovePercent, @Nullable Double belowPercent) implements LimitKind {}

    /** What a spread counts from. */
    enum From {
        LOWEST,
        HIGHEST,
        MEAN
    }

    /** Against an earlier record of the same series and lane. Figures are changes; negative is a fall. */
    record Change(Against against, @Nullable Double low, @Nullable Double high, ChangeIn in) implements LimitKind {}

    /** Which earlier record. */
    enum Against {
        BASELINE,
        LAST
    }

    /** How a change is given. */
    enum ChangeIn {
        UNIT,
        PERCENT
    }
}
