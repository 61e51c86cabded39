package org.juratest.core.family.meters;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.juratest.core.method.Announced;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.ReadingOrigin;
import org.juratest.core.run.RunState;

/** What hangs on a current transformer, measured by a current into it while the transformer is out of its loop. */
final class BurdenOfLoad implements Method {

    private static final String CURRENT = "current";
    private static final String OPEN =
            "no current flows into the load: is the link closed, and are the leads on the load's side?";

    private static final MethodSpec SPEC = TransformerInService.burden(MethodSpec.named("ct.burdenLoad")
                    .hazard(MethodSpec.Hazard.CURRENT)
                    .ports("burden-set"))
            .param(CURRENT, Unit.AMPERE, 0.05, 10)
            .param("seconds", Unit.SECOND, 0.5, 60, 3)
            .maximum(CURRENT, Unit.AMPERE, 10)
            .maximum("time", Unit.SECOND, 120)
            .build();

    @Override
    public MethodSpec spec() {
        return SPEC;
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        double current = Method.base(step.params(), CURRENT);
        double seconds = Method.base(step.params(), "seconds");
        return MeterOutputs.announced(
                step,
                BurdenSet.class,
                String.format(
                        Locale.ROOT,
                        "%.4g A into what hangs on %s, for %.3g s; protection on that circuit may trip",
                        current,
                        where,
                        seconds),
                0,
                current,
                seconds);
    }

    @Override
    public Result run(MethodBench bench) {
        BurdenSet set = bench.port(BurdenSet.class);
        set.prepare(bench.param(CURRENT), bench.param("seconds"));
        MeterOutput.Given end = MeterOutputs.run(bench, set);
        if (MeterOutputs.cause(end) != MeterOutput.Cause.LIMIT) {
            return MeterOutputs.ended(bench, end, List.of("vaNominal", "va", "angle", "powerFactor"), OPEN);
        }
        Burden burden =
                Burden.of(Phasor.of(end.volts(), 0), Phasor.of(end.amperes(), -end.degrees()), bench.param("nominal"));
        TransformerInService.keepBurden(bench, burden, end.volts(), end.amperes());
        return MeterOutputs.done(TransformerInService.words(burden));
    }

    @Override
    public ReadingBuilder retold(
            ReadingOrigin origin, String point, double value, Unit unit, Map<String, Double> facts) {
        return origin.value(point, value, unit).typeB(0.005 * Math.abs(value), 1);
    }
}
