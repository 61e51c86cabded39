package org.juratest.formats.json;

import org.jspecify.annotations.Nullable;

/** What a text must not hold, because neither the database nor a file in UTF-8 can. */
public final class TextFault {

    private TextFault() {}

    /** What is wrong, naming the character by its place from 1; null if nothing is. */
    public static @Nullable String of(String text) {
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            if (c == 0) {
                return "character " + (i + 1) + " is NUL (U+0000), which no text can hold";
            }
            if (Character.isHighSurrogate(c) && i + 1 < text.length() && Character.isLowSurrogate(text.charAt(i + 1))) {
                i++;
            } else if (Character.isSurrogate(c)) {
                return String.format("character %d is half of one (the surrogate U+%04X alone)", i + 1, (int) c);
            }
        }
        return null;
    }
}
