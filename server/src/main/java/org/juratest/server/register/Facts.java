package org.juratest.server.register;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.juratest.core.limit.Figures;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.route.Route;

/** What is written on a plate, in words. */
public final class Facts {

    private static final double WHOLE = 1e9;

    private Facts() {}

    /** Something known, as words: {@code Rated current In}, {@code 100}, {@code A}. */
    public record Fact(String label, String figure, String unit) {}

    /**
     * A nameplate in the order of its labels.
     *
     * @param labels titles by key; a value without one is called by its key
     */
    public static List<Fact> of(Nameplate plate, Map<String, String> labels) {
        Map<String, Quantity> ratings = new LinkedHashMap<>();
        labels.keySet().stream()
                .filter(plate.ratings()::containsKey)
                .forEach(key -> ratings.put(key, plate.ratings().get(key)));
        plate.ratings().forEach(ratings::putIfAbsent);
        List<Fact> facts = new ArrayList<>();
        ratings.forEach((key, value) -> facts.add(fact(labels.getOrDefault(key, key), value)));
        plate.texts().forEach((key, text) -> facts.add(new Fact(labels.getOrDefault(key, key), line(text), "")));
        return facts;
    }

    /** A text in one line: of a route how long it is. */
    private static String line(String text) {
        return text.indexOf('\n') < 0
                ? text
                : Route.kept(text)
                        .map(r -> r.points().size() + " places, " + Figures.of(r.length()) + " km")
                        .orElse(text.replace('\n', ' '));
    }

    /** A quantity as a plate says it: 3 poles and 100 A, not 3.00 and 100. */
    public static Fact fact(String label, Quantity value) {
        boolean whole = value.value() == Math.rint(value.value()) && Math.abs(value.value()) < WHOLE;
        String figure = whole
                ? String.valueOf((long) value.value()).replace('-', '\u2212')
                : Figures.of(value.value()).replace('-', '\u2212');
        return new Fact(label, figure, value.unit().symbol());
    }
}
