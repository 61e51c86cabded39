package org.juratest.core.family.fibre;

import java.util.BitSet;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Where the fibres of a multi-fibre ferrule are (IEC 61754-7): rows of them 500 um apart, 250 um from one to the next,
 * numbered from the left with the key up, the upper row first.
 *
 * @param rows 1 or 2
 * @param columns fibres a row
 * @param live the numbers, from 1, of those that carry light
 */
public record ArrayLayout(int rows, int columns, BitSet live) {

    /** The layouts there are, as people write them. */
    public static final List<String> NAMES = List.of("1x8", "1x12", "1x16", "2x12", "2x16");
    /** What may be said of which are live, beside numbers such as {@code 1-4,9-12}. */
    public static final List<String> LIVE = List.of("all", "outer dark", "inner dark", "inner eight");

    /** From one fibre of a row to the next, um. */
    static final double PITCH = 250;
    /** From one row to the next, um. */
    static final double ROW_PITCH = 500;

    private static final Pattern NUMBERS = Pattern.compile("(\\d{1,3})(?:-(\\d{1,3}))?");

    /** How many columns are dark in the middle, where the inner ones are. */
    private static final int INNER = 4;

    public ArrayLayout {
        live = (BitSet) live.clone();
    }

    @Override
    public BitSet live() {
        return (BitSet) live.clone();
    }

    /**
     * A layout by its name.
     *
     * @param name one of {@link #NAMES}
     * @param live one of {@link #LIVE} (with {@code -} or a blank between its words), or numbers
     * @throws IllegalArgumentException in words, if there is no such layout, or no such fibre
     */
    public static ArrayLayout of(String name, String live) {
        if (!NAMES.contains(name)) {
            throw new IllegalArgumentException(
                    "the layout is one of " + String.join(", ", NAMES) + ", not \"" + name + "\"");
        }
        int rows = name.charAt(0) - '0';
        int columns = Integer.parseInt(name.substring(2));
        BitSet carry = new BitSet();
        String words = live.strip().replace('-', ' ');
        for (int n = 1; n <= rows * columns; n++) {
            int column = (n - 1) % columns;
            boolean outer = column == 0 || column == columns - 1;
            int fromMiddle = Math.min(Math.abs(2 * column - columns), Math.abs(2 * column + 2 - columns));
            switch (words) {
                case "all" -> carry.set(n);
                case "outer dark" -> carry.set(n, !outer);
                case "inner dark" -> carry.set(n, fromMiddle >= INNER);
                case "inner eight" -> carry.set(n, fromMiddle < 8);
                default -> carry.clear(n);
            }
        }
        return new ArrayLayout(rows, columns, LIVE.contains(words) ? carry : numbers(live, rows * columns));
    }

    private static BitSet numbers(String live, int most) {
        BitSet carry = new BitSet();
        for (String part : live.split(",")) {
            Matcher m = NUMBERS.matcher(part.strip());
            int from = m.matches() ? Integer.parseInt(m.group(1)) : 0;
            int to = from > 0 && m.group(2) != null ? Integer.parseInt(m.group(2)) : from;
            if (from < 1 || to < from || to > most) {
                throw new IllegalArgumentException("which fibres are live is told by " + String.join(", ", LIVE)
                        + " or by numbers from 1 to " + most + " such as 1-4,9-12, not by \"" + live + "\"");
            }
            carry.set(from, to + 1);
        }
        return carry;
    }

    /** How many there are, dark ones too. */
    public int size() {
        return rows * columns;
    }

    /** The numbers of those that carry light, in order. */
    public int[] liveNumbers() {
        return live.stream().toArray();
    }

    /** Across of a fibre from the middle of the array, um. */
    double x(int number) {
        return ((number - 1) % columns - (columns - 1) / 2.0) * PITCH;
    }

    /** Down of a fibre from the middle of the array, um. */
    double y(int number) {
        return ((number - 1) / columns - (rows - 1) / 2.0) * ROW_PITCH;
    }
}
