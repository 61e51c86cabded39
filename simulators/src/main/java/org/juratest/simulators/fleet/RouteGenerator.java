package org.juratest.simulators.fleet;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;

/** Where the cables of the valley run: along the railway, with a closure every kilometre or less. */
final class RouteGenerator {

    private static final double SPACING_KM = 0.7;
    private static final int MOST_CLOSURES = 9;
    /** How far two sites have to be apart on the railway for what runs between them to pass by a third. */
    private static final double CLEAR_KM = 0.3;

    private RouteGenerator() {}

    private record Line(double km, String text) {}

    /** The route as its plate has it: km, what, name, height, slack, position. */
    static String route(String from, String to, double length, String position) {
        Fleet.Site near = site(from);
        Fleet.Site far = site(to);
        int closures = (int) Math.max(2, Math.min(MOST_CLOSURES, Math.round(length / SPACING_KM)));
        List<Line> lines = new ArrayList<>();
        lines.add(new Line(0, line(0, "end", near.name(), near.altitude(), "", position)));
        for (int c = 1; c <= closures; c++) {
            double km = length * c / (closures + 1);
            boolean middle = c == closures / 2 + 1;
            lines.add(new Line(
                    km,
                    line(
                            km,
                            middle ? "patch point" : "closure",
                            middle ? "Patch point" : "Closure " + (c > closures / 2 ? c - 1 : c),
                            height(near, far, km / length),
                            "12",
                            "")));
        }
        for (Fleet.Site passed : FleetGenerator.SITES) {
            double share = (passed.km() - near.km()) / (far.km() - near.km());
            if (passed.km() > near.km() + CLEAR_KM && passed.km() < far.km() - CLEAR_KM) {
                lines.add(new Line(
                        share * length, line(share * length, "marker", passed.name(), passed.altitude(), "", "")));
            }
        }
        lines.sort(Comparator.comparingDouble(Line::km));
        String other = near == far ? "Signal box" : far.name();
        lines.add(new Line(length, line(length, "end", other, far.altitude(), "", "")));
        return String.join("\n", lines.stream().map(Line::text).toList());
    }

    private static Fleet.Site site(String code) {
        return FleetGenerator.SITES.stream()
                .filter(s -> s.code().equals(code))
                .findFirst()
                .orElseThrow();
    }

    private static double height(Fleet.Site near, Fleet.Site far, double share) {
        double between = 0;
        // Where the line passes other sites it is as high as they are.
        double km = near.km() + share * (far.km() - near.km());
        List<Fleet.Site> sites = FleetGenerator.SITES;
        for (int i = 1; i < sites.size(); i++) {
            Fleet.Site a = sites.get(i - 1);
            Fleet.Site b = sites.get(i);
            if (a.km() <= km && km <= b.km()) {
                between = a.altitude() + (km - a.km()) / (b.km() - a.km()) * (b.altitude() - a.altitude());
            }
        }
        return between;
    }

    private static String line(double km, String what, String name, double height, String slack, String position) {
        return String.format(Locale.ROOT, "%.3f;%s;%s;%.0f;%s;%s", km, what, name, height, slack, position)
                .replaceAll(";+$", "");
    }
}
