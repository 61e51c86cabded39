package org.juratest.core.run;

import java.time.Instant;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.LimitSpec;
import org.juratest.core.limit.ResolvedLimit;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Step;
import org.juratest.core.procedure.StepKind;
import org.juratest.core.quantity.Quantity;

/** Events of attempts, their readings and their limits. */
public final class AttemptEvents {

    private AttemptEvents() {}

    private static boolean isUnderWay(RunState before, UUID attempt) {
        return before.attempt(attempt).filter(a -> a.outcome() == null).isPresent();
    }

    /** An attempt at the points of a step and lane. */
    public record AttemptBegun(UUID attempt, String step, String lane, @Nullable String gear, double timeFactor)
            implements EventData {
        @Override
        public void fits(RunState before) {
            Rules.fits(before, this, before.attempt(attempt).isEmpty());
        }

        @Override
        public void fold(RunState next, Event event) {
            // A derivation follows by itself; the work stays at the step it follows from.
            if (next.procedure()
                    .step(step)
                    .map(s -> s.kind() != StepKind.DERIVATION)
                    .orElse(true)) {
                next.currentStep = step;
            }
            next.attempts = RunState.put(
                    next.attempts,
                    attempt,
                    new Attempt(
                            attempt,
                            step,
                            lane,
                            event.n(),
                            event.at(),
                            gear,
                            timeFactor,
                            null,
                            List.of(),
                            List.of(),
                            null,
                            null,
                            null,
                            null));
        }
    }

    /**
     * The values of an attempt were not measured in this run but in an earlier one, and are carried over.
     *
     * @param run they were measured in, or carried over from by then
     * @param of attempt in that run
     * @param record number of its record
     * @param takenAt when they were measured
     */
    public record AttemptCarried(UUID attempt, UUID run, UUID of, String record, Instant takenAt) implements EventData {
        @Override
        public void fits(RunState before) {
            Rules.fits(before, this, isUnderWay(before, attempt));
        }

        @Override
        public void fold(RunState next, Event event) {
            next.changeAttempt(attempt, a -> a.with(this));
        }
    }

    /** A small current found the circuit good, open or poor. */
    public record ConnectionChecked(UUID attempt, boolean good, String words, Map<String, Quantity> with)
            implements EventData {
        public ConnectionChecked {
            with = Collections.unmodifiableMap(new TreeMap<>(with));
        }

        @Override
        public void fits(RunState before) {
            Rules.fits(before, this, isUnderWay(before, attempt));
        }

        @Override
        public void fold(RunState next, Event event) {
            next.changeAttempt(attempt, a -> a.with(this));
        }
    }

    /** A reading taken from gear, or derived. */
    public record ReadingTaken(UUID attempt, Reading reading) implements EventData {
        @Override
        public void fits(RunState before) {
            Rules.fits(before, this, isUnderWay(before, attempt));
        }

        @Override
        public void fold(RunState next, Event event) {
            next.changeAttempt(attempt, a -> a.with(reading));
        }
    }

    /** Why a point of an attempt has no value. */
    public enum Blank {
        /** What is measured is not there: a lamp that stays dark. */
        NOTHING_THERE,
        /** More than the gear can measure, by how much nobody knows. */
        OVER_RANGE,
        /**
         * What it takes to measure it is not given: a load that is too little, a reference that is not there. It says
         * nothing of the device.
         */
        NOT_MEASURABLE
    }

    /** An attempt has no value for a point. */
    public record NoValue(UUID attempt, PointKey key, Blank blank, String words) implements EventData {
        @Override
        public void fits(RunState before) {
            Rules.fits(before, this, isUnderWay(before, attempt));
        }

        @Override
        public void fold(RunState next, Event event) {
            next.changeAttempt(attempt, a -> a.with(this));
        }
    }

    /**
     * A person says of an attempt that nothing could tell: whether it was the connection, or the device.
     *
     * @param device whether the connection is good, so that what was measured counts
     */
    public record AttemptSettled(UUID attempt, boolean device, String words) implements EventData {
        @Override
        public void check(RunState before) {
            Rules.open(before);
            Rules.notLive(before, "No attempt can be settled");
            Attempt found = before.attempt(attempt)
                    .orElseThrow(() ->
                            new Refusal("unknown-attempt", "This run has no attempt " + attempt + ".", "attempt"));
            if (found.outcome() != Attempt.Outcome.UNCLEAR) {
                throw new Refusal("attempt-is-clear", "There is nothing to settle about this attempt.", "attempt");
            }
            Rules.words(words, "words");
        }

        @Override
        public void fold(RunState next, Event event) {
            next.changeAttempt(
                    attempt,
                    a -> a.closed(
                            device ? Attempt.Outcome.VALID : Attempt.Outcome.CONNECTION_FAILED,
                            a.words() + ". Settled: " + words));
        }
    }

    /** What a capture is. */
    public enum CaptureKind {
        TRACE,
        SOUND,
        PICTURE,
        FILE
    }

