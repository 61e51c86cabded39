package org.juratest.simulators.family.meters;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.family.meters.Installations.Installation;
import org.juratest.simulators.family.meters.Installations.Transformer;
import org.juratest.simulators.fleet.Fleet;
import tools.jackson.core.type.TypeReference;

/** What stands in the valley and is measured there; all gear sees the same. */
public final class Site {

    private final Map<String, Installation> installations = new LinkedHashMap<>();
    private final Map<String, Transformer> alone = new LinkedHashMap<>();

    private final Set<String> shorted = new HashSet<>();

    Site(Fleet fleet) {
        Installations.Truth truth = fleet.truth(Installations.FAMILY, new TypeReference<>() {});
        truth.installations().forEach(i -> installations.put(i.position(), i));
        truth.transformers().forEach(t -> alone.put(t.label(), t));
    }

    private static String position(String label) {
        return label.contains(":") ? label.substring(0, label.indexOf(':')) : label;
    }

    /** The installation of a label such as {@code MFR-MET-02:L1}. */
    synchronized @Nullable Installation installation(String label) {
        return installations.get(position(label));
    }

    /** Index of the phase of a label; -1 where it names none. */
    static int phase(String label) {
        int at = label.lastIndexOf(":L");
        int phase = at < 0 || label.length() != at + 3 ? 0 : label.charAt(at + 2) - '0';
        return phase >= 1 && phase <= 3 ? phase - 1 : -1;
    }

    /** The transformer of a label: one of an installation by its phase, or one by its own position. */
    synchronized @Nullable Transformer transformer(String label) {
        Installation at = installations.get(position(label));
        if (at != null) {
            int phase = phase(label);
            return phase < 0 || at.transformers().isEmpty()
                    ? null
                    : at.transformers().get(phase);
        }
        return alone.get(position(label));
    }

    synchronized void change(String label, Transformer now) {
        Installation at = installations.get(position(label));
        if (at != null && phase(label) >= 0 && !at.transformers().isEmpty()) {
            installations.put(at.position(), at.transformer(phase(label), now));
        } else if (alone.containsKey(position(label))) {
            alone.put(position(label), now);
        } else {
            throw new IllegalArgumentException("there is no transformer " + label);
        }
    }

    synchronized void shorted(String label, boolean now) {
        if (now) {
            shorted.add(label);
        } else {
            shorted.remove(label);
        }
    }

    synchronized boolean isShorted(String label) {
        return shorted.contains(label);
    }

    synchronized void change(Installation now) {
        installations.put(now.position(), now);
    }

    /**
     * Changes something of a meter, its load or its transformers.
     *
     * @throws IllegalArgumentException if there is no such thing
     */
    synchronized void fault(String label, String name, double value) {
        Installation at = installations.get(position(label));
        switch (name) {
            case "full", "light", "inductive", "creep", "starts", "reactive", "dial" ->
                change(known(at, label).meter(known(at, label).meter().with(name, value)));
            case "missing" -> change(known(at, label).missing((int) value));
            case "amperes" -> change(known(at, label).load(List.of(value, value, value), at.lag()));
            case "lag" -> change(known(at, label).load(at.amperes(), value));
            case "drop", "vtLoad" -> {
                int phase = phase(label);
                if (phase < 0 || known(at, label).leads().isEmpty()) {
                    throw new IllegalArgumentException("there is no voltage transformer " + label);
                }
                change(at.lead(phase, at.leads().get(phase).with(name, value)));
            }
            case "ratio", "error", "resistance", "load", "knee", "reversed", "magnetised" -> {
                Transformer transformer = transformer(label);
                if (transformer == null) {
                    throw new IllegalArgumentException("there is no transformer " + label);
                }
                change(label, transformer.with(name, value));
            }
            default -> throw new IllegalArgumentException("a meter has no \"" + name + "\"");
        }
    }

    private static Installation known(@Nullable Installation at, String label) {
        if (at == null) {
            throw new IllegalArgumentException("there is no meter " + label);
        }
        return at;
    }

    synchronized Installations.Truth truth() {
        return new Installations.Truth(new ArrayList<>(installations.values()), new ArrayList<>(alone.values()));
    }
}
