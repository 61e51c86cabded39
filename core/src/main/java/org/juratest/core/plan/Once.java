package org.juratest.core.plan;

import java.time.LocalDate;
import java.time.Period;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * An extra test after something happened.
 *
 * @param occasion what asks for it
 * @param within how long after it the test is due
 * @param after how long after its due date it may still be done
 */
public record Once(Occasion occasion, Period within, Period after) implements Timing {

    public Once {
        if (occasion == Occasion.INTERVAL) {
            throw new IllegalArgumentException("what recurs is planned by its interval");
        }
        if (within.isNegative() || after.isNegative()) {
            throw new IllegalArgumentException(
                    "an extra test is due by lengths after what asks for it that are not negative");
        }
    }

    /**
     * What is due.
     *
     * @param happened in any order; the last of the occasion counts, and asks for one test however often it happened
     * @param done days on which the procedure was done, ascending; one on the day it happened or after answers it
     * @return absent where nothing asks for a test
     */
    public @Nullable Occurrence due(List<Happening> happened, List<LocalDate> done) {
        LocalDate last = happened.stream()
                .filter(h -> h.occasion() == occasion)
                .map(Happening::day)
                .max(LocalDate::compareTo)
                .orElse(null);
        if (last == null || !done.isEmpty() && !done.get(done.size() - 1).isBefore(last)) {
            return null;
        }
        LocalDate due = last.plus(within);
        return new Occurrence(last, due, due.plus(after));
    }
}
