package org.juratest.core.run;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.PointKey;

/**
 * One try at the points of a step and lane.
 *
 * @param begunAt number of the event that began it; places it between adjustments
 * @param timeFactor how much faster than the clock the gear's time ran; 1 for real gear
 * @param outcome absent while it is under way
 * @param words what the outcome says
 * @param voided why it does not count; absent if it was not voided
 */
public record Attempt(
        UUID id,
        String step,
        String lane,
        long begunAt,
        Instant at,
        @Nullable String gear,
        double timeFactor,
        AttemptEvents.@Nullable ConnectionChecked check,
        List<Reading> readings,
        @Nullable Outcome outcome,
        @Nullable String words,
        AttemptEvents.@Nullable AttemptVoided voided) {

    /** How an attempt ended. Only a valid one counts, and validity is about the set-up, never about the value. */
    public enum Outcome {
        VALID,
        CONNECTION_FAILED,
        ABORTED,
        INSTRUMENT_ERROR
    }

    public Attempt {
        readings = List.copyOf(readings);
    }

    /** Whether it ended properly and was not voided. */
    public boolean counts() {
        return outcome == Outcome.VALID && voided == null;
    }

    public Optional<Reading> reading(PointKey key) {
        return readings.stream().filter(r -> r.key().equals(key)).findFirst();
    }

    Attempt with(AttemptEvents.ConnectionChecked checked) {
        return new Attempt(id, step, lane, begunAt, at, gear, timeFactor, checked, readings, outcome, words, voided);
    }

    Attempt with(Reading reading) {
        List<Reading> more = new ArrayList<>(readings);
        more.add(reading);
        return new Attempt(id, step, lane, begunAt, at, gear, timeFactor, check, more, outcome, words, voided);
    }

    Attempt closed(Outcome end, String endWords) {
        return new Attempt(id, step, lane, begunAt, at, gear, timeFactor, check, readings, end, endWords, voided);
    }

    Attempt with(AttemptEvents.AttemptVoided reason) {
        return new Attempt(id, step, lane, begunAt, at, gear, timeFactor, check, readings, outcome, words, reason);
    }
}
