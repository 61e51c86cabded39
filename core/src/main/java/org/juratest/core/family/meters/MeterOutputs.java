package org.juratest.core.family.meters;

import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.juratest.core.method.Announced;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Announcement.Bound;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.OutputEvents;

/** What all methods with an output have in common: bounds, how it runs, how it ends. */
final class MeterOutputs {

    static final Duration POLL = Duration.ofMillis(40);

    private MeterOutputs() {}

    /**
     * Announces it.
     *
     * @param volts the greatest it will give, V; 0 for none
     * @param amperes likewise, A
     * @param seconds at most without a break
     */
    static Announced announced(Step step, Class<?> port, String words, double volts, double amperes, double seconds) {
        Map<String, Quantity> settings = new LinkedHashMap<>();
        List<Bound> bounds = new java.util.ArrayList<>();
        bound(step, "voltage", volts, Unit.VOLT, settings, bounds);
        bound(step, "current", amperes, Unit.AMPERE, settings, bounds);
        bound(step, "time", seconds, Unit.SECOND, settings, bounds);
        return new Announced(words, settings, bounds, Set.of(port), seconds);
    }

    private static void bound(
            Step step, String name, double most, Unit unit, Map<String, Quantity> settings, List<Bound> bounds) {
        if (step.maxima().containsKey(name)) {
            double greatest = Method.base(step.maxima(), name);
            Method.within(name, most, greatest);
            bounds.add(Bound.upTo(name, greatest, unit.code(), "the procedure's greatest " + name));
        }
        bounds.add(Bound.upTo(name, most, unit.code(), "announced"));
        if (most > 0) {
            settings.put(name, new Quantity(most, unit));
        }
    }

    /** Shows what it gives. */
    static void show(MethodBench bench, MeterOutput.Given now, Map<String, Quantity> more) {
        Map<String, Quantity> values = new LinkedHashMap<>(more);
        values.put("current", Quantity.amperes(now.amperes()));
        values.put("voltage", new Quantity(now.volts(), Unit.VOLT));
        values.put("elapsed", Quantity.seconds(now.elapsed()));
        bench.progress(values);
    }

    /** Lets what was prepared run to its end; what it came to. */
    static MeterOutput.Given run(MethodBench bench, MeterOutput gear) {
        bench.stop().switchOn(gear::outputOn);
        MeterOutput.Given now = gear.given();
        while (now.on()) {
            show(bench, now, Map.of());
            bench.stop().pause(POLL);
            now = gear.given();
        }
        return now;
    }

    static MeterOutput.Cause cause(MeterOutput.Given end) {
        return end.cause() == null ? MeterOutput.Cause.COMMAND : end.cause();
    }

    /**
     * How a measurement ends that its gear ended before it was done.
     *
     * @param open what is asked where no current flows
     */
    static Method.Result ended(MethodBench bench, MeterOutput.Given end, List<String> points, String open) {
        switch (cause(end)) {
            case OPEN:
                bench.connectionChecked(false, open, Map.of());
                points.stream().filter(p -> bench.step().point(p).isPresent()).forEach(p -> bench.noValue(p, open));
                return new Method.Result(Attempt.Outcome.UNCLEAR, OutputEvents.OffReason.CIRCUIT_OPEN, open);
            case ESTOP:
                return new Method.Result(
                        Attempt.Outcome.ABORTED,
                        OutputEvents.OffReason.EMERGENCY_STOP,
                        "the emergency stop of the gear was pressed");
            case WATCHDOG:
                return new Method.Result(
                        Attempt.Outcome.ABORTED,
                        OutputEvents.OffReason.GEAR_WATCHDOG,
                        "the gear's watchdog switched it off");
            case LIMIT:
                return new Method.Result(
                        Attempt.Outcome.ABORTED,
                        OutputEvents.OffReason.TIME_LIMIT,
                        "its time was over before it was done");
            default:
                bench.stop().check();
                return new Method.Result(
                        Attempt.Outcome.ABORTED, OutputEvents.OffReason.STOPPED, "the output was switched off");
        }
    }

    static Method.Result done(String words) {
        return new Method.Result(Attempt.Outcome.VALID, OutputEvents.OffReason.DONE, words);
    }
}
