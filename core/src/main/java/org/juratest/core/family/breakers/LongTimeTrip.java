package org.juratest.core.family.breakers;

import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.juratest.core.limit.Envelope;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.method.Announced;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.port.GearException;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Announcement.Bound;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.ReadBack;
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.ReadingOrigin;
import org.juratest.core.run.RunState;
import org.juratest.core.trace.Trace;

/**
 * Injects a multiple of the long-time setting into one pole and times the trip. A small check current first finds the
 * impedance of the circuit: an open or poor connection stops there, and it decides the output range. One point, a time.
 */
final class LongTimeTrip implements Method {

    private static final String CURRENT = "Injected current";
    private static final Duration POLL = Duration.ofMillis(50);
    private static final Duration CHECK = Duration.ofMillis(200);
    /** The check injection ends by itself after this time, s. */
    private static final double CHECK_LIMIT = 2;
    /** Share of the check current below which the circuit counts as open. */
    private static final double OPEN_BELOW = 0.5;
    /** Voltage kept in hand for the device's resistance rising as it heats. */
    private static final double HEADROOM = 1.1;

    private static final MethodSpec SPEC = MethodSpec.named("breaker.longTime")
            .hazard(MethodSpec.Hazard.CURRENT)
            .ports("current-source")
            .param("current", Unit.AMPERE, 0.1, 100_000)
            .param("checkCurrent", Unit.AMPERE, 0.1, 1000)
            .param("greatestImpedance", Unit.MILLIOHM, 0.001, 10_000)
            .maximum("current", Unit.AMPERE, 100_000)
            .maximum("time", Unit.SECOND, 36_000)
            .point("time", Unit.SECOND)
            .captures(CURRENT)
            .build();

    @Override
    public MethodSpec spec() {
        return SPEC;
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        double current = Method.base(step.params(), "current");
        double check = Method.base(step.params(), "checkCurrent");
        double greatest = Method.base(step.maxima(), "current");
        double longest = Method.base(step.maxima(), "time");
        Method.within("current", current, greatest);
        Method.within("checkCurrent", check, greatest);
        String what = String.format(
                Locale.ROOT,
                "%.4g A to check the leads, then %.4g A into %s until it trips, at most %.4g s",
                check,
                current,
                where,
                longest);
        return new Announced(
                what,
                Map.of(
                        "current",
                        Quantity.amperes(current),
                        "checkCurrent",
                        Quantity.amperes(check),
                        "time",
                        Quantity.seconds(longest)),
                List.of(
                        Bound.upTo("current", Math.max(current, check), "A", "announced"),
                        Bound.upTo("current", greatest, "A", "the procedure's greatest current"),
                        Bound.upTo("time", Math.max(longest, CHECK_LIMIT), "s", "the procedure's greatest time")),
                Set.of(CurrentSource.class),
                Math.max(longest, CHECK_LIMIT));
    }

    @Override
    public Result run(MethodBench bench) {
        CurrentSource source = bench.port(CurrentSource.class);
        Check check = check(bench, source);
        if (!check.good) {
            return check.open ? open(bench, check.words) : notGood(check.words);
        }
        double limit = bench.maximum("time");
        source.prepare(bench.param("current"), check.range, limit);
        bench.stop().switchOn(source::outputOn);
        CurrentSource.Injection now = source.read();
        List<CurrentSource.Injection> seen = new ArrayList<>();
        while (now.on()) {
            // Gear that was asked twice within one of its own steps has nothing new to say.
            if (seen.size() < Trace.MOST
                    && (seen.isEmpty()
                            || now.elapsed() > seen.get(seen.size() - 1).elapsed())) {
                seen.add(now);
            }
            bench.progress(seen(bench, now));
            bench.stop().pause(POLL);
            now = source.read();
        }
        Result result = finish(bench, now, limit, check.range);
        captured(bench, seen);
        return result;
    }

    /** The current over the injection, as evidence that it held. */
    private static void captured(MethodBench bench, List<CurrentSource.Injection> seen) {
        if (!seen.isEmpty()) {
            bench.trace(new Trace(
                    CURRENT,
                    Unit.SECOND,
                    Unit.AMPERE,
                    seen.stream().mapToDouble(CurrentSource.Injection::elapsed).toArray(),
                    seen.stream().mapToDouble(CurrentSource.Injection::current).toArray()));
        }
    }

    /** What is measured now, with the window at that current: what the person watches closing in. */
    private static Map<String, Quantity> seen(MethodBench bench, CurrentSource.Injection now) {
        Map<String, Quantity> values = new HashMap<>();
        values.put("current", Quantity.amperes(now.current()));
        values.put("elapsed", Quantity.seconds(now.elapsed()));
        Envelope band = bench.state().envelope();
        if (band != null) {
            band.side("earliest", now.current()).ifPresent(t -> values.put("earliest", Quantity.seconds(t)));
            band.side("latest", now.current()).ifPresent(t -> values.put("latest", Quantity.seconds(t)));
        }
        return values;
    }

