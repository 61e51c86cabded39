package org.juratest.server.demo;

import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.juratest.core.correction.PathLoss;
import org.juratest.core.correction.RfPath;
import org.juratest.core.uncertainty.AccuracySpec;

/** The parts of the fleet's truth, as the stand-ins write it, that become demo data. Currents in A, times in s. */
record DemoFleet(
        LocalDate today,
        List<Site> sites,
        List<Person> people,
        List<Gear> gear,
        List<Breaker> breakers,
        List<Device> devices,
        List<Radio> radios) {

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

    /** A lead with its attenuator: greatest power in W, pairs of MHz and dB. */
    record Path(double greatest, List<List<Double>> points) {
        RfPath path() {
            return new RfPath(
                    new PathLoss(points.stream()
                            .map(p -> new PathLoss.LossPoint(p.get(0), p.get(1)))
                            .toList()),
                    greatest);
        }
    }

    /** What a radio read in the past, by {@code step/point/lane}: when it was new, a year, spread. */
    record Radio(String asset, Map<String, List<Double>> history) {}

    record Breaker(
            String asset,
            String position,
            String site,
            String maker,
            String model,
            String serial,
            @Nullable String curve,
            Map<String, Double> ratings,
            LocalDate installed,
            List<PastTest> tests) {}

    /**
     * A device of another family: its plate as it would be typed, where it stands and stood; empty texts where there is
     * nothing.
     */
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
            String retired) {}

    record Stay(String position, LocalDate from, @Nullable LocalDate to) {}

    /** @param values by test point, of families whose readings are all entered by hand; else empty */
    record PastTest(
            LocalDate day,
            String person,
            double temperature,
            Map<String, Double> insulation,
            Map<String, Double> contact,
            Map<String, Double> contactEnd,
            List<Trip> trips,
            Map<String, Double> values) {}

    /** An absent trace is an empty one. */
    record Trip(String pole, double current, double seconds, String repaired, List<List<Double>> trace) {}
}
