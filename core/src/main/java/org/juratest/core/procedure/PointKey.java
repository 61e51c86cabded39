package org.juratest.core.procedure;

/**
 * Names a test point in a run: step, point and lane, or {@value Lane#NONE} where the step has none. Prints as
 * {@code step/point/lane} and parses back.
 */
public record PointKey(String step, String point, String lane) implements Comparable<PointKey> {

    /**
     * Parses what {@link #toString()} prints.
     *
     * @throws IllegalArgumentException if there are not three parts
     */
    public static PointKey parse(String text) {
        String[] parts = text.split("/", -1);
        if (parts.length != 3 || parts[0].isEmpty() || parts[1].isEmpty() || parts[2].isEmpty()) {
            throw new IllegalArgumentException("a point reads step/point/lane, not \"" + text + "\"");
        }
        return new PointKey(parts[0], parts[1], parts[2]);
    }

    @Override
    public int compareTo(PointKey other) {
        return toString().compareTo(other.toString());
    }

    @Override
    public String toString() {
        return step + "/" + point + "/" + lane;
    }
}
