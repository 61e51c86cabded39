package org.juratest.simulators.fleet;

import java.time.LocalDate;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * The physical truth of the demo valley on one day: what stands where, how each device behaves now, and what tests in
 * the past would have read. Written as JSON for the demo loader; nothing in it is judged.
 *
 * @param seed what it was generated from
 * @param today day it is relative to
 * @param zone time zone of its sites
 * @param past tests of devices, by asset, oldest first; the first is the acceptance test
 * @param drifts of devices whose past follows from their plans: by asset, then by {@code step/point/lane}: what it read
 *     when new, how it moves a year, spread of a reading
 * @param truth how devices behave, by family; only the family's stand-ins read it
 */
public record Fleet(
        long seed,
        LocalDate today,
        String zone,
        List<Site> sites,
        List<Person> people,
        List<Gear> gear,
        List<Device> devices,
        Map<String, List<PastTest>> past,
        Map<String, Map<String, List<Double>>> drifts,
        Map<String, JsonNode> truth) {

    private static final JsonMapper JSON = JsonMapper.builder().build();

    /**
     * How the devices of a family behave.
     *
     * @throws IllegalArgumentException if the fleet has no such family
     */
    public <T> T truth(String family, TypeReference<T> as) {
        JsonNode own = truth.get(family);
        if (own == null) {
            throw new IllegalArgumentException("the fleet has no truth of " + family);
        }
        return JSON.convertValue(own, as);
    }

    /** The same fleet, the devices of a family behaving otherwise. */
    public Fleet with(String family, Object now) {
        Map<String, JsonNode> other = new TreeMap<>(truth);
        other.put(family, JSON.valueToTree(now));
        return new Fleet(seed, today, zone, sites, people, gear, devices, past, drifts, other);
    }

    /**
     * @param km along the line
     * @param altitude m
     */
    public record Site(String code, String name, double km, int altitude) {}

    /** Somebody who signs in to the demo; the password is for the demo only. */
    public record Person(String id, String name, String role, String password) {}

    /**
     * @param calibratedOn day of the last calibration
     * @param calibratedTo last day it holds
     * @param accuracy by dimension: per cent of reading, per cent of range, floor in base units, {@code rectangular} or
     *     {@code expandedK2}
     * @param range greatest value of each set-point, in base units; empty where none is stated
     * @param driver id of its driver; absent for gear that is read by a person
     */
    public record Gear(
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
            Map<String, Accuracy> accuracy,
            @Nullable Path path,
            Map<String, Double> range,
            @Nullable String driver) {

        /** The same as a lead. */
        public Gear with(Path lead) {
            return new Gear(
                    id,
                    name,
                    role,
                    maker,
                    model,
                    serial,
                    host,
                    port,
                    calibratedOn,
                    calibratedTo,
                    certificate,
                    accuracy,
                    lead,
                    range,
                    driver);
        }
    }

    /**
     * A lead with its attenuator.
     *
     * @param greatest power it bears, W
     * @param points MHz and dB, ascending
     * @param u standard uncertainty of the loss, dB
     */
    public record Path(double greatest, List<List<Double>> points, double u) {}

    /** A data sheet's figure. */
    public record Accuracy(double percentOfReading, double percentOfRange, double floor, String stated) {}

    /**
     * A device: known by its plate and by where it stood.
     *
     * @param plate as it would be typed, by key
     * @param position where it stands; empty if nowhere
     * @param title of that position; empty if it has none
     * @param partOf measuring installation that position is a part of; empty if none
     * @param part as what
     * @param stays oldest first
     * @param retired why; empty while it is not
     * @param curve id of its curve; absent where it has none
     */
    public record Device(
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
            @Nullable String curve) {

        public Device(
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
                String retired) {
            this(
                    asset,
                    site,
                    assetClass,
                    maker,
                    model,
                    serial,
                    plate,
                    position,
                    title,
                    partOf,
                    part,
                    stays,
                    retired,
                    null);
        }
    }

    /** A time at a position; {@code to} is absent while it lasts. */
    public record Stay(String position, LocalDate from, @Nullable LocalDate to) {}

    /**
     * A test in the past, as a technician would have read it.
     *
     * @param day when
     * @param person who
     * @param procedure code of what was carried out
     * @param conditions of the measurement, by name: a value with its UCUM code
     * @param readings in the order they were taken
     * @param files that brought it in; empty for what was measured on the spot
     */
    public record PastTest(
            LocalDate day,
            String person,
            String procedure,
            Map<String, Typed> conditions,
            List<PastReading> readings,
            List<PastFile> files) {

        public PastTest(
                LocalDate day,
                String person,
                String procedure,
                Map<String, Typed> conditions,
                List<PastReading> readings) {
            this(day, person, procedure, conditions, readings, List.of());
        }
    }

    /**
     * A file that gear wrote, of a step on a lane.
     *
     * @param bytes in Base64, so that two of the same bytes are equal
     */
    public record PastFile(String step, String lane, String name, String bytes) {

        public static PastFile of(String step, String lane, String name, byte[] bytes) {
            return new PastFile(step, lane, name, Base64.getEncoder().encodeToString(bytes));
        }

        public byte[] decoded() {
            return Base64.getDecoder().decode(bytes);
        }
    }

    /** A value with the UCUM code of its unit. */
    public record Typed(double value, String unit) {}

    /**
     * One reading.
     *
     * @param facts what its method needs to know beside the value, in base units
     * @param seconds how long it took
     * @param off why the output went off: {@code DONE}, {@code TRIPPED}
     * @param repaired what was done to the device before it; empty if nothing
     * @param trace what was captured; absent for nothing
     */
    public record PastReading(
            String step,
            String lane,
            String point,
            double value,
            String unit,
            Map<String, Double> facts,
            double seconds,
            String off,
            String repaired,
            @Nullable PastTrace trace) {}

    /**
     * A trace.
     *
     * @param samples pairs of x and y, ascending
     */
    public record PastTrace(String name, String xUnit, String yUnit, List<List<Double>> samples) {}
}
