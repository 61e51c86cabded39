package org.juratest.core.method;

import java.time.Instant;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;

/**
 * What a file says that gear wrote elsewhere.
 *
 * @param format in words, such as the standard it keeps to
 * @param names what may name the asset it is of: its id, its position, or what its plate calls it
 * @param taken when it was measured; absent where the file does not say, or says what cannot be
 * @param gear in words, as the file names what it was taken with; absent where it does not
 * @param serial serial number of that gear; absent likewise
 * @param facts what people tell it by, by name
 * @param content for the method that reads it
 * @param warnings what is odd about it, in sentences
 */
public record Filed(
        String format,
        Set<String> names,
        @Nullable Instant taken,
        @Nullable String gear,
        @Nullable String serial,
        Map<String, String> facts,
        Object content,
        List<String> warnings) {
    public Filed {
        names = Collections.unmodifiableSet(new TreeSet<>(names));
        facts = Collections.unmodifiableMap(new TreeMap<>(facts));
        warnings = List.copyOf(warnings);
    }
}
