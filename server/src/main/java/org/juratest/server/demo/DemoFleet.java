package org.juratest.server.demo;

import java.time.LocalDate;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.juratest.core.correction.PathLoss;
import org.juratest.core.correction.RfPath;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.trace.Trace;
import org.juratest.core.uncertainty.AccuracySpec;

/**
 * The parts of the fleet's truth, as the stand-ins write it, that become demo data.
 *
 * @param zone time zone of its sites; absent in a fleet that an earlier version wrote
 * @param past tests of devices, by asset, oldest first; the first is the acceptance test
 * @param drifts of devices whose past follows from their plans: by asset, then by {@code step/point/lane}: what it read
 *     when new, how it moves a year, spread of a reading
 */
record DemoFleet(
        LocalDate today,
        ZoneId zone,
        List<Site> sites,
        List<Person> people,
        List<Gear> gear,
        List<Device> devices,
        Map<String, List<PastTest>> past,
        Map<String, Map<String, List<Double>>> drifts) {

    DemoFleet {
        zone = zone == null ? ZoneId.of("CET") : zone;
    }

    record Site(String code, String name, double km, int altitude) {}

    record Person(String id, String name, String role, String password) {}

    record Gear(
            String id,
            String name,
            String role,
            String maker,
            String model,
            String serial,
            String host,
            int port,
            LocalDate calibratedOn,
            LocalDate calibratedTo,
            String certificate,
            Map<String, AccuracySpec> accuracy,
            @Nullable Path path,
            @Nullable Map<String, Double> range,
            @Nullable String driver) {}

    /** A lead with its attenuator: greatest power in W, pairs of MHz and dB, standard uncertainty in dB. */
    record Path(double greatest, List<List<Double>> points, @Nullable Double u) {
        RfPath path() {
            return new RfPath(
                    new PathLoss(points.stream()
                            .map(p -> new PathLoss.LossPoint(p.get(0), p.get(1)))
                            .toList()),
                    greatest,
                    u);
        }
    }

    /** A device: its plate as it would be typed, where it stands and stood; empty texts where there is nothing. */
    record Device(
            String asset,
            String site,
            String assetClass,
            String maker,
            String model,
            String serial,
            Map<String, String> plate,
            String position,
            String title,
            String partOf,
            String part,
            List<Stay> stays,
            String retired,
            @Nullable String curve) {}

    record Stay(String position, LocalDate from, @Nullable LocalDate to) {}

    /**
     * A test in the past.
     *
     * @param conditions of the measurement, by name
     * @param readings in the order they were taken
     * @param values of other points, by {@code step/point/lane}, or by the point alone
     * @param files that brought it in; empty for what was measured on the spot
     */
    record PastTest(
            LocalDate day,
            String person,
            String procedure,
            Map<String, Quantity> conditions,
            List<PastReading> readings,
            Map<String, Double> values,
            @Nullable List<PastFile> files) {

        PastTest {
            files = files == null ? List.of() : files;
        }

        /** Whether it came as files, beside what was measured on the spot. */
        boolean isBrought() {
            return files != null && !files.isEmpty();
        }
    }

    /** A file that gear wrote, of a step on a lane. */
    record PastFile(String step, String lane, String name, byte[] bytes) {}

    /**
     * One reading.
     *
     * @param facts what its method needs to know beside the value, in base units
     * @param seconds how long it took
     * @param repaired what was done to the device before it; empty if nothing
     */
    record PastReading(
            String step,
            String lane,
            String point,
            double value,
            Unit unit,
            Map<String, Double> facts,
            double seconds,
            String off,
            String repaired,
            @Nullable PastTrace trace) {}

    /** A trace: pairs of x and y. */
    record PastTrace(String name, Unit xUnit, Unit yUnit, List<List<Double>> samples) {
        Trace trace() {
            return new Trace(
                    name,
                    xUnit,
                    yUnit,
                    samples.stream().mapToDouble(s -> s.get(0)).toArray(),
                    samples.stream().mapToDouble(s -> s.get(1)).toArray());
        }
    }
}
