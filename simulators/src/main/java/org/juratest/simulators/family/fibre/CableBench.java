package org.juratest.simulators.family.fibre;

import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** The cables as they are by now, and what the switch of the loss set sends light into. */
final class CableBench {

    private final Map<String, Cables.Cable> cables = new HashMap<>();
    private final Set<String> cleaned = new HashSet<>();
    private final Map<String, Cables.Cable> firsts = new HashMap<>();
    private final Map<String, Integer> laid = new HashMap<>();
    private final Set<String> measured = new HashSet<>();
    private String at = "";
    private int channel = 1;

    CableBench(List<Cables.Cable> all) {
        all.forEach(c -> cables.put(c.position(), c));
        firsts.putAll(cables);
    }

    /** The position that a label names. */
    static String position(String label) {
        int colon = label.indexOf(':');
        return colon < 0 ? label : label.substring(0, colon);
    }

    synchronized Cables.@Nullable Cable at(String label) {
        return cables.get(position(label));
    }

    /** The switch goes to a channel of what is connected. */
    synchronized void light(String label, int of) {
        at = position(label);
        channel = of;
    }

    /** Places at the far connector at which light comes out now. */
    synchronized List<Integer> lit() {
        measured.add(at);
        Cables.Cable cable = cables.get(at);
        int to = cable == null || channel > cable.fibres() ? 0 : cable.to().get(channel - 1);
        return to == 0 ? List.of() : List.of(to);
    }

    /** Light went through what lies there. */
    synchronized void through(String label) {
        measured.add(position(label));
    }

    /** Somebody looks at a near end: at a place for tests, once the last cable was measured, at that of the next. */
    synchronized void looksAtNearEnd(String label) {
        String position = position(label);
        Cables.Cable first = firsts.get(position);
        if (first != null && Cables.isTestPlace(position) && measured.remove(position)) {
            cables.put(position, Cables.another(first, laid.merge(position, 1, Integer::sum)));
            cleaned.removeIf(end -> end.startsWith(position + ":"));
        }
    }

    synchronized boolean isDirty(Cables.Cable cable, int fibre, boolean far) {
        String end = fibre + (far ? ":far" : "");
        return cable.dirty().contains(end) && !cleaned.contains(cable.position() + ":" + end);
    }

    /** Somebody wipes a connector: all of its fibres. */
    synchronized void clean(Cables.Cable cable, boolean far) {
        for (int n = 1; n <= cable.fibres(); n++) {
            cleaned.add(cable.position() + ":" + n + (far ? ":far" : ""));
        }
    }
}
