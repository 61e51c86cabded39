package org.juratest.formats.family.breakers;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.OptionalDouble;
import org.juratest.core.run.Refusal;
import org.juratest.formats.comtrade.Comtrade;

/** The currents of a record, A, on the primary side. */
final class CurrentChannels {

    private CurrentChannels() {}

    /** A channel of current. */
    record Channel(String name, double[] current) {
        double largest() {
            double most = 0;
            for (double v : current) {
                most = Math.max(most, Math.abs(v));
            }
            return most;
        }
    }

    /** All of them, in the record's order. */
    static List<Channel> of(Comtrade record) {
        List<Channel> found = new ArrayList<>();
        for (int c = 0; c < record.analogs().size(); c++) {
            OptionalDouble amperes = amperes(record.analogs().get(c).unit());
            if (amperes.isPresent()) {
                double[] current = record.primary(c);
                for (int i = 0; i < current.length; i++) {
                    current[i] *= amperes.getAsDouble();
                }
                found.add(new Channel(record.analogs().get(c).name(), current));
            }
        }
        return found;
    }

    private static OptionalDouble amperes(String unit) {
        return switch (unit.strip().toUpperCase(Locale.ROOT)) {
            case "A", "AMP", "AMPS" -> OptionalDouble.of(1);
            case "KA" -> OptionalDouble.of(1000);
            case "MA" -> OptionalDouble.of(0.001);
            default -> OptionalDouble.empty();
        };
    }

    /**
     * The one to analyse: the one that is named, else the largest.
     *
     * @param name empty for any
     * @throws Refusal if there is none
     */
    static Channel chosen(Comtrade record, String name, List<String> warnings) {
        List<Channel> all = of(record);
        if (all.isEmpty()) {
            throw new Refusal("no-current", "the record has no channel in A, kA or mA", "INPUT");
        }
        if (!name.isEmpty()) {
            return all.stream()
                    .filter(c -> c.name.strip().equalsIgnoreCase(name.strip()))
                    .findFirst()
                    .orElseThrow(() -> new Refusal(
                            "bad-option",
                            "the record has no current \"" + name + "\"; it has "
                                    + String.join(
                                            ", ",
                                            all.stream().map(Channel::name).toList()),
                            "channel"));
        }
        Channel largest = all.get(0);
        for (Channel c : all) {
            largest = c.largest() > largest.largest() ? c : largest;
        }
        if (all.size() > 1) {
            warnings.add(
                    "the record has " + all.size() + " currents; the largest is analysed, " + largest.name.strip());
        }
        return largest;
    }
}
