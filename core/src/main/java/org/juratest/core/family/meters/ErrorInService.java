package org.juratest.core.family.meters;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.juratest.core.method.Announced;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.ReadingOrigin;
import org.juratest.core.run.RunState;
import org.juratest.core.signal.SignalException;

/** A meter under the load of its customer: n pulses or t seconds, whichever comes first, several times. */
final class ErrorInService implements Method {

    private static final String LEAST = "leastCurrent";
    private static final double LOOK = 0.2;

    private static final MethodSpec SPEC = Errors.spec(
                    MethodSpec.named("meter.error").ports(MeterMethods.REFERENCE))
            .param(LEAST, Unit.AMPERE, 0, 1000, 0)
            .build();

    @Override
    public MethodSpec spec() {
        return SPEC;
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        return new Announced(
                String.format(
                        Locale.ROOT,
                        "Pulses of the meter of %s are counted: %.0f of them or %.4g s, whichever comes first, %.0f x",
                        where,
                        Method.base(step.params(), Errors.PULSES),
                        Method.base(step.params(), "seconds"),
                        Method.base(step.params(), "runs")),
                Map.of(),
                List.of(),
                Set.of(ReferenceStandard.class),
                Method.base(step.params(), "runs") * Method.base(step.params(), "seconds") + 60);
    }

    @Override
    public Result run(MethodBench bench) {
        ReferenceStandard reference = bench.port(ReferenceStandard.class);
        ReferenceStandard.Samples look = reference.samples(LOOK);
        ThreePhase load;
        try {
            load = ThreePhase.of(look.perSecond(), look.voltage(), look.current());
        } catch (SignalException e) {
            bench.noValue(Errors.ERROR, "what was sampled cannot be used: " + e.getMessage());
            return MeterOutputs.done("nothing to count: " + e.getMessage());
        }
        double current =
                load.phases().stream().mapToDouble(PhaseQuantities::current).sum() / 3;
        double least = bench.param(LEAST);
        if (!(load.apparent() > 0) || current < least) {
            String words = String.format(
                    Locale.ROOT, "the load is not enough: %.3g A a phase, at least %.3g A is needed", current, least);
            bench.noValue(Errors.ERROR, words);
            return MeterOutputs.done(words);
        }
        Map<String, Quantity> with = new LinkedHashMap<>();
        with.put("current", Quantity.amperes(current));
        with.put("powerFactor", new Quantity(load.active() / load.apparent(), Unit.ONE));
        Errors.Outcome outcome = Errors.counted(bench, reference, () -> with);
        if (outcome.words() != null) {
            bench.noValue(Errors.ERROR, outcome.words());
            return MeterOutputs.done(outcome.words());
        }
        Errors.keep(bench, outcome, with);
        return MeterOutputs.done(String.format(
                Locale.ROOT,
                "%d pulses at %.4g A, power factor %.2f",
                outcome.pulses(),
                current,
                load.active() / load.apparent()));
    }

    @Override
    public ReadingBuilder retold(
            ReadingOrigin origin, String point, double value, Unit unit, Map<String, Double> facts) {
        return Errors.retold(origin, point, value, unit, facts);
    }
}
