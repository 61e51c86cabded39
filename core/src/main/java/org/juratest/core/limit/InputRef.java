package org.juratest.core.limit;

import java.util.Set;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * A named input of a formula or a table: {@code nameplate:key} ({@value #LANE} in the key stands for the lane),
 * {@code param:name} (a parameter of the same step), {@code reading:step/point} (the same lane) or
 * {@code reading:step/point/lane}, {@code with:name} (another value of the same reading), {@code lane:set} (which lane
 * of a set, in words), {@code condition:name} (of the measurement), {@code curve:side} (a side of the curve of the
 * device, at the step's parameter that it runs over), {@code curve:part/from} and {@code curve:part/to} (where a part
 * of it may begin to bound, and where it must). Nameplate values count in the base unit of their dimension (A, V, s,
 * Ohm), parameters in the unit stated, readings in the unit of their point.
 *
 * @param name key, parameter or step
 * @param point point of a reading, else empty
 * @param lane lane of a reading; absent for the same lane
 */
public record InputRef(From from, String name, String point, @Nullable String lane) {

    /** Stands for the lane in a nameplate key. */
    public static final String LANE = "{lane}";

    /** Names of the sides of a curve: plainly, or where what is bounded is a time. */
    private static final Set<String> SIDES = Set.of("low", "high", "earliest", "latest");

    /** Where a part of a curve may begin to bound, and where it must: {@code part/from}, {@code part/to}. */
    private static final Pattern PART = Pattern.compile("[A-Za-z][A-Za-z0-9 -]*/(?:from|to)");

    /** Where an input is read from. */
    public enum From {
        NAMEPLATE,
        PARAM,
        READING,
        WITH,
        LANE,
        CONDITION,
        CURVE
    }

    /** Whether it is where a part of the curve begins, which depends on no place. */
    public boolean isBeginning() {
        return from == From.CURVE && name.indexOf('/') > 0;
    }

    /** Whether a text is meant as a reference, and is no word by itself. */
    public static boolean looksLike(String text) {
        return text.matches("(?:nameplate|param|curve|with|lane|condition|reading):.*");
    }

    /**
     * Reads a reference.
     *
     * @throws IllegalArgumentException if it is none of the forms above
     */
    public static InputRef parse(String text) {
        int colon = text.indexOf(':');
        String rest = text.substring(colon + 1);
        String kind = colon < 0 ? "" : text.substring(0, colon);
        String[] parts = rest.split("/", -1);
        if (!rest.isBlank()) {
            switch (kind) {
                case "nameplate":
                    return new InputRef(From.NAMEPLATE, rest, "", null);
                case "param":
                    return new InputRef(From.PARAM, rest, "", null);
                case "curve":
                    if (SIDES.contains(rest) || PART.matcher(rest).matches()) {
                        return new InputRef(From.CURVE, rest, "", null);
                    }
                    break;
                case "with":
                    return new InputRef(From.WITH, rest, "", null);
                case "lane":
                    return new InputRef(From.LANE, rest, "", null);
                case "condition":
                    return new InputRef(From.CONDITION, rest, "", null);
                case "reading":
                    if (parts.length == 2 || parts.length == 3) {
                        return new InputRef(From.READING, parts[0], parts[1], parts.length == 3 ? parts[2] : null);
                    }
                    break;
                default:
                    break;
            }
        }
        throw new IllegalArgumentException("an input reads nameplate:key, param:name, reading:step/point[/lane], "
                + "with:name, lane:set, condition:name or curve:side, not \"" + text + "\"");
    }

    /** The nameplate key on a lane. */
    public String onLane(String lane) {
        return name.replace(LANE, lane);
    }

    @Override
    public String toString() {
        String head = from.name().toLowerCase(java.util.Locale.ROOT) + ":" + name;
        return from != From.READING ? head : head + "/" + point + (lane == null ? "" : "/" + lane);
    }
}
