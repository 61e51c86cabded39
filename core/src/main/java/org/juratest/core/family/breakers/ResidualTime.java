package org.juratest.core.family.breakers;

import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
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
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.ReadingOrigin;
import org.juratest.core.run.RunState;

/**
 * A residual-current device at one current and one half of the wave (IEC 61008-1, IEC 61009-1): its time to trip, or
 * that it held for as long as the current flowed. With more than one step the current grows instead, and what it
 * tripped at is found to within a step.
 */
final class ResidualTime implements Method {

    private static final Duration POLL = Duration.ofMillis(30);
    private static final String TIME = "time";
    private static final String PICK_UP = "pickUp";
    private static final String TOUCH = "touch";

    private final boolean grows;
    private final MethodSpec spec;

    /** @param grows whether the current grows in steps until it trips */
    ResidualTime(boolean grows) {
        this.grows = grows;
        MethodSpec.Builder builder = MethodSpec.named(grows ? "breaker.residualSteps" : "breaker.residual")
                .hazard(MethodSpec.Hazard.CURRENT)
                .ports("residual-tester")
                .param("current", Unit.AMPERE, 0.001, 50)
                .param("rated", Unit.AMPERE, 0.001, 50)
                .param("angle", Unit.ONE, 0, 180, 0)
                .param("greatestTouch", Unit.VOLT, 10, 50, 50)
                .param("seconds", Unit.SECOND, 0.02, 10, grows ? 0.3 : 1)
                .maximum("current", Unit.AMPERE, 50)
                .maximum("time", Unit.SECOND, 60)
                .point(TOUCH, Unit.VOLT);
        if (grows) {
            builder.param("from", Unit.AMPERE, 0.001, 50).param("steps", Unit.ONE, 2, 100, 18);
        }
        this.spec = builder.point(grows ? PICK_UP : TIME, grows ? Unit.AMPERE : Unit.SECOND)
                .build();
    }

    @Override
    public MethodSpec spec() {
        return spec;
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        double current = Method.base(step.params(), "current");
        double seconds = Method.base(step.params(), "seconds");
        double greatest = Method.base(step.maxima(), "current");
        double longest = Method.base(step.maxima(), "time");
        double lasts = grows ? seconds * Method.base(step.params(), "steps") : seconds;
        Method.within("current", current, greatest);
        Method.within("seconds", lasts, longest);
        String half = Method.base(step.params(), "angle") < 90 ? "positive" : "negative";
        String words = grows
                ? String.format(
                        Locale.ROOT,
                        "from %.3g mA to %.4g mA to the protective conductor, on the %s half, until it trips",
                        Method.base(step.params(), "from") * 1000,
                        current * 1000,
                        half)
                : String.format(
                        Locale.ROOT,
                        "%.4g mA to the protective conductor, on the %s half, until it trips, at most %.3g s",
                        current * 1000,
                        half,
                        seconds);
        return new Announced(
                words + ". What it feeds loses its supply",
                Map.of("current", Quantity.amperes(current), "time", Quantity.seconds(lasts)),
                List.of(
                        Bound.upTo("current", current, "A", "announced"),
                        Bound.upTo("current", greatest, "A", "the procedure's greatest current"),
                        Bound.upTo("time", lasts, "s", "announced"),
                        Bound.upTo("time", longest, "s", "the procedure's greatest time")),
                Set.of(ResidualTester.class),
                lasts);
    }

    @Override
    public Result run(MethodBench bench) {
        ResidualTester tester = bench.port(ResidualTester.class);
        double current = bench.param("current");
        // What the protective conductor takes is judged at the rated current, whatever flows in the test.
        double touch = tester.touchVoltage(bench.param("rated"));
        boolean open = !(touch <= Double.MAX_VALUE);
        double greatest = bench.param("greatestTouch");
        boolean good = !open && touch <= greatest;
        String words = open
                ? "the loop through the protective conductor is open"
                : String.format(
                        Locale.ROOT, "the protective conductor would take %.3g V, at most %.3g V", touch, greatest);
        bench.connectionChecked(good, words, open ? Map.of() : Map.of(TOUCH, new Quantity(touch, Unit.VOLT)));
        if (!open && bench.step().point(TOUCH).isPresent()) {
            bench.keep(bench.value(TOUCH, touch, Unit.VOLT).accuracy(Unit.VOLT.dimension()));
        }
        if (!good) {
            return new Result(
                    Attempt.Outcome.CONNECTION_FAILED,
                    OutputEvents.OffReason.CIRCUIT_OPEN,
                    words + ". Look for the earth before anything else");
        }
        double seconds = bench.param("seconds");
        if (grows) {
            int steps = (int) bench.param("steps");
            tester.prepareSteps(bench.param("from"), current, steps, steps * seconds, bench.param("angle"));
        } else {
            tester.prepareHeld(current, bench.param("angle"), seconds);
        }
        bench.stop().switchOn(tester::outputOn);
        CurrentSource.Injection now = tester.read();
        while (now.on()) {
            bench.progress(
                    Map.of("current", Quantity.amperes(now.current()), "elapsed", Quantity.seconds(now.elapsed())));
            bench.stop().pause(POLL);
            now = tester.read();
        }
        return grows ? grown(bench, now) : timed(bench, now);
    }

