package org.juratest.core.procedure;

import java.util.Collections;
import java.util.Map;
import java.util.OptionalDouble;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.juratest.core.quantity.Quantity;

/**
 * The rated values of an asset.
 *
 * @param ratings numbers by key
 * @param texts words by key
 * @param titles what people call a value, by key; absent where nobody is told of it
 */
public record Nameplate(
        Map<String, Quantity> ratings, Map<String, String> texts, @Nullable Map<String, String> titles) {

    public Nameplate {
        titles = titles == null || titles.isEmpty() ? null : Collections.unmodifiableMap(new TreeMap<>(titles));
        ratings = Collections.unmodifiableMap(new TreeMap<>(ratings));
        texts = Collections.unmodifiableMap(new TreeMap<>(texts));
    }

    /** One whose values are called by their keys. */
    public Nameplate(Map<String, Quantity> ratings, Map<String, String> texts) {
        this(ratings, texts, null);
    }

    /** The same, whose values people call so. */
    public Nameplate called(Map<String, String> names) {
        return new Nameplate(ratings, texts, names);
    }

    /** What people call a value, in quotation marks; its key where nobody is told of it. */
    public String title(String key) {
        String title = titles == null ? null : titles.get(key);
        return title == null ? key : "\"" + title + "\"";
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
