package org.juratest.server.condition;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Figures;
import org.juratest.server.condition.States.Key;

/**
 * Finds rows that were discovered again at other times, visit after visit: a row is the one whose key was nearest when
 * it was seen last, if that is within its reach. Its series goes on under the lane with the place it was first seen at:
 * {@code 7@517}.
 */
final class RowPlaces {

    private final Map<Key, List<Place>> places = new HashMap<>();

    private static final class Place {
        private final Key key;
        private double at;
        private UUID run;

        Place(Key key, double at, UUID run) {
            this.key = key;
            this.at = at;
            this.run = run;
        }
    }

    /**
     * The series that a value belongs to.
     *
     * @param of its test point and lane
     * @param row key of its row; absent for what is no row
     * @param reach how far from there it may have been before, in the key's unit
     * @param run it was read in; runs come in the order of time, the rows of one in the order of their keys
     */
    Key of(Key of, @Nullable Double row, double reach, UUID run) {
        if (row == null) {
            return of;
        }
        List<Place> known = places.computeIfAbsent(of, k -> new ArrayList<>());
        Optional<Place> same = known.stream()
                .filter(p -> !p.run.equals(run) && Math.abs(p.at - row) <= reach)
                .min(Comparator.comparingDouble(p -> Math.abs(p.at - row)));
        Place place = same.orElseGet(() -> {
            Place fresh = new Place(named(of, row, reach, known), row, run);
            known.add(fresh);
            return fresh;
        });
        place.at = row;
        place.run = run;
        return place.key;
    }

    private static Key named(Key of, double row, double reach, List<Place> known) {
        String where = Math.abs(row) >= 100 || reach >= 1 || row == Math.rint(row)
                ? String.valueOf(Math.round(row))
                : Figures.of(row);
        StringBuilder lane = new StringBuilder(of.lane() + "@" + where);
        while (known.stream().anyMatch(p -> p.key.lane().contentEquals(lane))) {
            lane.append('+');
        }
        return new Key(of.asset(), of.series(), lane.toString());
    }
}
