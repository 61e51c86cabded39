package org.juratest.simulators.family.fibre;

import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.scpi.ScpiError;

/** The links as they are by now, and what a lead of a person's hand is plugged into. */
final class LinkBench {

    /** A position, a fibre, whatever else a lane says, and the far end where it is told. */
    private static final Pattern PLACE = Pattern.compile("([^:]+):(\\d+)(?:\\.[^:]*)?(:far)?");

    private final Map<String, Links.Link> links = new HashMap<>();
    private final Set<String> cleaned = new HashSet<>();

    /**
     * The end of a fibre.
     *
     * @param fibre from 1 on
     */
    record End(Links.Link link, int fibre, boolean far) {

        String name() {
            return fibre + (far ? ":far" : "");
        }
    }

    LinkBench(List<Links.Link> all) {
        all.forEach(l -> links.put(l.position(), l));
    }

    /** What a label names, seen from an end; absent where there is no such fibre: an open port. */
    synchronized @Nullable End at(String label, boolean far) {
        End end = at(label);
        return end == null ? null : new End(end.link, end.fibre, far || end.far);
    }

    /** The direction that a command names. */
    static boolean isFar(String word) {
        return switch (word.toUpperCase(Locale.ROOT)) {
            case "FAR" -> true;
            case "NEAR" -> false;
            default -> throw ScpiError.outOfRange("NEAR or FAR");
        };
    }

    /** What a label names; absent where there is no such fibre: an open port. */
    synchronized @Nullable End at(String label) {
        Matcher m = PLACE.matcher(label);
        if (!m.matches()) {
            return null;
        }
        Links.Link link = links.get(m.group(1));
        int fibre = Integer.parseInt(m.group(2));
        return link == null || fibre < 1 || fibre > link.fibres() ? null : new End(link, fibre, m.group(3) != null);
    }

    synchronized boolean isDirty(End end) {
        return end.link().dirty().contains(end.name())
                && !cleaned.contains(end.link().position() + ":" + end.name());
    }

    /** Somebody wipes an end face. */
    synchronized void clean(End end) {
        cleaned.add(end.link().position() + ":" + end.name());
    }

    synchronized boolean hasLight(End end) {
        return end.link().lit().contains(end.fibre());
    }

    /** Whether the connector does not seat. */
    synchronized boolean isLoose(End end) {
        return !end.far() && end.link().badLaunch() == end.fibre();
    }
}
