package org.juratest.simulators.family.fibre;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.SplittableRandom;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.fleet.Ground;

/** How the fibre links of the valley are. */
final class Links {

    static final String FAMILY = "fibre";

    private static final String CLASS = "fibre-link";
    private static final long OWN_DRAWS = 18;
    /** A fibre is longer than its route by so much: it is stranded. */
    private static final double STRANDED = 1.018;
    /** Slack left in a closure, m. */
    private static final double SLACK = 12;

    /** What a splice loses by now beside what it lost when it was made, dB, and how much more each year. */
    private static final double AGED = 0.062;

    private static final double AGEING = 0.012;

    private Links() {}

    /**
     * A link.
     *
     * @param position where it stands
     * @param fibres how many it has
     * @param length of its fibres, m
     * @param joints in the order of the route
     * @param lit fibres that carry traffic
     * @param dirty ends with dirt on them, as {@code 4} or {@code 4:far}
     * @param badLaunch fibre whose connector does not seat at the near end; 0 for none
     */
    record Link(
            String position,
            int fibres,
            double length,
            List<Joint> joints,
            List<Integer> lit,
            List<String> dirty,
            int badLaunch) {

        /** As it was some years ago, its connectors clean. */
        Link before(double years) {
            return new Link(
                    position,
                    fibres,
                    length,
                    // What one fibre alone has, and does not grow, somebody did this year.
                    joints.stream()
                            .filter(j -> years < 1 || j.only() == 0 || j.ageing() != null)
                            .map(j -> j.before(years))
                            .toList(),
                    lit,
                    List.of(),
                    0);
        }

        /** A fibre that is not like the others, or the second one. */
        int odd() {
            return joints.stream()
                    .mapToInt(Joint::only)
                    .filter(only -> only > 0)
                    .findFirst()
                    .orElse(2);
        }
    }

    /**
     * A splice, connector or bend.
     *
     * @param at m of fibre from the near end
     * @param loss1310 dB, mean of both directions
     * @param loss1550 likewise
     * @param unlike how much more it seems to lose from the near end than it does, dB
     * @param reflectance dB; absent where it does not reflect
     * @param only fibre it is on; 0 for all
     * @param ageing how much more it loses each year, dB; absent for nothing
     */
    record Joint(
            double at,
            double loss1310,
            double loss1550,
            double unlike,
            @Nullable Double reflectance,
            int only,
            @Nullable Double ageing) {

        Joint(double at, double loss1310, double loss1550, double unlike, @Nullable Double reflectance, int only) {
            this(at, loss1310, loss1550, unlike, reflectance, only, null);
        }

        /** As it was some years ago. */
        Joint before(double years) {
            double less = ageing == null ? 0 : ageing * years;
            return new Joint(at, loss1310 - less, loss1550 - less, unlike, reflectance, only, ageing);
        }
    }

    /** What the seed makes of the links that stand somewhere. */
    static List<Link> of(Ground ground) {
        List<Link> links = new ArrayList<>();
        for (Fleet.Device d : ground.devices()) {
            if (d.assetClass().equals(CLASS) && !d.position().isEmpty()) {
                links.add(link(d, links.size(), new SplittableRandom(ground.seed() * 31 + OWN_DRAWS + links.size())));
            }
        }
        return links;
    }

    private static Link link(Fleet.Device device, int n, SplittableRandom random) {
        double route = 1000
                * Double.parseDouble(device.plate().getOrDefault("length", "2").split(" ")[0]);
        int fibres =
                Integer.parseInt(device.plate().getOrDefault("fibres", "12").split(" ")[0]);
        int closures = 0;
        List<Joint> joints = new ArrayList<>();
        for (String line : device.plate().getOrDefault("route", "").split("\n")) {
            String[] place = line.split(";");
            boolean closure = place.length > 1 && place[1].equals("closure");
            if (closure || place.length > 1 && place[1].equals("patch point")) {
                closures++;
                double at = 1000 * Double.parseDouble(place[0]) * STRANDED + SLACK * closures;
                if (closure) {
                    double loss = 0.03 + 0.05 * random.nextDouble();
                    joints.add(new Joint(at, loss, loss, 0.12 * (random.nextDouble() - 0.5), null, 0));
                } else {
                    joints.add(new Joint(at, 0.22, 0.2, 0, -62.0, 0));
                }
            }
        }
        Joint first = joints.get(0);
        // One fibre of the first link is bent too tightly in a tray, of the second a splice has come to its limit.
        if (n == 0) {
            joints.add(new Joint(first.at + 4, 0.02, 0.42, 0, null, 4));
        } else if (n == 1) {
            joints.add(new Joint(first.at + 2, AGED, AGED, 0, null, 7, AGEING));
        }
        joints.sort(Comparator.comparingDouble(Joint::at));
        return new Link(
                device.position(),
                fibres,
                route * STRANDED + SLACK * (closures + 1),
                joints,
                n == 0 ? List.of(3) : List.of(),
                n == 0 ? List.of("5", "6:far") : List.of("2"),
                n == 0 ? 8 : 0);
    }
}