    /**
     * What was captured during an attempt beside its readings.
     *
     * @param sha256 of its bytes, lower-case hex
     * @param facts what belongs to it, by name: units and number of values of a trace, seconds of a sound, size of a
     *     picture
     */
    public record Captured(
            UUID attempt, CaptureKind kind, String name, String sha256, String mediaType, Map<String, String> facts)
            implements EventData {
        /** Name of the fact that says what it is kept for, where that is not to be looked at. */
        public static final String FOR = "for";
        /** It is kept to be written as files that other programs read. */
        public static final String FILES = "files";

        public Captured {
            facts = Collections.unmodifiableMap(new TreeMap<>(facts));
        }

        /** Whether it is kept to be written as a file, not to be drawn. */
        public boolean keptForFiles() {
            return FILES.equals(facts.get(FOR));
        }

        @Override
        public void fits(RunState before) {
            Rules.fits(before, this, isUnderWay(before, attempt));
        }

        @Override
        public void fold(RunState next, Event event) {
            next.captures = RunState.added(next.captures, this);
        }
    }

    /**
     * A row of a feature that a measurement discovered; its columns follow as readings of points {@code column#row}.
     *
     * @param lane of the attempt
     * @param row from 1; the same row as in earlier attempts where the keys agree
     * @param at its key
     */
    public record FeatureFound(UUID attempt, String feature, String lane, int row, Quantity at, @Nullable String words)
            implements EventData {
        @Override
        public void fits(RunState before) {
            Rules.fits(before, this, isUnderWay(before, attempt));
        }

        @Override
        public void fold(RunState next, Event event) {
            next.features = RunState.added(next.features, this);
        }
    }

    /**
     * A trace captured with the readings of an attempt, as runs before {@link Captured} kept it.
     *
     * @param blob SHA-256 of its bytes, lower-case hex
     * @param xUnit UCUM code
     * @param yUnit UCUM code
     * @param points how many values it has
     */
    public record TraceTaken(UUID attempt, String name, String blob, String xUnit, String yUnit, int points)
            implements EventData {
        @Override
        public void fits(RunState before) {
            Rules.fits(before, this, isUnderWay(before, attempt));
        }

        @Override
        public void fold(RunState next, Event event) {
            next.captures = RunState.added(
                    next.captures,
                    new Captured(
                            attempt,
                            CaptureKind.TRACE,
                            name,
                            blob,
                            RunState.TRACE_TYPE,
                            Map.of("xUnit", xUnit, "yUnit", yUnit, "points", Integer.toString(points))));
        }
    }

    /** A reading a person typed, read off stand-alone gear. */
    public record ReadingEntered(UUID attempt, Reading reading) implements EventData {
        @Override
        public void fits(RunState before) {
            Rules.fits(before, this, isUnderWay(before, attempt));
        }

        @Override
        public void fold(RunState next, Event event) {
            next.changeAttempt(attempt, a -> a.with(reading));
        }
    }

    /**
     * What was heard during an attempt, as runs before {@link Captured} kept it.
     *
     * @param blob SHA-256 of its bytes, a WAVE file
     * @param seconds how long it is
     */
    public record SoundTaken(UUID attempt, String name, String blob, double seconds) implements EventData {
        @Override
        public void fits(RunState before) {
            Rules.fits(before, this, isUnderWay(before, attempt));
        }

        @Override
        public void fold(RunState next, Event event) {
            next.captures = RunState.added(
                    next.captures,
                    new Captured(
                            attempt,
                            CaptureKind.SOUND,
                            name,
                            blob,
                            "audio/wav",
                            Map.of("seconds", Double.toString(seconds))));
        }
    }

    /** The attempt is over. */
    public record AttemptClosed(UUID attempt, Attempt.Outcome outcome, String words) implements EventData {
        @Override
        public void fits(RunState before) {
            Rules.fits(before, this, isUnderWay(before, attempt));
        }

        @Override
        public void fold(RunState next, Event event) {
            next.changeAttempt(attempt, a -> a.closed(outcome, words));
        }
    }

    /** Set-up faults for which an attempt may be voided. "Outside the limit" is not one. */
    public enum VoidReason {
        LEAD,
        RANGE,
        TEMPERATURE,
        DISTURBANCE,
        WRONG_LANE,
        OTHER_SETUP
    }

    /** An attempt does not count, for a fault of the set-up. */
    public record AttemptVoided(UUID attempt, VoidReason reason, String words) implements EventData {
        @Override
        public void check(RunState before) {
            Rules.open(before);
            Rules.notLive(before, "No attempt can be voided");
            Attempt found = before.attempt(attempt)
                    .orElseThrow(() ->
                            new Refusal("unknown-attempt", "This run has no attempt " + attempt + ".", "attempt"));
            if (!found.counts()) {
                throw new Refusal("attempt-does-not-count", "This attempt does not count anyway.", "attempt");
            }
            Rules.words(words, "words");
        }

        @Override
        public void fold(RunState next, Event event) {
            next.changeAttempt(attempt, a -> a.with(this));
        }
    }

    /**
     * A setting of the device before and after an adjustment.
     *
     * @param name as the device calls it
     * @param label in words, with the lane
     */
    public record SettingChange(String name, String label, int before, int after) {}

