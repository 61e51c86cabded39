package org.juratest.simulators.fleet;

import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.BiFunction;
import org.jspecify.annotations.Nullable;

/**
 * The physical truth of the demo valley on one day: what stands where, how each pole behaves now, and what tests in the
 * past would have read. Written as JSON for the demo loader; nothing in it is judged.
 *
 * @param seed what it was generated from
 * @param today day it is relative to
 */
public record Fleet(
        long seed,
        LocalDate today,
        List<Site> sites,
        List<Person> people,
        List<Gear> gear,
        List<Breaker> breakers,
        List<Device> devices,
        List<Radio> radios) {

    /** The same fleet with other poles, given by position and pole. */
    public Fleet withPoles(BiFunction<String, String, Pole> poles) {
        return new Fleet(
                seed,
                today,
                sites,
                people,
                gear,
                breakers.stream()
                        .map(b -> {
                            Map<String, Pole> now = new TreeMap<>();
                            b.poles().keySet().forEach(name -> now.put(name, poles.apply(b.position(), name)));
                            return new Breaker(
                                    b.asset(),
                                    b.position(),
                                    b.site(),
                                    b.maker(),
                                    b.model(),
                                    b.serial(),
                                    b.technology(),
                                    b.curve(),
                                    b.ratings(),
                                    b.heatingSeconds(),
                                    b.installed(),
                                    now,
                                    b.tests());
                        })
                        .toList(),
                devices,
                radios);
    }

    /** The same fleet with other breakers. */
    public Fleet withBreakers(List<Breaker> now) {
        return new Fleet(seed, today, sites, people, gear, now, devices, radios);
    }

    /** The same fleet with other radios. */
    public Fleet withRadios(List<Radio> now) {
        return new Fleet(seed, today, sites, people, gear, breakers, devices, now);
    }

    /**
     * A radio as it behaves.
     *
     * @param ppm its reference is off by, with the reference setting in the middle
     * @param settings in its memory
     * @param spacing of channels, Hz
     * @param outer deviation of the outer symbols, Hz; 0 for one without a digital mode
     * @param microphone V rms for 60 % of the greatest deviation
     * @param soundVolts V rms it gives
     * @param idleAmperes drawn when squelched
     * @param history by {@code step/point/lane}: what it read when new, how it moves a year, spread of a reading
     */
    public record Radio(
            String asset,
            String position,
            String maker,
            String model,
            String serial,
            String firmware,
            String configuration,
            Map<String, RadioBand> bands,
            double ppm,
            Map<String, Integer> settings,
            double spacing,
            double outer,
            double microphone,
            double soundVolts,
            double supplyVolts,
            double idleAmperes,
            Map<String, List<Double>> history) {

        public Radio withSettings(Map<String, Integer> now) {
            return new Radio(
                    asset,
                    position,
                    maker,
                    model,
                    serial,
                    firmware,
                    configuration,
                    bands,
                    ppm,
                    new TreeMap<>(now),
                    spacing,
                    outer,
                    microphone,
                    soundVolts,
                    supplyVolts,
                    idleAmperes,
                    history);
        }

        Radio withHistory(Map<String, List<Double>> points) {
            return new Radio(
                    asset,
                    position,
                    maker,
                    model,
                    serial,
                    firmware,
                    configuration,
                    bands,
                    ppm,
                    settings,
                    spacing,
                    outer,
                    microphone,
                    soundVolts,
                    supplyVolts,
                    idleAmperes,
                    points);
        }
    }

    /**
     * A band of a radio.
     *
     * @param rated W
     * @param powerDb how far its power is off, dB
     * @param deviationGain 1 for as it should be
     * @param imbalance of the modulator, share
     * @param tiltDb of deviation, 300 Hz against 3 kHz
     * @param limiter 1 for as it should be
     * @param noiseHz of its modulator, rms
     * @param deafDb how much its noise figure is worse than usual
     * @param soundBend second harmonic of its sound, share
     * @param frontEndBest setting at which its front end is in tune
     */
    public record RadioBand(
            double low,
            double high,
            double rated,
            double powerDb,
            double deviationGain,
            double imbalance,
            double tiltDb,
            double limiter,
            double noiseHz,
            double deafDb,
            double soundBend,
            int frontEndBest) {

        public double middle() {
            return Math.round((low + high) / 2 / 12_500) * 12_500.0;
        }
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
            @Nullable String driver) {}

    /**
     * A lead with its attenuator.
     *
     * @param greatest power it bears, W
     * @param points MHz and dB, ascending
     */
    public record Path(double greatest, List<List<Double>> points) {}

    /** A data sheet's figure. */
    public record Accuracy(double percentOfReading, double percentOfRange, double floor, String stated) {}

    /**
     * A low-voltage breaker.
     *
     * @param ratings nameplate values in A, V, s by key
     * @param heatingSeconds heating time constant (bimetal), or seconds at 1 x setting (electronic), of a pole that is
     *     right
     * @param installed day it was installed
     * @param poles as they are today
     * @param tests what was measured in the past, oldest first; the first is the acceptance test
     */
    public record Breaker(
            String asset,
            String position,
            String site,
            String maker,
            String model,
            String serial,
            String technology,
            String curve,
            Map<String, Double> ratings,
            double heatingSeconds,
            LocalDate installed,
            Map<String, Pole> poles,
            List<PastTest> tests) {}

    /**
     * @param slowness multiplies the heating seconds: 1 trips as designed, above 1 late
     * @param microhms contact resistance, µΩ
     * @param megohms insulation at 20 degC of the paths that touch it, MΩ
     */
    public record Pole(double slowness, double microhms, double megohms) {}

    /**
     * Any other device: known by its plate and by where it stood.
     *
     * @param plate as it would be typed, by key
     * @param position where it stands; empty if nowhere
     * @param title of that position; empty if it has none
     * @param partOf measuring installation that position is a part of; empty if none
     * @param part as what
     * @param stays oldest first
     * @param retired why; empty while it is not
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
            String retired) {}

    /** A time at a position; {@code to} is absent while it lasts. */
    public record Stay(String position, LocalDate from, @Nullable LocalDate to) {}

    /**
     * A test in the past, as a technician would have read it.
     *
     * @param day when
     * @param person who
     * @param temperature equipment, degC
     * @param insulation MΩ as read at that temperature, by path
     * @param contact µΩ by pole, before the injection
     * @param contactEnd µΩ by pole, after it
     * @param trips injections in order
     */
    public record PastTest(
            LocalDate day,
            String person,
            double temperature,
            Map<String, Double> insulation,
            Map<String, Double> contact,
            Map<String, Double> contactEnd,
            List<Trip> trips) {}

    /**
     * One injection.
     *
     * @param current A rms as measured
     * @param seconds to the trip
     * @param repaired what was done to the pole before it; empty if nothing
     * @param trace the current over the injection: pairs of s and A rms, ascending
     */
    public record Trip(String pole, double current, double seconds, String repaired, List<List<Double>> trace) {}
}
