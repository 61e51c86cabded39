package org.juratest.core.family.breakers;

import java.util.Set;

/**
 * What a file of other gear says of a current.
 *
 * @param current that was recorded
 * @param names by which it may tell its lane, in small letters: parts of its name, its device, its phase
 */
public record FiledCurrent(DigitisedCurrent current, Set<String> names) {
    public FiledCurrent {
        names = Set.copyOf(names);
    }
}
