package org.juratest.core.run;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * What gear answered about its output after it was told to switch off.
 *
 * @param answered whether it answered at all
 * @param off whether it said that its output is off; false if it did not answer
 * @param words what it said
 * @param parts what each said where several pieces of gear are used together; absent for one
 */
public record ReadBack(boolean answered, boolean off, String words, @Nullable List<Part> parts) {

    /**
     * What one of several said.
     *
     * @param gear its id
     * @param off whether it said that its output is off; false if it did not answer
     * @param words what it said
     */
    public record Part(String gear, boolean off, String words) {}

    public ReadBack {
        parts = parts == null || parts.isEmpty() ? null : List.copyOf(parts);
    }

    public ReadBack(boolean answered, boolean off, String words) {
        this(answered, off, words, null);
    }

    public static ReadBack silent(String words) {
        return new ReadBack(false, false, words);
    }

    /** What each piece of gear said, if only one was asked: that. */
    List<Part> each(String gear) {
        return parts == null ? List.of(new Part(gear, off, words)) : parts;
    }
}
