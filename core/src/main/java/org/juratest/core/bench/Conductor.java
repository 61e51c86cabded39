package org.juratest.core.bench;

import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.UUID;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.method.StopException;
import org.juratest.core.method.StopSignal;
import org.juratest.core.port.Energising;
import org.juratest.core.port.GearException;
import org.juratest.core.port.GearIdentity;
import org.juratest.core.port.Linked;
import org.juratest.core.port.Port;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.run.Announcement;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.EventData;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.ReadBack;
import org.juratest.core.run.Reading;
import org.juratest.core.run.RunState;
import org.juratest.core.trace.Trace;

/**
 * Carries out one live measurement that the journal already has as energised: prepares the gear, lets the method work
 * through ports that let nothing through but what was announced, makes safe whatever happened, and writes what the gear
 * answered. The output is off, or was told to be, when {@link #conduct} returns.
 */
public final class Conductor {

    private final Journal journal;
    private final Energising port;
    private final GearFacts gear;
    private final StopSignal stop;
    private final LiveGuard guard;
    private final Consumer<Progress> progress;
    private final List<OutputEvents.Discharged> residuals = new ArrayList<>();

    /** @param progress gets what is measured at the moment; must not block */
    public Conductor(
            Journal journal,
            Energising port,
            GearFacts gear,
            StopSignal stop,
            LiveGuard guard,
            Consumer<Progress> progress) {
        this.journal = journal;
        this.port = port;
        this.gear = gear;
        this.stop = stop;
        this.guard = guard;
        this.progress = progress;
    }

    /**
     * What is measured at the moment.
     *
     * @param values by name, in its order: a sentence made of them must not change its mind about what comes first
     * @param picture short traces to be drawn; empty where there is nothing to draw
     */
    public record Progress(Map<String, Quantity> values, List<Trace> picture) {
        public Progress {
            values = Collections.unmodifiableMap(new TreeMap<>(values));
        }
    }

    /** How it ended, and what became of the gear; absent where it still answers. */
    private record End(Method.Result result, @Nullable GearException lost) {}

    /** What is done with the gear once it is prepared. */
    public interface Work {
        Method.Result with(MethodBench bench);
    }

    /**
     * Measures one step and lane.
     *
     * @param announced what was announced; nothing else goes through
     * @param step as it was announced, on its lane
     * @param label what the gear is told it is connected to
     */
    public Attempt.Outcome conduct(UUID attempt, Announcement announced, Step step, Method method, String label) {
        if (!method.spec().byHand()) {
            return conduct(attempt, announced, step, label, method::run);
        }
        // Whatever the method does with it: without a hand on it the guard switches off.
        stop.hand().begun(System.nanoTime());
        guard.heldBy(stop.hand());
        try {
            return conduct(attempt, announced, step, label, method::run);
        } finally {
            guard.heldBy(null);
        }
    }

    /**
     * Likewise, of any work.
     *
     * @param step absent for what is no attempt at points of a step: readings of it cannot be written
     */
    public Attempt.Outcome conduct(UUID attempt, Announcement announced, @Nullable Step step, String label, Work work) {
        Gate gate = new Gate(announced, stop, guard::check);
        End end = null;
        ReadBack readBack;
        guard.watch(port, gate);
        try {
            end = measured(attempt, announced, step, label, work, gate);
        } finally {
            gate.close();
            // Before anything else, whatever happened: also when the journal cannot be written, or the program runs out
            // of memory.
            readBack = port.makeSafe();
            guard.unwatch();
        }
        Method.Result result = end.result;
        List<EventData> events = new ArrayList<>();
        if (end.lost != null) {
            events.add(new OutputEvents.GearLost(of(end.lost).id(), String.valueOf(end.lost.getMessage())));
        }
        events.add(new OutputEvents.OutputOff(attempt, result.offReason(), result.words(), readBack));
        if (step != null) {
            events.add(new AttemptEvents.AttemptClosed(attempt, result.outcome(), result.words()));
        }
        // What is left is told once the output is off: only then does anything stay charged.
        events.addAll(residuals);
        journal.append(events.toArray(new EventData[0]));
        return result.outcome();
    }

    private GearFacts of(GearException e) {
        return e.gear() == null ? gear : e.gear();
    }

    private End measured(
            UUID attempt, Announcement announced, @Nullable Step step, String label, Work work, Gate gate) {
        try {
            prepare(attempt, announced, step, label);
            return new End(work.with(new Bench(attempt, announced.lane(), step, gate)), null);
        } catch (StopException e) {
            return aborted(e);
        } catch (GearException e) {
            return failed(e);
        } catch (Gate.NotAnnouncedException e) {
            return new End(
                    new Method.Result(
                            Attempt.Outcome.INSTRUMENT_ERROR,
                            OutputEvents.OffReason.ERROR,
                            String.valueOf(e.getMessage())),
                    null);
        } catch (RuntimeException e) {
            return new End(
                    new Method.Result(
                            Attempt.Outcome.INSTRUMENT_ERROR, OutputEvents.OffReason.ERROR, "the program failed: " + e),
                    null);
        }
    }

