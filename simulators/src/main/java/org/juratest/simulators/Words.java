package org.juratest.simulators;

/** Words of commands at the control port. */
public final class Words {

    private Words() {}

    /**
     * A number between two others, both included.
     *
     * @throws IllegalArgumentException if it is none, or lies outside
     */
    public static double within(String text, double lowest, double highest) {
        double value = Double.parseDouble(text);
        if (!(value >= lowest && value <= highest)) {
            throw new IllegalArgumentException(text + " is outside " + lowest + " to " + highest);
        }
        return value;
    }

    /** @throws IllegalArgumentException if it is neither {@code on} nor {@code off} */
    public static boolean on(String text) {
        return switch (text) {
            case "on" -> true;
            case "off" -> false;
            default -> throw new IllegalArgumentException("on or off, not \"" + text + "\"");
        };
    }
}
