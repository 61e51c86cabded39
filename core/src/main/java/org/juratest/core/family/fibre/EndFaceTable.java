package org.juratest.core.family.fibre;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.juratest.core.standard.StandardTable;

/**
 * What marks an end face may have, zone by zone.
 *
 * @param edition of the standard it is after
 * @param zones from the middle outwards
 */
public record EndFaceTable(String edition, List<Zone> zones) {

    /** As many as there are. */
    public static final int ANY = Integer.MAX_VALUE;

    /** Of tables of standards that tell what marks an end face may have. */
    public static final String GROUP = "endFaces";

    private static final String FROM = "from um";
    private static final String TO = "to um";
    private static final String SIZE = "size um";
    private static final List<String> COLUMNS = List.of("zone", FROM, TO, "mark", SIZE, "bound", "most");
    private static final String SCRATCH = "scratch";
    private static final String DEFECT = "defect";
    private static final String UP_TO = "up to";
    private static final String BELOW = "below";
    private static final String ANY_WORD = "any";
    /** um; no picture shows more of a ferrule. */
    private static final double WIDEST = 1000;

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

    /** The tables that ship, as tables of standards. */
    public static List<StandardTable> shipped() {
        return List.of(
                singleMode().told("iec-61300-3-35-2015-sm", "single mode, flat", Map.of()),
                angled().told(
                                "iec-61300-3-35-2015-apc",
                                "single mode, angled",
                                Map.of("kind", "single-mode", "connectors", "angled")),
                multimode().told("iec-61300-3-35-2015-mm", "multimode", Map.of("kind", "multimode")));
    }

    private StandardTable told(String id, String title, Map<String, String> when) {
        List<List<String>> rows = new ArrayList<>();
        for (Zone z : zones) {
            row(rows, z, SCRATCH, z.scratches);
            row(rows, z, DEFECT, z.defects);
        }
        return new StandardTable(GROUP, id, title, edition, when, COLUMNS, rows);
    }

    private static void row(List<List<String>> rows, Zone z, String mark, List<Allowed> classes) {
        List<Allowed> told = classes.isEmpty() ? List.of(new Allowed(0, true, 0)) : classes;
        for (Allowed a : told) {
            rows.add(List.of(
                    z.name,
                    plain(z.from),
                    plain(z.to),
                    mark,
                    Double.isInfinite(a.size) ? ANY_WORD : plain(a.size),
                    a.including ? UP_TO : BELOW,
                    a.most == ANY ? ANY_WORD : String.valueOf(a.most)));
        }
    }

    private static String plain(double um) {
        return um == Math.rint(um) ? String.valueOf((long) um) : String.valueOf(um);
    }

    /**
     * What a table of a standard says: a row for each zone, kind of mark and size, with how many there may be; sizes of
     * a kind ascend. Size 0 with 0 marks: none at all.
     *
     * @throws StandardTable.FaultException naming the cell at fault
     */
    public static EndFaceTable of(StandardTable table) {
        if (!table.columns().equals(COLUMNS)) {
            throw new StandardTable.FaultException(
                    "columns", "The columns are " + String.join(", ", COLUMNS) + ", in this order.");
        }
        if (table.rows().isEmpty()) {
            throw new StandardTable.FaultException("rows", "Give at least the zone in the middle.");
        }
        Map<String, List<Integer>> byZone = new LinkedHashMap<>();
        for (int r = 0; r < table.rows().size(); r++) {
            String name = table.cell(r, "zone");
            if (name.isEmpty() || name.length() > 12) {
                throw table.fault(r, "zone", "give the zone a name of at most 12 letters");
            }
            byZone.computeIfAbsent(name, z -> new ArrayList<>()).add(r);
        }
        List<Zone> zones = new ArrayList<>();
        double from = 0;
        for (Map.Entry<String, List<Integer>> e : byZone.entrySet()) {
            int first = e.getValue().get(0);
            double to = table.number(first, TO, from, WIDEST);
            for (int r : e.getValue()) {
                if (table.number(r, FROM, 0, WIDEST) != from) {
                    throw table.fault(r, FROM, "zone " + e.getKey() + " begins at " + plain(from) + " um");
                }
                if (table.number(r, TO, 0, WIDEST) != to || to == from) {
                    throw table.fault(
                            r,
                            TO,
                            to == from
                                    ? "zone " + e.getKey() + " has to end beyond " + plain(from) + " um"
                                    : "zone " + e.getKey() + " ends at " + plain(to) + " um in another row");
                }
            }
            zones.add(new Zone(
                    e.getKey(), from, to, classes(table, e.getValue(), SCRATCH), classes(table, e.getValue(), DEFECT)));
            from = to;
        }
        return new EndFaceTable(table.edition(), zones);
    }

    private static List<Allowed> classes(StandardTable table, List<Integer> rows, String mark) {
        List<Allowed> classes = new ArrayList<>();
        double last = -1;
        for (int r : rows) {
            String what = table.cell(r, "mark");
            if (!what.equals(SCRATCH) && !what.equals(DEFECT)) {
                throw table.fault(r, "mark", "is " + SCRATCH + " or " + DEFECT);
            }
            if (what.equals(mark)) {
                double size = table.cell(r, SIZE).equals(ANY_WORD)
                        ? Double.POSITIVE_INFINITY
                        : table.number(r, SIZE, 0, WIDEST);
                if (size <= last) {
                    throw table.fault(r, SIZE, "sizes of " + mark + "s of a zone ascend");
                }
                last = size;
                String bound = table.cell(r, "bound");
                if (!bound.equals(UP_TO) && !bound.equals(BELOW)) {
                    throw table.fault(r, "bound", "is \"" + UP_TO + "\" or \"" + BELOW + "\"");
                }
                int most = table.cell(r, "most").equals(ANY_WORD) ? ANY : whole(table, r);
                if (size > 0) {
                    classes.add(new Allowed(size, bound.equals(UP_TO), most));
                } else if (most != 0) {
                    throw table.fault(r, "most", "of marks without a size there are 0: none at all");
                }
            }
        }
        if (last < 0) {
            throw table.fault(rows.get(0), "mark", "say what " + mark + "s this zone may have; size 0, most 0: none");
        }
        return classes;
    }

    private static int whole(StandardTable table, int row) {
        double most = table.number(row, "most", 0, 10_000);
        if (most != Math.rint(most)) {
            throw table.fault(row, "most", "is a whole number, or \"" + ANY_WORD + "\"");
        }
        return (int) most;
    }
}
