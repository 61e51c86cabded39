package org.juratest.simulators.family.breakers;

import java.util.List;
import java.util.Map;

/** Reclosers of the valley, and how each of their phases behaves. */
final class Reclosers {

    private Reclosers() {}

    /**
     * A recloser.
     *
     * @param control {@code hydraulic} or {@code electronic}
     * @param minimumTrip least current at which it is made to operate, A
     * @param fastDial time dial of its fast operations
     * @param delayedDial of its delayed ones
     * @param fast how many operations are fast, before the delayed ones
     * @param operations to lock-out
     * @param open how long it stays open after each operation but the last, s
     * @param reset how long it takes to forget one operation, s
     */
    record Recloser(
            String position,
            String control,
            double minimumTrip,
            double fastDial,
            double delayedDial,
            int fast,
            int operations,
            List<Double> open,
            double reset,
            Map<String, Phase> phases) {}

    /**
     * A phase, as it is today.
     *
     * @param fastSlowness what its times on the fast curve are multiplied by
     * @param delayedSlowness likewise on the delayed one
     * @param pickUp what the least current is multiplied by
     * @param sticks how much longer its first operation after a rest takes, s
     * @param past share of the current that flows on past the open phase while it is tested
     */
    record Phase(double fastSlowness, double delayedSlowness, double pickUp, double sticks, double past) {}
}
