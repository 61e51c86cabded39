package org.juratest.core.family.fibre;

import java.util.List;

/**
 * What marks an end face may have, zone by zone.
 *
 * @param edition of the standard it is after
 * @param zones from the middle outwards
 */
public record EndFaceTable(String edition, List<Zone> zones) {

    /** As many as there are. */
    public static final int ANY = Integer.MAX_VALUE;

    private static final String IEC_2015 = "IEC 61300-3-35:2015";

    public EndFaceTable {
        zones = List.copyOf(zones);
        double from = 0;
        for (Zone z : zones) {
            if (!(z.from == from && z.to > from)) {
                throw new IllegalArgumentException(
                        "zone " + z.name + " goes from " + z.from + " to " + z.to + " um; it begins at " + from);
            }
            from = z.to;
        }
    }

    /**
     * A ring.
     *
     * @param from inner diameter, um
     * @param to outer diameter, um
     * @param scratches classes by width, narrowest first; wider ones than the last are not allowed
     * @param defects classes by diameter, likewise
     */
    public record Zone(String name, double from, double to, List<Allowed> scratches, List<Allowed> defects) {
        public Zone {
            scratches = List.copyOf(scratches);
            defects = List.copyOf(defects);
        }
    }

    /**
     * So many up to a size.
     *
     * @param size um
     * @param including whether those of just that size belong to it
     * @param most how many
     */
    public record Allowed(double size, boolean including, int most) {

        boolean holds(double found) {
            return including ? found <= size : found < size;
        }
    }

    /** The same as far as a diameter, um: a rectangular ferrule has core and cladding only. */
    public EndFaceTable within(double diameter) {
        return new EndFaceTable(
                edition, zones.stream().filter(z -> z.to <= diameter).toList());
    }

    private static Allowed free(double below, boolean including) {
        return new Allowed(below, including, ANY);
    }

    private static final List<Allowed> ALL = List.of(free(Double.POSITIVE_INFINITY, true));
    private static final List<Allowed> CLADDING = List.of(free(2, false), new Allowed(5, true, 5));
    private static final Zone ADHESIVE = new Zone("C", 115, 135, ALL, ALL);
    private static final Zone CONTACT = new Zone("D", 135, 250, ALL, List.of(free(10, false)));

    /** Single mode, physical contact, high return loss. */
    public static EndFaceTable singleMode() {
        return new EndFaceTable(
                IEC_2015,
                List.of(
                        new Zone("A", 0, 25, List.of(), List.of()),
                        new Zone("B", 25, 115, List.of(free(3, true)), CLADDING),
                        ADHESIVE,
                        CONTACT));
    }

    /** Single mode, angled physical contact. */
    public static EndFaceTable angled() {
        return new EndFaceTable(
                IEC_2015,
                List.of(
                        new Zone("A", 0, 25, List.of(new Allowed(3, true, 4)), List.of()),
                        new Zone("B", 25, 115, ALL, CLADDING),
                        ADHESIVE,
                        CONTACT));
    }

    /** Multimode. */
    public static EndFaceTable multimode() {
        return new EndFaceTable(
                IEC_2015,
                List.of(
                        new Zone("A", 0, 65, List.of(free(3, true)), List.of(new Allowed(5, true, 4))),
                        new Zone("B", 65, 115, List.of(free(5, true)), CLADDING),
                        ADHESIVE,
                        CONTACT));
    }
}
