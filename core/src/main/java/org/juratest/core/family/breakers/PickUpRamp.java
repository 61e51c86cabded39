package org.juratest.core.family.breakers;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
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
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.ReadingOrigin;
import org.juratest.core.run.RunState;
import org.juratest.core.trace.Trace;

/**
 * The least current that operates a device, by a slow ramp: the fall of the current shows it ({@code detector} 0), or
 * that the ramp no longer grows (1). Where the one that is chosen finds nothing, the other is looked at, and what it
 * finds is offered. Point {@code pickUp}, the true rms of the last whole cycle before the contacts parted.
 */
final class PickUpRamp implements Method {

    private static final String PICK_UP = "pickUp";
    private static final Duration POLL = Duration.ofMillis(40);
    /** Of the largest seen, below which it has fallen for good. */
    private static final double FALLEN = 0.6;
    /** How long the ramp goes on after it no longer grew, s. */
    private static final double LEVEL = 1.5;
    /** What a ramp that grows is more by than that long before, of what it should be more by. */
    private static final double GROWS = 0.3;
    /** Values of the ramp that are drawn. */
    private static final int DRAWN = 600;

    private static final MethodSpec SPEC = CircuitCheck.params(MethodSpec.named("breaker.pickUp"))
            .hazard(MethodSpec.Hazard.CURRENT)
            .ports("current-source")
            .param("from", Unit.AMPERE, 0.1, 100_000)
            .param("to", Unit.AMPERE, 0.1, 100_000)
            .param("seconds", Unit.SECOND, 1, 600, 10)
            .param("detector", Unit.ONE, 0, 1, 0)
            .param("frequency", Unit.HERTZ, 16, 60, 50)
            .maximum("current", Unit.AMPERE, 100_000)
            .maximum("time", Unit.SECOND, 900)
            .point(PICK_UP, Unit.AMPERE)
            .captures("Ramp", DigitisedCurrent.NAME)
            .build();

    @Override
    public MethodSpec spec() {
        return SPEC;
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        double from = Method.base(step.params(), "from");
        double to = Method.base(step.params(), "to");
        double check = Method.base(step.params(), "checkCurrent");
        double greatest = Method.base(step.maxima(), "current");
        double longest = Method.base(step.maxima(), "time");
        Method.within("from", from, to);
        Method.within("to", to, greatest);
        Method.within("checkCurrent", check, greatest);
        Method.within("seconds", Method.base(step.params(), "seconds"), longest);
        return new Announced(
                String.format(
                        Locale.ROOT,
                        "%.4g A to check the leads, then a current into %s that grows from %.4g A to %.4g A in %.3g s",
                        check,
                        where,
                        from,
                        to,
                        Method.base(step.params(), "seconds")),
                Map.of(
                        "current",
                        Quantity.amperes(to),
                        "checkCurrent",
                        Quantity.amperes(check),
                        "time",
                        Quantity.seconds(longest)),
                List.of(
                        Bound.upTo("current", Math.max(to, check), "A", "announced"),
                        Bound.upTo("current", greatest, "A", "the procedure's greatest current"),
                        Bound.upTo(
                                "time", Math.max(longest, CircuitCheck.LIMIT), "s", "the procedure's greatest time")),
                Set.of(WaveSource.class, CurrentSource.class),
                Math.max(longest, CircuitCheck.LIMIT));
    }

    @Override
    public Result run(MethodBench bench) {
        WaveSource source = bench.port(WaveSource.class);
        double from = bench.param("from");
        double to = bench.param("to");
        CircuitCheck check = CircuitCheck.of(bench, source, to);
        if (!check.good()) {
            return check.failed(bench, PICK_UP);
        }
        double rate = (to - from) / bench.param("seconds");
        source.prepareRamp(to, check.range(), from, rate, bench.maximum("time"));
        bench.stop().switchOn(source::outputOn);
        CurrentSource.OffCause cause = watched(bench, source, rate);
        source.makeSafe();
        if (cause != CurrentSource.OffCause.COMMAND && cause != CurrentSource.OffCause.LIMIT) {
            return CircuitCheck.ended(bench, cause);
        }
        return judged(bench, source.wave(), check.range());
    }