    private static Result timed(MethodBench bench, CurrentSource.Injection end) {
        switch (cause(end)) {
            case TRIP:
                bench.keep(time(bench, end.elapsed(), Qualifier.EQUAL, end.current()));
                return new Result(
                        Attempt.Outcome.VALID,
                        OutputEvents.OffReason.TRIPPED,
                        String.format(Locale.ROOT, "tripped after %.1f ms", end.elapsed() * 1000));
            case LIMIT:
                bench.keep(time(bench, end.elapsed(), Qualifier.MORE, end.current()));
                return new Result(
                        Attempt.Outcome.VALID,
                        OutputEvents.OffReason.TIME_LIMIT,
                        String.format(Locale.ROOT, "held for %.3g s", end.elapsed()));
            case OPEN:
                return lost(bench, TIME);
            default:
                return CircuitCheck.ended(bench, cause(end));
        }
    }

    private static Result grown(MethodBench bench, CurrentSource.Injection end) {
        double step = (bench.param("current") - bench.param("from")) / (bench.param("steps") - 1);
        switch (cause(end)) {
            case TRIP:
                bench.keep(pickUp(bench, end.current(), step, Qualifier.EQUAL));
                return new Result(
                        Attempt.Outcome.VALID,
                        OutputEvents.OffReason.TRIPPED,
                        String.format(Locale.ROOT, "tripped at %.3g mA", end.current() * 1000));
            case LIMIT:
                bench.keep(pickUp(bench, bench.param("current"), step, Qualifier.MORE));
                return new Result(
                        Attempt.Outcome.VALID, OutputEvents.OffReason.TIME_LIMIT, "did not trip up to the last step");
            case OPEN:
                return lost(bench, PICK_UP);
            default:
                return CircuitCheck.ended(bench, cause(end));
        }
    }

    private static Result lost(MethodBench bench, String point) {
        String words = "no current flowed: is the supply on, and the device switched on?";
        bench.noValue(point, words);
        return new Result(Attempt.Outcome.UNCLEAR, OutputEvents.OffReason.CIRCUIT_OPEN, words);
    }

    private static CurrentSource.OffCause cause(CurrentSource.Injection end) {
        return end.cause() == null ? CurrentSource.OffCause.COMMAND : end.cause();
    }

    private static ReadingBuilder time(ReadingOrigin from, double seconds, Qualifier qualifier, double current) {
        return from.value(TIME, seconds, Unit.SECOND)
                .accuracy(Unit.SECOND.dimension())
                .qualifier(qualifier)
                .with("current", Quantity.amperes(current));
    }

    private static ReadingBuilder pickUp(ReadingOrigin from, double current, double step, Qualifier qualifier) {
        return from.value(PICK_UP, current, Unit.AMPERE)
                .accuracy(Unit.AMPERE.dimension())
                .within(step)
                .qualifier(qualifier);
    }

    @Override
    public ReadingBuilder retold(
            ReadingOrigin origin, String point, double value, Unit unit, Map<String, Double> facts) {
        return switch (point) {
            case TIME ->
                time(
                        origin,
                        unit.convert(value, Unit.SECOND),
                        facts.getOrDefault("held", 0.0) > 0 ? Qualifier.MORE : Qualifier.EQUAL,
                        facts.getOrDefault("current", Double.NaN));
            case PICK_UP ->
                pickUp(origin, unit.convert(value, Unit.AMPERE), facts.getOrDefault("step", 0.0), Qualifier.EQUAL);
            default -> origin.value(point, value, unit).accuracy(unit.dimension());
        };
    }
}
