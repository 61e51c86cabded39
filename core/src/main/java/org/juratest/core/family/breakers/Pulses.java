package org.juratest.core.family.breakers;

import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.OptionalDouble;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.method.Announced;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Announcement.Bound;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.Reading;
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.ReadingOrigin;
import org.juratest.core.run.RunState;
import org.juratest.core.trace.Trace;

/**
 * The least current at which a pole trips at once, by short pulses that climb until one trips it within its length.
 * Between pulses it waits until what they heat is gone: the mean square of the current, pauses counted, is that of
 * {@code rest} times the rated current. A first pulse that trips says only "at or below"; the next measurement of the
 * pole begins lower by itself. Where the step counts with an earlier, coarser search, it begins at the current that
 * held there. Points: {@code pickUp}, and with it {@code held}, the largest that did not trip, {@code peak} and
 * {@code offset} of the pulse that tripped.
 */
final class Pulses implements Method {

    private static final String PICK_UP = "pickUp";
    private static final String HELD = "held";
    private static final Duration POLL = Duration.ofMillis(20);
    /** The longest pause between two pulses, s by the clock. */
    private static final double LONGEST_PAUSE = 300;
    /** Of a start that tripped, where the next measurement begins. */
    private static final double LOWER = 0.75;
    /** Of the rms that was set, the least peak of a pulse that flowed: half a cycle of a sine has 1.4. */
    private static final double FLOWS = 0.5;
    /** A pulse and what is digitised behind it, s. */
    private static final double LONGEST_PULSE = 3;

    private static final MethodSpec SPEC = CircuitCheck.params(MethodSpec.named("breaker.pulses"))
            .hazard(MethodSpec.Hazard.CURRENT)
            .ports("current-source")
            .param("from", Unit.AMPERE, 0.1, 100_000)
            .param("step", Unit.AMPERE, 0.01, 10_000)
            .param("rated", Unit.AMPERE, 0.1, 10_000)
            .param("cycles", Unit.ONE, 1, 150, 5)
            .param("pointOnWave", Unit.ONE, 0, 360, 90)
            .param("rest", Unit.ONE, 0.1, 3, 1)
            .param("frequency", Unit.HERTZ, 16, 60, 50)
            .maximum("current", Unit.AMPERE, 100_000)
            .maximum("time", Unit.SECOND, LONGEST_PULSE)
            .point(PICK_UP, Unit.AMPERE)
            .point(HELD, Unit.AMPERE)
            .point("peak", Unit.AMPERE)
            .point("offset", Unit.PERCENT)
            .captures("Pulses", "Pulse that tripped", DigitisedCurrent.NAME)
            .build();

    @Override
    public MethodSpec spec() {
        return SPEC;
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        double from = Method.base(step.params(), "from");
        double check = Method.base(step.params(), "checkCurrent");
        double greatest = Method.base(step.maxima(), "current");
        double longest = Method.base(step.maxima(), "time");
        double length = length(step);
        Method.within("from", from, greatest);
        Method.within("checkCurrent", check, greatest);
        Method.within("time", length, longest);
        String what = String.format(
                Locale.ROOT,
                "%.4g A to check the leads, then pulses of %.3g s into %s, from %.4g A by %.3g A up to %.4g A",
                check,
                length,
                where,
                start(state, step, lane),
                Method.base(step.params(), "step"),
                greatest);
        return new Announced(
                what,
                Map.of(
                        "current",
                        Quantity.amperes(greatest),
                        "checkCurrent",
                        Quantity.amperes(check),
                        "pulse",
                        Quantity.seconds(length)),
                List.of(
                        Bound.upTo("current", greatest, "A", "the procedure's greatest current"),
                        Bound.upTo("time", Math.max(length, CircuitCheck.LIMIT), "s", "announced")),
                Set.of(WaveSource.class, CurrentSource.class),
                Math.max(length + 1, CircuitCheck.LIMIT));
    }

    private static double length(Step step) {
        return Method.base(step.params(), "cycles") / Method.base(step.params(), "frequency");
    }

