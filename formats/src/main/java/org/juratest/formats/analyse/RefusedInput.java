package org.juratest.formats.analyse;

import java.util.Map;

/** A file that cannot be analysed, with its place as its format tells places. */
public final class RefusedInput extends RuntimeException {

    private static final long serialVersionUID = 1;

    private final transient Map<String, Object> place;

    /**
     * @param place names and values, texts and whole numbers, in their order
     * @param reason in words
     */
    public RefusedInput(Map<String, Object> place, String reason) {
        super(reason);
        this.place = place;
    }

    public Map<String, Object> place() {
        return place;
    }
}
