package org.juratest.core.plan;

import java.util.ArrayList;
import java.util.List;

/**
 * The way of a day along a line: from the base to each stop in order, and back.
 *
 * @param baseKm where it begins and ends, km along the line
 * @param kmPerHour pace of travel, km/h
 * @param boarding minutes that each leg takes beside it
 * @param leaves minute of the day on which it leaves the base
 */
public record DayRoute(double baseKm, double kmPerHour, double boarding, int leaves) {

    /** A stop: where, and how long the work there takes, min. */
    public record Stop(double km, double minutes) {}

    /** A stop on its day: minutes of travel to it, and minutes of the day on which it begins and ends. */
    public record Timed(double travel, double from, double to) {}

    /**
     * A day.
     *
     * @param work min
     * @param travel min, with the way back
     * @param back minute of the day on which the base is reached again
     */
    public record Timetable(List<Timed> stops, double work, double travel, double back) {}

    public DayRoute {
        if (!(kmPerHour > 0) || !(boarding >= 0)) {
            throw new IllegalArgumentException("travel needs a pace above 0 km/h, and boarding of 0 min or more");
        }
    }

    /** Minutes from one place to another; none where it is the same. */
    public double leg(double fromKm, double toKm) {
        return fromKm == toKm ? 0 : boarding + Math.abs(toKm - fromKm) / kmPerHour * 60;
    }

    /** The timetable of stops in the order of the visit. */
    public Timetable of(List<Stop> stops) {
        List<Timed> timed = new ArrayList<>();
        double at = baseKm;
        double clock = leaves;
        double work = 0;
        double travel = 0;
        for (Stop stop : stops) {
            double leg = leg(at, stop.km);
            timed.add(new Timed(leg, clock + leg, clock + leg + stop.minutes));
            clock += leg + stop.minutes;
            work += stop.minutes;
            travel += leg;
            at = stop.km;
        }
        double home = leg(at, baseKm);
        return new Timetable(timed, work, travel + home, clock + home);
    }

    /**
     * How many minutes of travel a further stop would add, put where it adds least.
     *
     * @param stops km of the stops in the order of the visit
     */
    public double detour(List<Double> stops, double km) {
        double least = Double.POSITIVE_INFINITY;
        for (int i = 0; i <= stops.size(); i++) {
            double before = i == 0 ? baseKm : stops.get(i - 1);
            double after = i == stops.size() ? baseKm : stops.get(i);
            least = Math.min(least, leg(before, km) + leg(km, after) - leg(before, after));
        }
        return least;
    }
}