    private static Result notGood(String words) {
        return new Result(Attempt.Outcome.CONNECTION_FAILED, OutputEvents.OffReason.CIRCUIT_OPEN, words);
    }

    /** Where nothing flows it may be a lead that is off, or a pole that does not close: a person says which. */
    private static Result open(MethodBench bench, String words) {
        bench.noValue("time", words);
        return new Result(
                Attempt.Outcome.UNCLEAR,
                OutputEvents.OffReason.CIRCUIT_OPEN,
                words + ". Are the leads on, and is the breaker closed?");
    }

    /** @param open whether nothing flows at all */
    private record Check(boolean good, boolean open, double range, String words) {}

    private static Check check(MethodBench bench, CurrentSource source) {
        double checkCurrent = bench.param("checkCurrent");
        source.prepare(checkCurrent, source.ranges().get(0).current(), CHECK_LIMIT);
        bench.stop().switchOn(source::outputOn);
        bench.stop().pause(CHECK);
        CurrentSource.Injection seen = source.read();
        ReadBack off = source.makeSafe();
        if (!off.off()) {
            throw new GearException(
                    GearException.Fault.SILENT, "it did not confirm that the check current is off: " + off.words());
        }
        Check check = judged(bench, source, seen, checkCurrent);
        double ohms = seen.current() > 0 ? seen.voltage() / seen.current() : Double.NaN;
        bench.connectionChecked(
                check.good,
                check.words,
                ohms <= Double.MAX_VALUE
                        ? Map.of("impedance", new Quantity(Unit.OHM.convert(ohms, Unit.MILLIOHM), Unit.MILLIOHM))
                        : Map.of());
        return check;
    }

    private static Check judged(
            MethodBench bench, CurrentSource source, CurrentSource.Injection seen, double checkCurrent) {
        if (!(seen.current() >= OPEN_BELOW * checkCurrent) || seen.cause() == CurrentSource.OffCause.OPEN) {
            return new Check(
                    false,
                    true,
                    0,
                    String.format(
                            Locale.ROOT, "the circuit is open: %.3g A flowed of %.3g A", seen.current(), checkCurrent));
        }
        double ohms = seen.voltage() / seen.current();
        double greatest = bench.param("greatestImpedance");
        if (!(ohms <= greatest)) {
            return new Check(
                    false,
                    false,
                    0,
                    String.format(
                            Locale.ROOT,
                            "the connection is poor: %.3g mΩ, at most %.3g mΩ. Clean and tighten the clamps",
                            ohms * 1e3,
                            greatest * 1e3));
        }
        double current = bench.param("current");
        for (CurrentSource.Range range : source.ranges()) {
            if (range.current() >= current && range.compliance() >= HEADROOM * current * ohms) {
                return new Check(
                        true,
                        false,
                        range.current(),
                        String.format(Locale.ROOT, "the connection is good: %.3g mΩ", ohms * 1e3));
            }
        }
        return new Check(
                false,
                false,
                0,
                String.format(
                        Locale.ROOT,
                        "no range of the gear drives %.4g A through %.3g mΩ. Use shorter or thicker leads",
                        current,
                        ohms * 1e3));
    }

    private static Result finish(MethodBench bench, CurrentSource.Injection end, double limit, double range) {
        CurrentSource.OffCause cause = end.cause() == null ? CurrentSource.OffCause.COMMAND : end.cause();
        switch (cause) {
            case TRIP:
                bench.keep(reading(bench, end, end.elapsed(), Qualifier.EQUAL, range));
                return new Result(Attempt.Outcome.VALID, OutputEvents.OffReason.TRIPPED, "tripped");
            case LIMIT:
                bench.keep(reading(bench, end, limit, Qualifier.MORE, range));
                return new Result(
                        Attempt.Outcome.VALID,
                        OutputEvents.OffReason.TIME_LIMIT,
                        "did not trip within the greatest time");
            case OPEN:
                return open(bench, "the circuit opened without a trip");
            case ESTOP:
                return new Result(
                        Attempt.Outcome.ABORTED,
                        OutputEvents.OffReason.EMERGENCY_STOP,
                        "the emergency stop of the gear was pressed");
            case WATCHDOG:
                return new Result(
                        Attempt.Outcome.ABORTED,
                        OutputEvents.OffReason.GEAR_WATCHDOG,
                        "the gear's watchdog switched it off");
            default:
                bench.stop().check();
                return new Result(
                        Attempt.Outcome.ABORTED, OutputEvents.OffReason.STOPPED, "the output was switched off");
        }
    }

    private static ReadingBuilder reading(
            MethodBench bench, CurrentSource.Injection end, double time, Qualifier qualifier, double range) {
        return Readings.tripTime(bench, "time", time, qualifier, end.current(), range);
    }

    @Override
    public ReadingBuilder retold(
            ReadingOrigin origin, String point, double value, Unit unit, Map<String, Double> facts) {
        return Readings.tripTime(
                origin,
                point,
                unit.convert(value, Unit.SECOND),
                Qualifier.EQUAL,
                facts.get("current"),
                facts.get("range"));
    }
}
