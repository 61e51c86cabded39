package org.juratest.core.family.breakers;

import java.util.List;
import java.util.Set;
import org.juratest.core.signal.SignalException;

/**
 * What a file of other gear says of a current.
 *
 * @param current that was recorded
 * @param names by which it may tell its lane, in small letters: parts of its name, its device, its phase
 * @param operating the middle one of the currents of its operations, A, true rms; 0 where it tells of none
 */
public record FiledCurrent(DigitisedCurrent current, Set<String> names, double operating) {
    public FiledCurrent {
        names = Set.copyOf(names);
    }

    /** Finds the current of its operations. */
    public static FiledCurrent of(DigitisedCurrent current, Set<String> names) {
        return new FiledCurrent(current, names, operating(current));
    }

    private static double operating(DigitisedCurrent current) {
        List<Operations.Operation> all;
        try {
            all = Operations.of(current.time(), current.current(), current.frequency())
                    .all();
        } catch (SignalException e) {
            // Too short or too coarse to tell: a person says what it is of, and its attempt says why nothing is found.
            return 0;
        }
        return all.stream()
                .mapToDouble(Operations.Operation::rms)
                .sorted()
                .skip(all.size() / 2)
                .findFirst()
                .orElse(0);
    }
}