    private End aborted(StopException e) {
        if (e.fault() != null) {
            // The guard saw before the method did that the gear is gone; it is the gear's fault all the same.
            return new End(
                    new Method.Result(
                            Attempt.Outcome.INSTRUMENT_ERROR,
                            e.reason(),
                            of(e.fault()).name() + ": " + e.getMessage()),
                    e.fault());
        }
        return new End(new Method.Result(Attempt.Outcome.ABORTED, e.reason(), String.valueOf(e.getMessage())), null);
    }

    private End failed(GearException e) {
        try {
            // A stop may be what upset a command that was under way; then the stop is the reason.
            stop.check();
        } catch (StopException stopped) {
            return aborted(stopped);
        }
        boolean answers = e.fault() == GearException.Fault.REFUSED;
        return new End(
                new Method.Result(
                        Attempt.Outcome.INSTRUMENT_ERROR,
                        OutputEvents.OffReason.GEAR_LOST,
                        of(e).name() + ": " + e.getMessage()),
                answers ? null : e);
    }

    private void prepare(UUID attempt, Announcement announced, @Nullable Step step, String label) {
        double factor;
        try {
            GearIdentity identity = port.identify();
            if (!identity.serial().equals(gear.serial())) {
                throw new GearException(
                        GearException.Fault.WRONG_IDENTITY,
                        "number " + identity.serial() + " answers at its address, but number " + gear.serial()
                                + " was chosen");
            }
            factor = port.timeFactor();
            port.connectTo(label);
            port.watchdog(LiveGuard.WATCHDOG_SECONDS);
        } catch (GearException e) {
            begun(attempt, announced, step, 1);
            throw e;
        }
        guard.feed(factor);
        begun(attempt, announced, step, factor);
        stop.check();
    }

    private void begun(UUID attempt, Announcement announced, @Nullable Step step, double factor) {
        if (step != null) {
            journal.append(new AttemptEvents.AttemptBegun(attempt, step.id(), announced.lane(), gear.id(), factor));
        }
    }

    private final class Bench extends ResultWriter implements MethodBench {

        private final UUID attempt;
        private final @Nullable Step step;
        private final String lane;
        private final Gate gate;

        Bench(UUID attempt, String lane, @Nullable Step step, Gate gate) {
            super(journal, attempt, step, lane, Conductor.this.gear, Reading.Source.MEASURED);
            this.attempt = attempt;
            this.step = step;
            this.lane = lane;
            this.gate = gate;
        }

        @Override
        public GearFacts gear() {
            return gear;
        }

        @Override
        public <T extends Port> T port(Class<T> role) {
            if (port instanceof Linked linked) {
                return gate.limited(
                        role,
                        linked.find(role)
                                .orElseThrow(() -> new IllegalStateException(
                                        "no gear of this step is a " + role.getSimpleName())));
            }
            if (!role.isInstance(port)) {
                throw new IllegalStateException(gear.name() + " is not a " + role.getSimpleName());
            }
            return gate.limited(role, role.cast(port));
        }

        @Override
        public StopSignal stop() {
            return stop;
        }

        @Override
        public void connectionChecked(boolean good, String words, Map<String, Quantity> with) {
            journal.append(new AttemptEvents.ConnectionChecked(attempt, good, words, with));
        }

        @Override
        public boolean provedBefore() {
            RunState state = state();
            long moved =
                    state.moved().stream().mapToLong(RunState.Moved::at).max().orElse(-1);
            return state.attempts().stream()
                    .filter(a -> a.begunAt() > moved && a.counts() && !a.id().equals(attempt))
                    .filter(a -> a.lane().equals(lane) && gear.id().equals(a.gear()))
                    .anyMatch(a -> a.check() != null && a.check().good());
        }

        @Override
        public void discharged(Quantity residual) {
            residuals.add(new OutputEvents.Discharged(step().id(), lane, residual));
        }

        @Override
        public void adjusted(List<PointKey> points, String what, List<AttemptEvents.SettingChange> settings) {
            journal.append(new AttemptEvents.AdjustmentMade(points, what, settings));
        }

        @Override
        public void progress(Map<String, Quantity> values) {
            progress.accept(new Progress(values, List.of()));
        }

        @Override
        public void progress(Map<String, Quantity> values, List<Trace> picture) {
            progress.accept(new Progress(values, picture));
        }
    }
}