    /** Watches until it has fallen, no longer grows, or is over. */
    private static CurrentSource.OffCause watched(MethodBench bench, WaveSource source, double rate) {
        List<CurrentSource.Injection> seen = new ArrayList<>();
        double largest = 0;
        while (true) {
            CurrentSource.Injection now = source.read();
            if (!now.on()) {
                return now.cause() == null ? CurrentSource.OffCause.COMMAND : now.cause();
            }
            if (seen.isEmpty() || now.elapsed() > seen.get(seen.size() - 1).elapsed()) {
                seen.add(now);
            }
            largest = Math.max(largest, now.current());
            bench.progress(
                    Map.of("current", Quantity.amperes(now.current()), "elapsed", Quantity.seconds(now.elapsed())),
                    List.of(drawn(seen)));
            if (now.elapsed() > 0.2 && now.current() < FALLEN * largest) {
                return CurrentSource.OffCause.COMMAND;
            }
            CurrentSource.Injection before = null;
            for (CurrentSource.Injection s : seen) {
                before = s.elapsed() <= now.elapsed() - LEVEL ? s : before;
            }
            if (before != null
                    && now.current() - before.current() < GROWS * rate * (now.elapsed() - before.elapsed())) {
                return CurrentSource.OffCause.COMMAND;
            }
            bench.stop().pause(POLL);
        }
    }

    private static Trace drawn(List<CurrentSource.Injection> seen) {
        int every = Math.max(1, seen.size() / DRAWN);
        List<CurrentSource.Injection> some = new ArrayList<>();
        for (int i = 0; i < seen.size(); i += every) {
            some.add(seen.get(i));
        }
        return new Trace(
                "Ramp",
                Unit.SECOND,
                Unit.AMPERE,
                some.stream().mapToDouble(CurrentSource.Injection::elapsed).toArray(),
                some.stream().mapToDouble(CurrentSource.Injection::current).toArray());
    }

    private static Result judged(MethodBench bench, WaveSource.Wave wave, double range) {
        double[] time = wave.time();
        double[] value = wave.value();
        double frequency = bench.param("frequency");
        bench.trace(Sequence.rms("Ramp", time, value, frequency));
        DigitisedCurrent digitised = new DigitisedCurrent(time, value, frequency);
        bench.trace(digitised.kept(), digitised.facts());
        PickUp.Detector chosen = bench.param("detector") < 0.5 ? PickUp.Detector.FALL : PickUp.Detector.LEVELLING;
        Optional<PickUp> found = PickUp.of(time, value, frequency, chosen);
        if (found.isPresent()) {
            bench.keep(reading(bench, found.get().current(), range)
                    .with("parted", Quantity.seconds(found.get().parted())));
            return new Result(
                    Attempt.Outcome.VALID,
                    OutputEvents.OffReason.TRIPPED,
                    String.format(
                            Locale.ROOT,
                            "operated at %.4g A, seen by %s",
                            found.get().current(),
                            words(chosen)));
        }
        PickUp.Detector other = chosen == PickUp.Detector.FALL ? PickUp.Detector.LEVELLING : PickUp.Detector.FALL;
        String offer = PickUp.of(time, value, frequency, other)
                .map(p -> String.format(
                        Locale.ROOT,
                        "; %s shows %.4g A: change the parameter \"detector\" to %d, and measure again",
                        words(other),
                        p.current(),
                        other.ordinal()))
                .orElse("; nor does " + words(other) + " show anything");
        String what = words(chosen) + " shows nothing" + offer;
        bench.noValue(PICK_UP, what);
        return new Result(Attempt.Outcome.UNCLEAR, OutputEvents.OffReason.DONE, what);
    }

    private static String words(PickUp.Detector by) {
        return by == PickUp.Detector.FALL ? "the fall of the current" : "the levelling-off of the ramp";
    }

    private static ReadingBuilder reading(ReadingOrigin from, double current, double range) {
        return from.value(PICK_UP, current, Unit.AMPERE).accuracy(Unit.AMPERE.dimension(), current, range, 1);
    }

    @Override
    public ReadingBuilder retold(
            ReadingOrigin origin, String point, double value, Unit unit, Map<String, Double> facts) {
        return origin.value(point, value, unit)
                .accuracy(Unit.AMPERE.dimension(), value, facts.getOrDefault("range", value), 1);
    }
}
