package org.juratest.simulators.family.radios;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.fleet.Fleet;

/**
 * The radios of the valley, and which of them is connected: by the label an operator would set, unless the lead says
 * otherwise.
 */
public final class RadioBench {

    private final Map<String, SimulatedRadio> radios = new HashMap<>();
    private final Map<String, String> leads = new HashMap<>();
    private final Map<String, Boolean> open = new HashMap<>();
    private SimulatedRadio.@Nullable Arriving wanted;
    private SimulatedRadio.@Nullable Arriving other;

    public RadioBench(Fleet fleet) {
        Radios.of(fleet).forEach(r -> radios.put(r.position(), new SimulatedRadio(r)));
    }

    private static String bare(String label) {
        int colon = label.indexOf(':');
        return colon < 0 ? label : label.substring(0, colon);
    }

    /** The radio that a label leads to; null for nothing. */
    synchronized @Nullable SimulatedRadio at(String label) {
        String position = bare(label);
        return radios.get(leads.getOrDefault(position, position));
    }

    /** Whether its antenna lead is off. */
    synchronized boolean isOpen(String label) {
        return open.getOrDefault(bare(label), false);
    }

    /** Leads go to another radio than the label says; the same one again mends that. */
    public synchronized void lead(String label, String truth) {
        known(label);
        known(truth);
        leads.put(label, truth);
    }

    public synchronized void antennaOff(String label, boolean off) {
        known(label);
        open.put(label, off);
    }

    /**
     * A fault: {@code drift} (ppm), {@code power.LANE} (dB), {@code deviation.LANE} (factor), {@code noise.LANE}
     * (factor), {@code deaf.LANE} (dB), {@code sound.LANE} (share), {@code battery} (0 to 1).
     */
    public synchronized void fault(String label, String name, double value) {
        if (!name.matches("drift|battery|(power|deviation|noise|deaf|sound)\\.(vhf|uhf)")) {
            throw new IllegalArgumentException("there is no fault \"" + name + "\"");
        }
        known(label).fault(name, value);
    }

    private SimulatedRadio known(String label) {
        SimulatedRadio radio = radios.get(label);
        if (radio == null) {
            throw new IllegalArgumentException("there is no radio \"" + label + "\"");
        }
        return radio;
    }

    /** The radios as they are by now: what was aligned stays so. */
    public synchronized List<Radios.Radio> truths(List<Radios.Radio> before) {
        return before.stream().map(r -> known(r.position()).truth()).toList();
    }

    synchronized void wanted(SimulatedRadio.@Nullable Arriving signal) {
        wanted = signal;
    }

    synchronized void other(SimulatedRadio.@Nullable Arriving signal) {
        other = signal;
    }

    synchronized SimulatedRadio.@Nullable Arriving wanted() {
        return wanted;
    }

    synchronized SimulatedRadio.@Nullable Arriving other() {
        return other;
    }
}