    /**
     * Something was done to the asset: the next attempts at these points are as left.
     *
     * @param points {@code step/point/lane}
     * @param settings of the device that were changed over its data port; absent where a person adjusted by hand
     */
    public record AdjustmentMade(List<PointKey> points, String what, @Nullable List<SettingChange> settings)
            implements EventData {
        public AdjustmentMade {
            points = List.copyOf(points);
            settings = settings == null || settings.isEmpty() ? null : List.copyOf(settings);
        }

        public AdjustmentMade(List<PointKey> points, String what) {
            this(points, what, null);
        }

        @Override
        public void check(RunState before) {
            Rules.open(before);
            Rules.notLive(before, "Nothing can be adjusted");
            Rules.words(what, "what");
            if (settings != null) {
                throw new Refusal(
                        "unknown-action",
                        "Which settings changed over a data port is written by what changed them, not told by a "
                                + "person.",
                        "settings");
            }
            if (points.isEmpty()) {
                throw new Refusal("no-points", "Say which points the adjustment touches.", "points");
            }
            Set<PointKey> keys = new TreeSet<>(before.procedure().keys(before.scope()));
            for (PointKey point : points) {
                // A row is no key before it is found.
                if (!keys.contains(point) && Rows.key(before, point) == null) {
                    throw new Refusal("unknown-point", "This run has no point \"" + point + "\".", "points");
                }
            }
        }

        @Override
        public void fold(RunState next, Event event) {
            next.adjustments = RunState.added(
                    next.adjustments,
                    new RunState.Adjustment(
                            event.n(), Set.copyOf(points), what, settings == null ? List.of() : settings));
        }
    }

    /**
     * A limit differs from the procedure's in this run.
     *
     * @param lane on which; absent for all
     */
    public record LimitChanged(String step, String point, LimitSpec limit, String reason, @Nullable String lane)
            implements EventData {

        public LimitChanged(String step, String point, LimitSpec limit, String reason) {
            this(step, point, limit, reason, null);
        }

        @Override
        public void check(RunState before) {
            Rules.open(before);
            Rules.notLive(before, "No limit can be changed");
            Rules.words(reason, "reason");
            Rules.limit(
                    before.stepInScope(step)
                            .point(point)
                            .orElseThrow(() ->
                                    new Refusal("unknown-point", "This step has no point \"" + point + "\".", "point")),
                    limit,
                    "limit");
            Rules.anyLane(before, before.stepInScope(step), lane);
        }

        @Override
        public void fold(RunState next, Event event) {
            next.changeLimit(this, event.id());
        }
    }

    /**
     * A parameter of a step differs from the procedure's in this run.
     *
     * @param lane on which; absent for all
     * @param value in the parameter's unit
     */
    public record ParamChanged(String step, String param, @Nullable String lane, double value, String reason)
            implements EventData {
        @Override
        public void check(RunState before) {
            Rules.open(before);
            Rules.notLive(before, "No parameter can be changed");
            Rules.words(reason, "reason");
            Rules.param(before, step, param, lane, value);
            if (!before.attempts(step, lane).isEmpty() && !Rules.learned(before.stepInScope(step), param)) {
                throw new Refusal(
                        "already-measured",
                        "\"" + before.stepInScope(step).title()
                                + "\" was measured with it already; it stays as it is in this run.",
                        "step");
            }
        }

        @Override
        public void fold(RunState next, Event event) {
            next.changeParam(step, param, lane, value, event.id());
        }
    }

    /**
     * A limit or a parameter is again what the procedure says, whoever or whatever variant had changed it.
     *
     * @param point whose limit; absent for a parameter
     * @param param absent for a limit
     * @param lane on which; absent for all
     */
    public record BackToProcedure(String step, @Nullable String point, @Nullable String param, @Nullable String lane)
            implements EventData {
        @Override
        public void check(RunState before) {
            Rules.open(before);
            Rules.notLive(before, "Nothing can be restored");
            if ((point == null) == (param == null)) {
                throw new Refusal("bad-request", "Say which limit or which parameter is restored.", "point");
            }
            Step found = before.procedure()
                    .step(step)
                    .orElseThrow(
                            () -> new Refusal("unknown-step", "This procedure has no step \"" + step + "\".", "step"));
            Rules.anyLane(before, found, lane);
            if (param != null && !before.attempts(step, lane).isEmpty()) {
                throw new Refusal(
                        "already-measured",
                        "\"" + found.title() + "\" was measured with it already; it stays as it is in this run.",
                        "step");
            }
        }

        @Override
        public void fold(RunState next, Event event) {
            next.backToProcedure(this, event.id());
        }
    }

    /**
     * A limit became plain numbers, and is fixed from now on.
     *
     * @param change event that changed the limit; absent where it is the procedure's
     */
    public record LimitResolved(PointKey key, ResolvedLimit limit, @Nullable UUID change) implements EventData {
        @Override
        public void fits(RunState before) {
            Rules.fits(before, this, true);
        }

        @Override
        public void fold(RunState next, Event event) {
            next.limits = RunState.put(next.limits, key, limit);
        }
    }
}
