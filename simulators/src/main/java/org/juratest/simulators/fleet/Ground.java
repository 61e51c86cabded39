package org.juratest.simulators.fleet;

import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.Ports;

/**
 * What there is of the valley before a family brings its part.
 *
 * @param seed of all draws
 * @param today day it is relative to
 * @param devices of families without a part of their own, of which one may make its truth
 */
public record Ground(long seed, LocalDate today, List<Fleet.Site> sites, List<Fleet.Device> devices, Ports ports) {

    /**
     * Gear of the valley.
     *
     * @param port 0 for gear whose values are read off and entered by hand
     * @param onDays days from today to its last calibration, negative; {@code toDays} to the last day that holds
     * @param range greatest value of each set-point, in base units; empty where none is stated
     * @param driver id of its driver; absent for gear that is read by a person
     */
    public Fleet.Gear gear(
            String id,
            String name,
            String role,
            String maker,
            String model,
            String number,
            int port,
            int onDays,
            int toDays,
            Map<String, Fleet.Accuracy> accuracy,
            Map<String, Double> range,
            @Nullable String driver) {
        LocalDate on = today.plusDays(onDays);
        return new Fleet.Gear(
                id,
                name,
                role,
                maker,
                model,
                number,
                "127.0.0.1",
                port,
                on,
                today.plusDays(toDays),
                "C-" + on.getYear() + "-" + number.substring(3),
                new TreeMap<>(accuracy),
                null,
                range,
                driver);
    }

    /** Gear whose values are read off and entered by hand. */
    public Fleet.Gear alone(
            String id,
            String name,
            String role,
            String maker,
            String model,
            String number,
            int onDays,
            int toDays,
            Map<String, Fleet.Accuracy> accuracy) {
        return gear(id, name, role, maker, model, number, 0, onDays, toDays, accuracy, Map.of(), null);
    }
}
