package org.juratest.formats.family.breakers;

import java.util.List;
import org.juratest.core.run.Refusal;
import org.juratest.formats.comtrade.Comtrade;
import org.juratest.formats.comtrade.UnitChannels;

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
        return UnitChannels.of(record, "A").stream()
                .map(c -> new Channel(c.name(), c.values()))
                .toList();
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
