package org.juratest.core.run;

import java.util.List;
import org.jspecify.annotations.Nullable;
import org.juratest.core.correction.InsulationTemperature;
import org.juratest.core.procedure.Confirmation;
import org.juratest.core.procedure.Lane;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Step;
import org.juratest.core.procedure.StepKind;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;

/** Events of one step: what a person does, confirms, sees and notes. */
public final class StepEvents {

    private StepEvents() {}

    /** A person turned to a step. */
    public record StepBegun(String step) implements EventData {
        @Override
        public void check(RunState before) {
            Rules.open(before);
            before.stepInScope(step);
        }

        @Override
        public void fold(RunState next, Event event) {
            next.currentStep = step;
            if (!next.begun.containsKey(step)) {
                next.begun = RunState.put(next.begun, step, event.at());
            }
        }
    }

    /** One confirmation of a hold was ticked. */
    public record HoldReleased(String step, String confirmation) implements EventData {
        @Override
        public void check(RunState before) {
            Rules.open(before);
            Rules.rightDevice(before);
            Rules.notLive(before, "Nothing can be confirmed");
            Rules.confirmation(before, step, confirmation);
            Rules.earlierHoldsReleased(before, before.stepInScope(step));
            if (before.stepInScope(step).kind() == StepKind.INSTRUCTION) {
                // What was measured allows what a person is told to do. A measurement asks by itself, lane by lane.
                Rules.notAfterFail(before, before.stepInScope(step), Lane.NONE);
            }
            Decisions.made(before, before.stepInScope(step));
            if (before.isConfirmed(step, confirmation)) {
                throw new Refusal("already-confirmed", "This was already confirmed.", "confirmation");
            }
        }

        @Override
        public void fold(RunState next, Event event) {
            next.confirmed = RunState.put(next.confirmed, new RunState.Held(step, confirmation), event.id());
        }
    }

    /** What a confirmation put on, took off or blocked has been put back. */
    public record Restored(String step, String confirmation) implements EventData {
        @Override
        public void check(RunState before) {
            Rules.open(before);
            Rules.notLive(before, "Nothing can be put back");
            Confirmation found = Rules.confirmation(before, step, confirmation);
            if (found.back() == null
                    || !before.isConfirmed(step, confirmation)
                    || before.isRestored(step, confirmation)) {
                throw new Refusal(
                        "nothing-to-put-back", "There is nothing to put back for this confirmation.", "confirmation");
            }
        }

        @Override
        public void fold(RunState next, Event event) {
            next.restored = RunState.put(next.restored, new RunState.Held(step, confirmation), event.id());
        }
    }

    /** The three answers of an inspection. */
    public enum Answer {
        IN_ORDER,
        DEFECT,
        NOT_IN_ORDER
    }

    /** An inspection point was answered; the last answer counts. */
    public record AnswerGiven(String step, String point, String lane, Answer answer, @Nullable String words)
            implements EventData {
        @Override
        public void check(RunState before) {
            Rules.open(before);
            Rules.rightDevice(before);
            Step found = before.stepInScope(step);
            Rules.holdsReleased(before, found);
            if (found.kind() != StepKind.INSPECTION || found.point(point).isEmpty()) {
                throw new Refusal("unknown-point", "This inspection has no point \"" + point + "\".", "point");
            }
            Rules.lane(before, found, lane);
            if (answer != Answer.IN_ORDER) {
                Rules.words(words, "words");
            }
        }

        @Override
        public void fold(RunState next, Event event) {
            next.answers = RunState.put(next.answers, new PointKey(step, point, lane), this);
        }
    }

    /** A condition of the measurement, such as {@value #EQUIPMENT_TEMPERATURE}. */
    public record ConditionEntered(String what, Quantity value) implements EventData {

        public static final String EQUIPMENT_TEMPERATURE = "equipmentTemperature";
        private static final List<String> KNOWN = List.of(EQUIPMENT_TEMPERATURE, "ambientTemperature", "humidity");

