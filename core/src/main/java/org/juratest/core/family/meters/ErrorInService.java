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

/**
 * A meter under the load of its customer: n pulses or t seconds, whichever comes first, several times; for the active,
 * the reactive or the apparent energy it counts.
 */
final class ErrorInService implements Method {

    private static final String LEAST = "leastCurrent";
    private static final double LOOK = 0.2;
    /** Of the apparent power, below which what is counted hangs on the angle alone. */
    private static final double LEAST_SHARE = 0.05;

    private final PulseCounter.Energy of;
    private final MethodSpec spec;

    ErrorInService(PulseCounter.Energy of) {
        this.of = of;
        String name =
                switch (of) {
                    case ACTIVE -> "meter.error";
                    case REACTIVE -> "meter.errorReactive";
                    case APPARENT -> "meter.errorApparent";
                };
        this.spec = Errors.spec(MethodSpec.named(name).ports(MeterMethods.REFERENCE), of)
                .param(LEAST, Unit.AMPERE, 0, 1000, 0)
                .build();
    }

    @Override
    public MethodSpec spec() {
        return spec;
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        return new Announced(
                String.format(
                        Locale.ROOT,
                        "Pulses for %s of the meter of %s are counted: %.0f of them or %.4g s, whichever comes first, "
                                + "%.0f x",
                        of.unit().symbol(),
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
        Service service = Service.of(bench.state());
        ReferenceStandard.Samples look = reference.samples(LOOK);
        ThreePhase load;
        try {
            double[][][] phases = service.phases(look);
            load = ThreePhase.of(look.perSecond(), phases[0], phases[1]);
        } catch (SignalException e) {
            bench.notMeasurable(Errors.ERROR, "what was sampled cannot be used: " + e.getMessage());
            return MeterOutputs.done("nothing to count: " + e.getMessage());
        }
        double current =
                load.phases().stream().mapToDouble(PhaseQuantities::current).sum() / service.conductors();
        double least = bench.param(LEAST);
        double share = load.apparent() > 0 ? Math.abs(flowing(load)) / load.apparent() : 0;
        if (share < LEAST_SHARE || current < least) {
            String words = current < least || !(load.apparent() > 0)
                    ? String.format(
                            Locale.ROOT,
                            "the load is not enough: %.3g A a phase, at least %.3g A is needed",
                            current,
                            least)
                    : String.format(
                            Locale.ROOT,
                            "the load is not enough: of its %.4g VA only %.2g %% are %s",
                            load.apparent(),
                            100 * share,
                            of.power().symbol());
            bench.notMeasurable(Errors.ERROR, words);
            return MeterOutputs.done(words);
        }
        Map<String, Quantity> with = new LinkedHashMap<>();
        with.put("current", Quantity.amperes(current));
        with.put("powerFactor", new Quantity(load.active() / load.apparent(), Unit.ONE));
        Errors.Outcome outcome = Errors.counted(bench, reference, of, () -> with);
        if (outcome.words() != null) {
            return Errors.none(bench, outcome.words());
        }
        Errors.keep(bench, outcome, with);
        return MeterOutputs.done(String.format(
                Locale.ROOT,
                "%d pulses at %.4g A, power factor %.2f",
                outcome.pulses(),
                current,
                load.active() / load.apparent()));
    }

    private double flowing(ThreePhase load) {
        return switch (of) {
            case ACTIVE -> load.active();
            case REACTIVE -> load.reactive();
            case APPARENT -> load.apparent();
        };
    }

    @Override
    public ReadingBuilder retold(
            ReadingOrigin origin, String point, double value, Unit unit, Map<String, Double> facts) {
        return Errors.retold(origin, point, value, unit, facts);
    }
}
