package org.juratest.core.run;

import java.time.Instant;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.Discharge;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;

/** Events of what can energise something. */
public final class OutputEvents {

    private OutputEvents() {}

    /**
     * A live step stands ready for its held press.
     *
     * @param what voltage or current, for how long, where, in words
     * @param until when it falls back to safe by itself
     * @param on whether what follows by itself is measured with the same press; absent: only this step
     * @param then what that is, as {@code step/lane}, as far as it was known then; absent where nothing was
     * @param arming what was announced; absent in runs of versions that kept only the words
     */
    public record Armed(
            String step,
            String lane,
            String gear,
            String what,
            Instant until,
            @Nullable Boolean on,
            @Nullable List<String> then,
            @Nullable Arming arming)
            implements EventData {

        public Armed {
            then = then == null || then.isEmpty() ? null : List.copyOf(then);
        }

        public Armed(String step, String lane, String gear, String what, Instant until) {
            this(step, lane, gear, what, until, null, null, null);
        }

        @Override
        public void fits(RunState before) {
            Rules.fits(before, this, before.output().mode() == Output.Mode.SAFE && !before.isBusy());
        }

        @Override
        public void fold(RunState next, Event event) {
            // What is done with gear alone, such as to characterise a lead, is no step.
            if (next.procedure().step(step).isPresent()) {
                next.currentStep = step;
            }
            next.output = new Output(Output.Mode.ARMED, step, lane, null, gear, what, until);
            next.arming = this;
        }
    }

    /**
     * Everything that was announced when a step was armed.
     *
     * @param first what the held press begins with
     * @param following digest of the announcement of every place that the same press may go on with, by
     *     {@code step/lane}; absent where it ends with the first
     */
    public record Arming(Announcement first, @Nullable Map<String, String> following) {
        public Arming {
            following = following == null ? null : Collections.unmodifiableMap(new TreeMap<>(following));
        }
    }

    /** An armed step fell back to safe without having been live. */
    public record Disarmed(String reason) implements EventData {
        @Override
        public void fits(RunState before) {
            Rules.fits(before, this, before.output().mode() == Output.Mode.ARMED);
        }

        @Override
        public void fold(RunState next, Event event) {
            next.output = Output.SAFE;
        }
    }

    /**
     * The output is about to be switched on; written before it is.
     *
     * @param conductor process that conducts it: the run is busy from here until that process says {@link Conducted};
     *     absent in runs of versions that did not say so
     */
    public record Energised(
            UUID attempt,
            String step,
            String lane,
            String gear,
            Map<String, Quantity> settings,
            @Nullable String conductor)
            implements EventData {

        public Energised {
            settings = Collections.unmodifiableMap(new TreeMap<>(settings));
        }

        public Energised(UUID attempt, String step, String lane, String gear, Map<String, Quantity> settings) {
            this(attempt, step, lane, gear, settings, null);
        }

        @Override
        public void fits(RunState before) {
            boolean goesOn = before.isBusy()
                    && before.output().mode() == Output.Mode.SAFE
                    && java.util.Objects.equals(before.busyWith(), conductor);
            Rules.fits(before, this, before.output().mode() == Output.Mode.ARMED && !before.isBusy() || goesOn);
        }

        @Override
        public void fold(RunState next, Event event) {
            String what = next.output.what();
            next.output = new Output(Output.Mode.LIVE, step, lane, attempt, gear, what, null);
            next.coolingOverruled = null;
            next.busyWith = conductor;
        }
    }

    /** The conductor has ended: nothing more is switched on by the press that began it. */
    public record Conducted(String words) implements EventData {
        @Override
        public void fits(RunState before) {
            Rules.fits(before, this, before.isBusy() && before.output().mode() != Output.Mode.LIVE);
        }

        @Override
        public void fold(RunState next, Event event) {
            next.busyWith = null;
        }
    }

    /** Why an output went off. */
    public enum OffReason {
        DONE,
        TRIPPED,
        TIME_LIMIT,
        STOPPED,
        SCREEN_LOST,
        GEAR_LOST,
        GEAR_WATCHDOG,
        EMERGENCY_STOP,
        CIRCUIT_OPEN,
        SERVER_STOP,
        ERROR
    }

