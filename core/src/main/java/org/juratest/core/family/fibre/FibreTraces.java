package org.juratest.core.family.fibre;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/**
 * Several traces of one fibre: the same event found in each of them, at several wavelengths and from either end. A loss
 * seen from one end is off by half the difference of the two fibres' backscatter; the mean of both directions is not.
 */
public final class FibreTraces {

    /** By how much more a bend loses at the longest wavelength than at the shortest, dB. */
    public static final double BEND = 0.1;

    private static final double POSITION_OFF = 1e-3;

    private FibreTraces() {}

    /**
     * A trace among others.
     *
     * @param reversed whether it was taken from the far end
     */
    public record Taken(OtdrAnalysis analysis, boolean reversed) {

        /** Wavelength, whole nm. */
        int wavelength() {
            return (int) Math.round(analysis.trace().wavelength());
        }

        /** Position from the near end; absent where the trace does not show how long the fibre is. */
        @Nullable
        Double fromNear(double position) {
            Double length = analysis.length();
            return !reversed ? (Double) position : length == null ? null : (Double) (length - position);
        }
    }

    /** What an event is, by all traces together. */
    public enum Kind {
        SPLICE,
        CONNECTOR,
        /** Loses more at longer wavelengths, and reflects nothing. */
        BEND,
        END
    }

    /**
     * Losses of one wavelength, dB.
     *
     * @param forward as seen from the near end; absent where it was not looked at from there
     * @param backward as seen from the far end
     */
    public record Losses(@Nullable Double forward, @Nullable Double backward) {

        /** The mean of both directions: the true loss; absent where there is only one. */
        public @Nullable Double mean() {
            return forward == null || backward == null ? null : (Double) ((forward + backward) / 2);
        }

        /** The mean, or what there is. */
        public @Nullable Double best() {
            return mean() != null ? mean() : forward != null ? forward : backward;
        }
    }

    /**
     * An event of the fibre.
     *
     * @param position from the near end, m
     * @param losses by wavelength, nm; none for the end
     * @param reflectance greatest of all traces, dB; absent where it reflects in none
     */
    public record Matched(double position, Map<Integer, Losses> losses, @Nullable Double reflectance, Kind kind) {}

    private record Seen(Taken taken, OtdrEvent event, double position) {}

    /**
     * Events found in any of some traces of one fibre, by position. Where a trace did not show an event that another
     * did, its loss there is measured all the same.
     *
     * @param bend by how much more a bend loses at the longest wavelength than at the shortest, dB
     */
    public static List<Matched> matched(List<Taken> traces, double bend) {
        List<Seen> all = new ArrayList<>();
        for (Taken t : traces) {
            for (OtdrEvent e : t.analysis.events()) {
                Double position = t.fromNear(e.position());
                if (position != null && e.type() != OtdrEvent.Type.LAUNCH && !(t.reversed && isEnd(e))) {
                    all.add(new Seen(t, e, position));
                }
            }
        }
        all.sort(Comparator.comparingDouble(Seen::position));
        List<Matched> events = new ArrayList<>();
        List<Seen> group = new ArrayList<>();
        for (Seen s : all) {
            if (!group.isEmpty() && !belongs(group, s)) {
                events.add(one(traces, group, bend));
                group.clear();
            }
            group.add(s);
        }
        if (!group.isEmpty()) {
            events.add(one(traces, group, bend));
        }
        return events;
    }

    private static boolean isEnd(OtdrEvent e) {
        return e.type() == OtdrEvent.Type.END;
    }

    /** Whether it is the same place, told no finer than the pulses allow, and not of a trace that is there already. */
    private static boolean belongs(List<Seen> group, Seen s) {
        double tolerance = POSITION_OFF * s.position;
        for (Seen g : group) {
            if (g.taken == s.taken || isEnd(g.event) != isEnd(s.event)) {
                return false;
            }
            tolerance = Math.max(tolerance, tolerance(g.taken.analysis.trace()));
        }
        return s.position - group.get(0).position <= Math.max(tolerance, tolerance(s.taken.analysis.trace()));
    }

    private static double tolerance(OtdrTrace trace) {
        return Math.max(3 * trace.spacing(), trace.pulseLength());
    }

    private static Matched one(List<Taken> traces, List<Seen> group, double bend) {
        Seen finest = group.stream()
                .min(Comparator.comparing((Seen s) -> s.taken.reversed)
                        .thenComparingDouble(s -> tolerance(s.taken.analysis.trace())))
                .orElseThrow();
        Double reflectance = group.stream()
                .map(s -> s.event.reflectance())
                .filter(r -> r != null)
                .max(Comparator.naturalOrder())
                .orElse(null);
        if (isEnd(finest.event)) {
            return new Matched(finest.position, Map.of(), reflectance, Kind.END);
        }
        Map<Integer, Losses> losses = new TreeMap<>();
        for (Taken t : traces) {
            Double loss = group.stream()
                    .filter(s -> s.taken == t)
                    .map(s -> s.event.loss())
                    .findFirst()
                    .orElseGet(() -> lossAt(t, finest.position));
            if (loss != null) {
                losses.merge(
                        t.wavelength(),
                        t.reversed ? new Losses(null, loss) : new Losses(loss, null),
                        (a, b) -> new Losses(
                                a.forward != null ? a.forward : b.forward,
                                a.backward != null ? a.backward : b.backward));
            }
        }
        return new Matched(finest.position, losses, reflectance, kind(losses, reflectance, bend));
    }

    private static Kind kind(Map<Integer, Losses> losses, @Nullable Double reflectance, double bend) {
        if (reflectance != null) {
            return Kind.CONNECTOR;
        }
        List<Losses> byWavelength = new ArrayList<>(losses.values());
        if (byWavelength.size() < 2) {
            return Kind.SPLICE;
        }
        Double shortest = byWavelength.get(0).best();
        Double longest = byWavelength.get(byWavelength.size() - 1).best();
        return shortest != null && longest != null && longest - shortest > bend ? Kind.BEND : Kind.SPLICE;
    }

    /** The loss a trace has at a place where it shows no event. */
    private static @Nullable Double lossAt(Taken t, double fromNear) {
        Double length = t.analysis.length();
        if (t.reversed && length == null) {
            return null;
        }
        return Otdr.lossAt(t.analysis, t.reversed && length != null ? length - fromNear : fromNear);
    }
}
