package org.juratest.simulators.family.fibre;

import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.fleet.Ground;

/**
 * What the reflectometer wrote of the valley's links in the years before: two fibres of each, from both ends, at two
 * wavelengths, as files.
 */
final class LinkHistory {

    private static final String PROCEDURE = "FIB-FILES";
    private static final int YEARS = 4;
    /** Links are measured one after the other, days apart. */
    private static final int APART = 9;
    /** After they were built. */
    private static final int SETTLED = 14;

    private static final List<Integer> WAVELENGTHS = List.of(1310, 1550);
    private static final double PULSE = 100;
    private static final double SECONDS = 20;
    /** m between samples. */
    private static final double SPACING = 1;
    /** How far behind the far end a trace goes on, m. */
    private static final double BEHIND = 400;

    private LinkHistory() {}

    /** Tests by asset, oldest first. */
    static Map<String, List<Fleet.PastTest>> of(Ground ground, List<Links.Link> links) {
        Map<String, List<Fleet.PastTest>> past = new TreeMap<>();
        for (int n = 0; n < links.size(); n++) {
            Links.Link link = links.get(n);
            Fleet.Device device = ground.devices().stream()
                    .filter(d -> d.position().equals(link.position()))
                    .findFirst()
                    .orElseThrow();
            LocalDate built =
                    device.stays().get(device.stays().size() - 1).from().plusDays(SETTLED);
            List<Fleet.PastTest> tests = new ArrayList<>();
            for (int year = YEARS; year >= 0; year--) {
                LocalDate day = ground.today().minusYears(year).minusDays(30L + APART * n);
                if (day.isAfter(built)) {
                    tests.add(new Fleet.PastTest(
                            day,
                            n % 2 == 0 ? "tavel" : "brevan",
                            PROCEDURE,
                            Map.of(),
                            List.of(),
                            files(device, link.before(year), day)));
                }
            }
            past.put(device.asset(), tests);
        }
        return past;
    }

    private static List<Fleet.PastFile> files(Fleet.Device device, Links.Link link, LocalDate day) {
        List<Fleet.PastFile> files = new ArrayList<>();
        for (int fibre : List.of(1, link.odd())) {
            for (boolean far : new boolean[] {false, true}) {
                for (int wavelength : WAVELENGTHS) {
                    files.add(file(device, link, day, fibre, far, wavelength));
                }
            }
        }
        return files;
    }

    private static Fleet.PastFile file(
            Fleet.Device device, Links.Link link, LocalDate day, int fibre, boolean far, int wavelength) {
        long number = Objects.hash(link.position(), day, fibre, far, wavelength);
        int points = (int) ((Shot.LEAD + link.length() + BEHIND) / SPACING);
        Shot shot = new Shot(link, fibre, far, false, false, wavelength, PULSE, SPACING, points, SECONDS, number);
        String[] places = device.plate().getOrDefault("route", "").split("\n");
        String first = name(places[0]);
        String last = name(places[places.length - 1]);
        String cable = device.plate().getOrDefault("cable", link.position());
        SavedTrace saved = new SavedTrace(
                cable,
                fibre,
                far ? last : first,
                far ? first : last,
                link.position(),
                day.atTime(LocalTime.of(10, 0)).toEpochSecond(ZoneOffset.UTC) + 60L * fibre,
                shot,
                shot.codes());
        return Fleet.PastFile.of(
                "trace" + wavelength + (far ? "far" : ""),
                String.valueOf(fibre),
                String.format(
                        Locale.ROOT,
                        "%s_%03d_%s_%s_%d.sor",
                        cable,
                        fibre,
                        far ? "B" : "A",
                        far ? "A" : "B",
                        wavelength),
                saved.bytes());
    }

    private static String name(String place) {
        String[] parts = place.split(";");
        return parts.length > 2 ? parts[2] : "";
    }
}
