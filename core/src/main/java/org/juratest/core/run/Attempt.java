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
 * @param blanks points it has no value for, and why
 * @param outcome absent while it is under way
 * @param words what the outcome says
 * @param voided why it does not count; absent if it was not voided
 * @param carried where its values come from; absent where it was taken in this run
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
        List<AttemptEvents.NoValue> blanks,
        @Nullable Outcome outcome,
        @Nullable String words,
        AttemptEvents.@Nullable AttemptVoided voided,
        AttemptEvents.@Nullable AttemptCarried carried) {

    /** How an attempt ended. Only a valid one counts, and validity is about the set-up, never about the value. */
    public enum Outcome {
        VALID,
        CONNECTION_FAILED,
        /** Nothing can tell whether it was the connection or the device; a person says which. */
        UNCLEAR,
        ABORTED,
        INSTRUMENT_ERROR
    }

    public Attempt {
        readings = List.copyOf(readings);
        blanks = List.copyOf(blanks);
    }

    /** When its values were measured: before this run where they were carried over from another. */
    public Instant takenAt() {
        return carried == null ? at : carried.takenAt();
    }

    /** Whether it ended properly and was not voided. */
    public boolean counts() {
        return outcome == Outcome.VALID && voided == null;
    }

    public Optional<Reading> reading(PointKey key) {
        return readings.stream().filter(r -> r.key().equals(key)).findFirst();
    }

    /** Why it has no value for a point; empty where it has one, or did not look. */
    public Optional<AttemptEvents.NoValue> blank(PointKey key) {
        return blanks.stream().filter(b -> b.key().equals(key)).findFirst();
    }

    Attempt with(AttemptEvents.ConnectionChecked checked) {
        return new Attempt(
                id,
                step,
                lane,
                begunAt,
                at,
                gear,
                timeFactor,
                checked,
                readings,
                blanks,
                outcome,
                words,
                voided,
                carried);
    }

    Attempt with(Reading reading) {
        List<Reading> more = new ArrayList<>(readings);
        more.add(reading);
        return new Attempt(
                id, step, lane, begunAt, at, gear, timeFactor, check, more, blanks, outcome, words, voided, carried);
    }

    Attempt with(AttemptEvents.NoValue blank) {
        List<AttemptEvents.NoValue> more = new ArrayList<>(blanks);
        more.add(blank);
        return new Attempt(
                id, step, lane, begunAt, at, gear, timeFactor, check, readings, more, outcome, words, voided, carried);
    }

    Attempt with(AttemptEvents.AttemptCarried from) {
        return new Attempt(
                id, step, lane, begunAt, at, gear, timeFactor, check, readings, blanks, outcome, words, voided, from);
    }

    Attempt closed(Outcome end, String endWords) {
        return new Attempt(
                id, step, lane, begunAt, at, gear, timeFactor, check, readings, blanks, end, endWords, voided, carried);
    }

    Attempt with(AttemptEvents.AttemptVoided reason) {
        return new Attempt(
                id,
                step,
                lane,
                begunAt,
                at,
                gear,
                timeFactor,
                check,
                readings,
                blanks,
                outcome,
                words,
                reason,
                carried);
    }
}
