package org.juratest.core.family.breakers;

import java.util.Locale;
import java.util.Map;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.method.Announced;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.ReadingOrigin;
import org.juratest.core.run.RunState;

/** The time of an overcurrent element at a multiple of its setting, against its curve (IEC 60255-151). */
final class RelayTime implements Method {

    private static final String TIME = "time";

    private static final MethodSpec SPEC = RelayInjection.spec("relay.time")
            .param("current", Unit.AMPERE, 0.01, 200)
            .point(TIME, Unit.SECOND)
            .build();

    @Override
    public MethodSpec spec() {
        return SPEC;
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        double current = Method.base(step.params(), "current");
        double longest = Method.base(step.maxima(), "time");
        return RelayInjection.announced(
                step,
                String.format(Locale.ROOT, "%.4g A into %s until it trips, at most %.4g s", current, where, longest),
                current,
                0,
                longest);
    }

    @Override
    public Result run(MethodBench bench) {
        RelayTestSet set = bench.port(RelayTestSet.class);
        double current = bench.param("current");
        double longest = bench.maximum("time");
        set.prepareHeld(new RelayTestSet.Injected(current, 0, 0, 0, 0), RelayTestSet.Contact.TRIP, longest);
        CurrentSource.Injection end = RelayInjection.run(bench, set, Map.of());
        if (!RelayInjection.measured(end)) {
            return RelayInjection.ended(bench, end, TIME);
        }
        boolean tripped = RelayInjection.cause(end) == CurrentSource.OffCause.TRIP;
        bench.keep(Readings.tripTime(
                bench,
                TIME,
                tripped ? end.elapsed() : longest,
                tripped ? Qualifier.EQUAL : Qualifier.MORE,
                end.current(),
                end.current()));
        return new Result(
                Attempt.Outcome.VALID,
                tripped ? OutputEvents.OffReason.TRIPPED : OutputEvents.OffReason.TIME_LIMIT,
                tripped ? "tripped" : "did not trip within the greatest time");
    }

    @Override
    public ReadingBuilder retold(
            ReadingOrigin origin, String point, double value, Unit unit, Map<String, Double> facts) {
        double current = facts.getOrDefault("current", Double.NaN);
        return Readings.tripTime(origin, point, unit.convert(value, Unit.SECOND), Qualifier.EQUAL, current, current);
    }
}