        @Override
        public void check(RunState before) {
            Rules.open(before);
            if (!KNOWN.contains(what)) {
                throw new Refusal(
                        "unknown-condition", "A condition is one of " + String.join(", ", KNOWN) + ".", "what");
            }
            Unit unit = what.equals("humidity") ? Unit.PERCENT : Unit.CELSIUS;
            if (!value.unit().equals(unit)) {
                throw new Refusal("wrong-unit", "The " + what + " is entered in " + unit.symbol() + ".", "value.unit");
            }
            if (what.equals("humidity") ? !(value.value() >= 0 && value.value() <= 100) : !temperature(value.value())) {
                throw new Refusal(
                        "out-of-range",
                        "The " + what + " cannot be " + value.value() + " " + unit.symbol() + ".",
                        "value.value");
            }
        }

        /** What a condition is called: "equipment temperature". */
        static String words(String what) {
            return what.replaceAll("([A-Z])", " $1").toLowerCase(java.util.Locale.ROOT);
        }

        private static boolean temperature(double degrees) {
            try {
                InsulationTemperature.APPARATUS.factor(degrees);
                return true;
            } catch (IllegalArgumentException e) {
                return false;
            }
        }

        @Override
        public void fold(RunState next, Event event) {
            next.conditions = RunState.put(next.conditions, what, value);
        }
    }

    /** A step is not done, and why. */
    public record StepSkipped(String step, String reason) implements EventData {
        @Override
        public void check(RunState before) {
            Rules.open(before);
            Rules.notLive(before, "No step can be skipped");
            Step found = before.stepInScope(step);
            Rules.words(reason, "reason");
            if (!Rules.maySkip(before, found)) {
                throw new Refusal(
                        "hold-cannot-be-skipped",
                        "\"" + found.title() + "\" makes the work safe; it cannot be skipped.",
                        "step");
            }
        }

        @Override
        public void fold(RunState next, Event event) {
            next.skipped = RunState.put(next.skipped, step, reason);
        }
    }

    /**
     * A person goes on although a step failed that the next ones ask about. It holds until that is measured again.
     *
     * @param after id of the step that failed
     */
    public record WentOn(String after, String reason) implements EventData {
        @Override
        public void check(RunState before) {
            Rules.open(before);
            Rules.notLive(before, "Nothing can be decided");
            Step failed = before.stepInScope(after);
            Rules.words(reason, "reason");
            if (!Decisions.failed(before, after)) {
                throw new Refusal("nothing-to-decide", "\"" + failed.title() + "\" has not failed.", "after");
            }
        }

        @Override
        public void fold(RunState next, Event event) {
            next.wentOn = RunState.put(next.wentOn, after, event.n());
        }
    }

    /** A person goes on before the pause for cooling is over. */
    public record CoolingOverruled(String reason) implements EventData {
        @Override
        public void check(RunState before) {
            Rules.open(before);
            Rules.words(reason, "reason");
        }

        @Override
        public void fold(RunState next, Event event) {
            next.coolingOverruled = reason;
        }
    }

    /** A note. */
    public record Note(String text) implements EventData {
        @Override
        public void check(RunState before) {
            Rules.open(before);
            Rules.words(text, "text");
        }

        @Override
        public void fold(RunState next, Event event) {
            next.remarks = RunState.added(next.remarks, event);
        }
    }

    /**
     * A photo.
     *
     * @param blob SHA-256 of its bytes, lower-case hex
     * @param mediaType {@code image/jpeg} or {@code image/png}
     */
    public record Photo(String blob, String mediaType, @Nullable String words) implements EventData {
        @Override
        public void check(RunState before) {
            Rules.open(before);
            if (!blob.matches("[0-9a-f]{64}")) {
                throw new Refusal("bad-blob", "A photo is named by the SHA-256 of its bytes.", "blob");
            }
        }

        @Override
        public void fold(RunState next, Event event) {
            next.remarks = RunState.added(next.remarks, event);
        }
    }
}
