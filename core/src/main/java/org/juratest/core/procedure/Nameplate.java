package org.juratest.core.procedure;

import java.util.Collections;
import java.util.Map;
import java.util.OptionalDouble;
import java.util.TreeMap;
import org.juratest.core.quantity.Quantity;

/**
 * The rated values of an asset.
 *
 * @param ratings numbers by key
 * @param texts words by key
 */
public record Nameplate(Map<String, Quantity> ratings, Map<String, String> texts) {

    public Nameplate {
        ratings = Collections.unmodifiableMap(new TreeMap<>(ratings));
        texts = Collections.unmodifiableMap(new TreeMap<>(texts));
    }

    /** A rating in the base unit of its dimension (A, V, s, Ohm); empty if the plate has none. */
    public OptionalDouble base(String key) {
        Quantity quantity = ratings.get(key);
        return quantity == null
                ? OptionalDouble.empty()
                : OptionalDouble.of(quantity.value() * quantity.unit().factor());
    }

    /** All ratings in base units. */
    public Map<String, Double> bases() {
        Map<String, Double> bases = new TreeMap<>();
        ratings.keySet().forEach(key -> base(key).ifPresent(v -> bases.put(key, v)));
        return bases;
    }
}