    /** Where it begins: at what held before, lower than what tripped at once before, else where the step says. */
    private static double start(RunState state, Step step, String lane) {
        double from = Method.base(step.params(), "from");
        OptionalDouble held = org.juratest.core.run.References.value(state, step, lane, HELD);
        Reading last = state.attempts(step.id(), lane).stream()
                .filter(Attempt::counts)
                .flatMap(a -> a.readings().stream())
                .filter(r -> r.key().point().equals(PICK_UP))
                .reduce((a, b) -> b)
                .orElse(null);
        if (last != null && last.qualifier() == Qualifier.AT_MOST) {
            return LOWER * last.value();
        }
        return held.orElse(from);
    }

    @Override
    public Result run(MethodBench bench) {
        WaveSource source = bench.port(WaveSource.class);
        double greatest = bench.maximum("current");
        CircuitCheck check = CircuitCheck.of(bench, source, greatest);
        if (!check.good()) {
            return check.failed(bench, PICK_UP);
        }
        double start = Math.min(greatest, start(bench.state(), bench.step(), bench.lane()));
        PulseSearch search = new PulseSearch(start, bench.param("step"), greatest);
        List<Double> climbed = new ArrayList<>();
        PulseWave tripped = null;
        WaveSource.Wave wave = null;
        while (!search.isDone()) {
            double current = search.next();
            source.preparePulse(current, check.range(), length(bench.step()), bench.param("pointOnWave"));
            bench.stop().switchOn(source::outputOn);
            CurrentSource.Injection now = source.read();
            while (now.on()) {
                bench.stop().pause(POLL);
                now = source.read();
            }
            CurrentSource.OffCause cause = now.cause() == null ? CurrentSource.OffCause.COMMAND : now.cause();
            if (cause != CurrentSource.OffCause.TRIP && cause != CurrentSource.OffCause.LIMIT) {
                return CircuitCheck.ended(bench, cause);
            }
            wave = source.wave();
            climbed.add(current);
            search.was(cause == CurrentSource.OffCause.TRIP);
            PulseWave seen = PulseWave.of(wave.time(), wave.value(), bench.param("frequency"));
            if (seen.peak() < FLOWS * current) {
                // What did not flow tells nothing: a lead that fell off looks like a trip.
                told(bench, climbed);
                return CircuitCheck.open(
                        bench,
                        PICK_UP,
                        String.format(Locale.ROOT, "no current flowed in the pulse of %.4g A", current));
            }
            if (cause == CurrentSource.OffCause.TRIP) {
                tripped = seen;
            } else {
                rest(bench, source, climbed, seen.symmetrical(), seen.flowed());
            }
        }
        told(bench, climbed);
        return kept(bench, search, tripped, wave, check.range());
    }

    /** Waits until the heat of a pulse is spread over as long as the rated current would take for it. */
    private static void rest(
            MethodBench bench, WaveSource source, List<Double> climbed, double current, double seconds) {
        double bears = bench.param("rest") * bench.param("rated");
        double factor = source.timeFactor();
        double pause = Math.min(LONGEST_PAUSE * factor, current * current * seconds / (bears * bears));
        long end = System.nanoTime() + (long) (pause / factor * 1e9);
        for (long left = end - System.nanoTime(); left > 0; left = end - System.nanoTime()) {
            Map<String, Quantity> values = new HashMap<>();
            values.put("current", Quantity.amperes(current));
            values.put("rest", Quantity.seconds(left / 1e9));
            bench.progress(values, List.of(trace(climbed)));
            bench.stop().pause(Duration.ofNanos(Math.min(left, 200_000_000L)));
        }
        if (pause <= 0) {
            bench.progress(Map.of("current", Quantity.amperes(current)), List.of(trace(climbed)));
        }
    }

    private static Trace trace(List<Double> climbed) {
        double[] n = new double[climbed.size()];
        for (int i = 0; i < n.length; i++) {
            n[i] = i + 1;
        }
        return new Trace(
                "Pulses",
                Unit.ONE,
                Unit.AMPERE,
                n,
                climbed.stream().mapToDouble(Double::doubleValue).toArray());
    }