    /** The output is off, as far as the gear confirms it. */
    public record OutputOff(@Nullable UUID attempt, OffReason reason, String words, ReadBack readBack)
            implements EventData {
        @Override
        public void fits(RunState before) {
            Rules.fits(before, this, before.output().mode() == Output.Mode.LIVE);
        }

        @Override
        public void fold(RunState next, Event event) {
            if (next.output.step() != null) {
                next.outputOffAt = RunState.put(next.outputOffAt, next.output.step(), event.at());
                charged(next, next.output.step(), String.valueOf(next.output.lane()), event.at());
            }
            next.switchedOff(readBack);
        }
    }

    private static void charged(RunState next, String step, String lane, Instant at) {
        Discharge rule = next.procedure().step(step).map(Step::discharge).orElse(null);
        if (rule != null) {
            double factor = next.output.attempt() == null
                    ? 1
                    : next.attempt(next.output.attempt())
                            .map(Attempt::timeFactor)
                            .orElse(1.0);
            next.charges =
                    RunState.put(next.charges, new Charge.Place(step, lane), new Charge(rule, at, factor, null, null));
        }
    }

    /** Remaining voltage was measured after an output, by the gear of the step or by hand. */
    public record Discharged(String step, String lane, Quantity residual) implements EventData {
        @Override
        public void check(RunState before) {
            Rules.open(before);
            Rules.notLive(before, "A remaining voltage is measured once the output is off; not");
            if (!residual.unit().dimension().equals(Unit.VOLT.dimension())) {
                throw new Refusal(
                        "wrong-unit",
                        "A remaining voltage is entered in V, not in "
                                + residual.unit().symbol() + ".",
                        "residual.unit");
            }
            if (!(Math.abs(residual.value()) <= Double.MAX_VALUE)) {
                throw new Refusal("not-a-number", "Enter the remaining voltage.", "residual.value");
            }
            Rules.charge(before, step, lane);
        }

        @Override
        public void fold(RunState next, Event event) {
            next.remarks = RunState.added(next.remarks, event);
            Charge.Place place = new Charge.Place(step, lane);
            Charge charge = next.charges.get(place);
            if (charge != null) {
                next.charges = RunState.put(
                        next.charges,
                        place,
                        charge.measured(Math.abs(residual.unit().convert(residual.value(), Unit.VOLT))));
            }
        }
    }

    /** A person earthed the part by hand. */
    public record Earthed(String step, String lane) implements EventData {
        @Override
        public void check(RunState before) {
            Rules.open(before);
            Rules.notLive(before, "Nothing can be earthed");
            Charge charge = Rules.charge(before, step, lane);
            if (charge.residual() == null
                    || !(charge.residual() <= charge.rule().below())) {
                throw new Refusal(
                        "still-charged",
                        charge.residual() == null
                                ? "First measure the voltage that is left."
                                : "There are still " + Rules.plain(charge.residual()) + " V on it; it is earthed at "
                                        + Rules.plain(charge.rule().below()) + " V or less.",
                        "lane");
            }
        }

        @Override
        public void fold(RunState next, Event event) {
            next.remarks = RunState.added(next.remarks, event);
            Charge.Place place = new Charge.Place(step, lane);
            Charge charge = next.charges.get(place);
            if (charge != null) {
                next.charges = RunState.put(next.charges, place, charge.earthed(event.at()));
            }
        }
    }

    /** Gear stopped answering, or answers what cannot be. */
    public record GearLost(String gear, String what) implements EventData {
        @Override
        public void fold(RunState next, Event event) {
            next.gearLost = RunState.put(next.gearLost, gear, what);
        }
    }

    /** Gear answers again, and says what its output is. */
    public record GearBack(String gear, String identity, ReadBack readBack) implements EventData {
        @Override
        public void fold(RunState next, Event event) {
            next.gearLost = RunState.removed(next.gearLost, gear);
            if (readBack.off()) {
                next.unconfirmed = RunState.removed(next.unconfirmed, gear);
            }
        }
    }
}
