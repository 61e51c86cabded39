package org.juratest.formats.comtrade;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** The channels of a record that are of one unit, on the primary side. */
public final class UnitChannels {

    /** What a unit may be written as, and how many of the base unit it is. */
    private static final Map<String, Map<String, Double>> WRITTEN = Map.of(
            "A", Map.of("A", 1.0, "AMP", 1.0, "AMPS", 1.0, "KA", 1000.0, "MA", 0.001),
            "V", Map.of("V", 1.0, "VOLT", 1.0, "VOLTS", 1.0, "KV", 1000.0, "MV", 0.001));

    private UnitChannels() {}

    /**
     * A channel.
     *
     * @param values in the base unit
     */
    public record Channel(String name, String phase, double[] values) {}

    /**
     * All of them, in the record's order.
     *
     * @param unit {@code A} or {@code V}
     */
    public static List<Channel> of(Comtrade record, String unit) {
        Map<String, Double> written = WRITTEN.getOrDefault(unit, Map.of());
        List<Channel> found = new ArrayList<>();
        for (int c = 0; c < record.analogs().size(); c++) {
            Comtrade.Analog analog = record.analogs().get(c);
            Double factor = written.get(analog.unit().strip().toUpperCase(Locale.ROOT));
            if (factor != null) {
                double[] values = record.primary(c);
                for (int i = 0; i < values.length; i++) {
                    values[i] *= factor;
                }
                found.add(new Channel(analog.name(), analog.phase(), values));
            }
        }
        return found;
    }
}
