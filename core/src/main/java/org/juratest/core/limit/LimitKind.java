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
        /** Of a root-power quantity: a factor of 10^(dB/20) (ISO 80000-3:2006, root-power quantities). */
        DB
    }

    /** The first row whose {@code upTo} is at or above an input decides. No row: not judged. */
    record Table(String of, List<Row> rows) implements LimitKind {
        public Table {
            rows = List.copyOf(rows);
        }
    }

    /** One row of a class table. */
    record Row(double upTo, @Nullable Double low, @Nullable Double high, @Nullable Double ideal) {}

    /** The time window of the device's time-current band at the measured current. */
    record Band() implements LimitKind {}

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