    private static void told(MethodBench bench, List<Double> climbed) {
        if (!climbed.isEmpty()) {
            bench.trace(trace(climbed));
        }
    }

    private static Result kept(
            MethodBench bench,
            PulseSearch search,
            @Nullable PulseWave tripped,
            WaveSource.@Nullable Wave wave,
            double range) {
        double step = bench.param("step");
        double frequency = bench.param("frequency");
        if (tripped == null || wave == null) {
            bench.keep(reading(bench, search.next(), step, range, frequency).qualifier(Qualifier.MORE));
            held(bench, search, range);
            return new Result(
                    Attempt.Outcome.VALID,
                    OutputEvents.OffReason.TIME_LIMIT,
                    String.format(Locale.ROOT, "no pulse up to %.4g A tripped it", search.next()));
        }
        bench.trace(new Trace("Pulse that tripped", Unit.SECOND, Unit.AMPERE, wave.time(), wave.value()));
        DigitisedCurrent digitised = new DigitisedCurrent(wave.time(), wave.value(), bench.param("frequency"));
        bench.trace(digitised.kept(), digitised.facts());
        // What tripped before a whole cycle flowed has no rms of its own: what was set stands for it.
        double current = tripped.flowed() * frequency >= 1 ? tripped.symmetrical() : search.next();
        ReadingBuilder reading =
                reading(bench, current, step, range, frequency).with("flowed", Quantity.seconds(tripped.flowed()));
        if (search.isAtOrBelow()) {
            bench.keep(reading.qualifier(Qualifier.AT_MOST)
                    .remark("the first pulse tripped it; measure again, it then begins lower"));
        } else {
            bench.keep(reading);
        }
        held(bench, search, range);
        if (bench.step().point("peak").isPresent()) {
            bench.keep(bench.value("peak", tripped.peak(), Unit.AMPERE)
                    .accuracy(Unit.AMPERE.dimension(), tripped.peak(), range, 1));
        }
        if (bench.step().point("offset").isPresent()) {
            if (tripped.flowed() * frequency >= 1) {
                bench.keep(bench.value("offset", tripped.offset(), Unit.PERCENT).unknown());
            } else {
                bench.noValue("offset", "it was interrupted within its first cycle");
            }
        }
        return new Result(
                Attempt.Outcome.VALID,
                OutputEvents.OffReason.TRIPPED,
                search.isAtOrBelow()
                        ? "the first pulse tripped it: close it, and measure again"
                        : String.format(Locale.ROOT, "tripped at %.4g A, held at %.4g A", current, search.lastHeld()));
    }

    private static void held(MethodBench bench, PulseSearch search, double range) {
        if (bench.step().point(HELD).isEmpty()) {
            return;
        }
        if (Double.isNaN(search.lastHeld())) {
            bench.noValue(HELD, "the first pulse tripped it");
        } else {
            bench.keep(bench.value(HELD, search.lastHeld(), Unit.AMPERE)
                    .accuracy(Unit.AMPERE.dimension(), search.lastHeld(), range, 1));
        }
    }

    /** The step is part of its uncertainty: what trips it lies within one step below. */
    private static ReadingBuilder reading(
            ReadingOrigin from, double current, double step, double range, double frequency) {
        return from.value(PICK_UP, current, Unit.AMPERE)
                .accuracy(Unit.AMPERE.dimension(), current, range, 1)
                .within(step)
                .with("frequency", new Quantity(frequency, Unit.HERTZ));
    }

    @Override
    public ReadingBuilder retold(
            ReadingOrigin origin, String point, double value, Unit unit, Map<String, Double> facts) {
        ReadingBuilder told = origin.value(point, value, unit);
        return unit.dimension().equals(Unit.AMPERE.dimension())
                ? told.accuracy(Unit.AMPERE.dimension(), value, facts.getOrDefault("range", value), 1)
                        .within(facts.getOrDefault("step", 0.0))
                : told.unknown();
    }
}
