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
 * Injects a multiple of the long-time setting into one pole and times the trip. A small check current first finds the
 * impedance of the circuit: an open or poor connection stops there, and it decides the output range. One point, a time.
 */
final class LongTimeTrip implements Method {

    private static final String CURRENT = "Injected current";
    private static final Duration POLL = Duration.ofMillis(50);

    private static final MethodSpec SPEC = CircuitCheck.params(MethodSpec.named("breaker.longTime"))
            .hazard(MethodSpec.Hazard.CURRENT)
            .ports("current-source")
            .param("current", Unit.AMPERE, 0.1, 100_000)
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
                        Bound.upTo(
                                "time", Math.max(longest, CircuitCheck.LIMIT), "s", "the procedure's greatest time")),
                Set.of(CurrentSource.class),
                Math.max(longest, CircuitCheck.LIMIT));
    }

    @Override
    public Result run(MethodBench bench) {
        CurrentSource source = bench.port(CurrentSource.class);
        CircuitCheck check = CircuitCheck.of(bench, source, bench.param("current"));
        if (!check.good()) {
            return check.failed(bench, "time");
        }
        double limit = bench.maximum("time");
        source.prepare(bench.param("current"), check.range(), limit);
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
        Result result = finish(bench, now, limit, check.range());
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
                return CircuitCheck.open(bench, "time", "the circuit opened without a trip");
            default:
                return CircuitCheck.ended(bench, cause);
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
