package org.juratest.core.family.fibre;

import java.util.Map;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * At which fibre of the far connector each of the near one has to come out: straight (type A), in reverse order (type
 * B), pairs crossed (type C), as multi-fibre cabling is told by its polarity (ISO/IEC 11801-1, annex on polarity), or a
 * map of its own.
 *
 * @param to by the number of the near fibre, from 1
 */
public record CableMap(Map<Integer, Integer> to) {

    /** What a plate may say. */
    public static final String OWN = "own map";

    private static final Pattern PAIR = Pattern.compile("\\s*(\\d{1,3})\\s*-\\s*(\\d{1,3})\\s*");

    public CableMap {
        to = Map.copyOf(to);
    }

    /**
     * The map of a cable.
     *
     * @param type {@code A}, {@code B}, {@code C} or {@value #OWN}
     * @param own pairs such as {@code 1-12, 2-11}, where it is a map of its own
     * @param fibres of the connector
     * @throws IllegalArgumentException in words, where it is none of these, or a fibre is named twice or not at all
     */
    public static CableMap of(String type, String own, int fibres) {
        Map<Integer, Integer> to = new TreeMap<>();
        if (type.equals(OWN)) {
            for (String part : own.split(",")) {
                Matcher m = PAIR.matcher(part);
                int from = m.matches() ? Integer.parseInt(m.group(1)) : 0;
                int at = m.matches() ? Integer.parseInt(m.group(2)) : 0;
                boolean known = from >= 1 && from <= fibres && at >= 1 && at <= fibres;
                if (!known || to.containsValue(at) || to.put(from, at) != null) {
                    throw new IllegalArgumentException("a map of its own has each fibre from 1 to " + fibres
                            + " once, such as 1-12, 2-11; \"" + part.strip() + "\" is none of it");
                }
            }
            return new CableMap(to);
        }
        for (int n = 1; n <= fibres; n++) {
            switch (type) {
                case "A" -> to.put(n, n);
                case "B" -> to.put(n, fibres + 1 - n);
                case "C" -> to.put(n, n % 2 == 1 ? Math.min(fibres, n + 1) : n - 1);
                default ->
                    throw new IllegalArgumentException("polarity is A, B, C or " + OWN + ", not \"" + type + "\"");
            }
        }
        return new CableMap(to);
    }
}
