package org.juratest.simulators.family.fibre;

import java.util.stream.Collectors;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.scpi.Harmless;

/** A detector with a place for each fibre of the far connector of what the loss set sends light into. */
final class PolarityDetector extends Harmless {

    PolarityDetector(String serial, CableBench bench, StandInLog log) {
        super("polarity-unit", "Orbessa,PD-32," + serial + ",1.2", log);
        commands().query("READ:LIT", () -> {
            String lit = bench.lit().stream().map(String::valueOf).collect(Collectors.joining(","));
            return lit.isEmpty() ? "0" : lit;
        });
    }
}
