package org.juratest.simulators.family.fibre;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.TreeMap;
import java.util.stream.IntStream;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.fleet.Ground;

/** The multi-fibre cables of the valley: their plates, and how they are. */
final class Cables {

    private static final long OWN_DRAWS = 1900;
    private static final int FIRST_ID = 7101;
    private static final String TEST_PLACE = "PRA-MPC-90";

    private Cables() {}

    /**
     * A cable.
     *
     * @param position where it is
     * @param rows of its connectors
     * @param columns fibres a row
     * @param to at which place of the far connector each fibre comes out, in their order; 0 for one that is broken
     * @param loss of each, dB
     * @param returnLoss of each, dB
     * @param dirty ends with dirt on them, as {@code 4} or {@code 4:far}
     */
    record Cable(
            String position,
            int rows,
            int columns,
            List<Integer> to,
            List<Double> loss,
            List<Double> returnLoss,
            List<String> dirty) {

        int fibres() {
            return rows * columns;
        }
    }

    /** Devices and how they are, in the same order. */
    record All(List<Fleet.Device> devices, List<Cable> cables) {}

    /**
     * One of the valley.
     *
     * @param swapped two fibres that are crossed, 0 for none
     * @param broken fibre that is, 0 for none
     */
    private record Kind(
            String position,
            String site,
            String title,
            String layout,
            String kind,
            String polarity,
            int swapped,
            int broken,
            List<String> dirty) {}

    private static final List<Kind> KINDS = List.of(
            new Kind(
                    "PRA-MPC-01",
                    "PRA",
                    "Trunk to the relay room",
                    "1x12",
                    "single-mode",
                    "B",
                    0,
                    0,
                    List.of("4", "9", "7:far")),
            new Kind("PRA-MPC-02", "PRA", "Trunk to the signal box", "1x12", "single-mode", "A", 3, 0, List.of()),
            new Kind(
                    "ORE-MPC-01", "ORE", "Trunk to the tunnel control", "2x12", "multimode", "A", 0, 17, List.of("11")),
            new Kind(TEST_PLACE, "PRA", "Test place for cables", "1x12", "single-mode", "B", 0, 0, List.of()));

    static All of(Ground ground) {
        List<Fleet.Device> devices = new ArrayList<>();
        List<Cable> cables = new ArrayList<>();
        for (int i = 0; i < KINDS.size(); i++) {
            Kind k = KINDS.get(i);
            LocalDate from = ground.today().minusDays(40L + 120 * i);
            int fibres = fibres(k.layout);
            Map<String, String> plate = new TreeMap<>();
            plate.put("fibres", String.valueOf(fibres));
            plate.put("length", String.valueOf(18 + 14 * i));
            plate.put("kind", k.kind);
            plate.put("connectors", k.kind.equals("multimode") ? "flat" : "angled");
            plate.put("layout", k.layout);
            plate.put("live", "all");
            plate.put("polarity", k.polarity);
            plate.put("insertionLoss", k.kind.equals("multimode") ? "0.6" : "0.75");
            plate.put("returnLoss", k.kind.equals("multimode") ? "20" : "50");
            plate.put("gender", i % 2 == 0 ? "pins at the near end" : "pins at the far end");
            devices.add(new Fleet.Device(
                    "MPC-" + (FIRST_ID + i),
                    k.site,
                    "fibre-cable",
                    "Ulmeric",
                    "MP-" + fibres,
                    "UM-" + (55_200 + 37 * i),
                    plate,
                    k.position,
                    k.title,
                    "",
                    "",
                    List.of(new Fleet.Stay(k.position, from, null)),
                    "",
                    null));
            cables.add(cable(k, new SplittableRandom(ground.seed() * 31 + OWN_DRAWS + i)));
        }
        return new All(devices, cables);
    }

    /** Whether cables are laid there one after the other, to be tested. */
    static boolean isTestPlace(String position) {
        return position.equals(TEST_PLACE);
    }

    /**
     * Another of the box that is tested one after the other: most are sound, every fifth is dirty, every seventh
     * crossed, every ninth has a broken fibre.
     *
     * @param n from 1
     */
    static Cable another(Cable like, int n) {
        SplittableRandom random = new SplittableRandom(OWN_DRAWS * 7919L + n);
        List<Integer> to = new ArrayList<>(like.to);
        if (n % 7 == 4) {
            int other = to.get(5);
            to.set(5, to.get(4));
            to.set(4, other);
        }
        if (n % 9 == 6) {
            to.set(1, 0);
        }
        return new Cable(
                like.position,
                like.rows,
                like.columns,
                to,
                like.loss.stream().map(l -> 0.14 + 0.28 * random.nextDouble()).toList(),
                like.returnLoss.stream()
                        .map(l -> (l > 45 ? 58 : 27) + 8 * random.nextDouble())
                        .toList(),
                n % 5 == 2 ? List.of("3", "8:far") : List.of());
    }

    private static int fibres(String layout) {
        return (layout.charAt(0) - '0') * Integer.parseInt(layout.substring(2));
    }

    private static Cable cable(Kind kind, SplittableRandom random) {
        int fibres = fibres(kind.layout);
        List<Integer> to = new ArrayList<>(IntStream.rangeClosed(1, fibres)
                .map(n -> kind.polarity.equals("B") ? fibres + 1 - n : n)
                .boxed()
                .toList());
        if (kind.swapped > 0) {
            int other = to.get(kind.swapped);
            to.set(kind.swapped, to.get(kind.swapped - 1));
            to.set(kind.swapped - 1, other);
        }
        if (kind.broken > 0) {
            to.set(kind.broken - 1, 0);
        }
        boolean wide = kind.kind.equals("multimode");
        List<Double> loss = new ArrayList<>();
        List<Double> returned = new ArrayList<>();
        for (int n = 0; n < fibres; n++) {
            loss.add(0.14 + 0.28 * random.nextDouble());
            returned.add((wide ? 27 : 58) + 8 * random.nextDouble());
        }
        return new Cable(
                kind.position,
                kind.layout.charAt(0) - '0',
                fibres / (kind.layout.charAt(0) - '0'),
                to,
                loss,
                returned,
                kind.dirty);
    }
}
