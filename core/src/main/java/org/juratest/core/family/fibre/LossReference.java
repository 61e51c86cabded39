package org.juratest.core.family.fibre;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.juratest.core.method.Announced;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.RunState;

/**
 * The reference of insertion loss (IEC 61280-4-1 for multimode, IEC 61280-4-2 for single mode): the light that reaches
 * the detector through one, two or three cords, without what is measured. Point {@code power}, dBm. How many cords
 * there were, and how the light was launched, is told with it.
 */
final class LossReference implements Method {

    /** Less than this is no reference: something is not connected, dBm. */
    private static final double LEAST = -35;

    private static final List<String> CORDS = List.of("one cord", "two cords", "three cords");

    @Override
    public MethodSpec spec() {
        return MethodSpec.named("fibre.lossReference")
                .ports("loss-tester")
                .param("wavelength", Unit.NANOMETRE, 800, 1700, 1310)
                .param("farEnd", Unit.ONE, 0, 1, 0)
                .param("cords", Unit.ONE, 1, 3, 1)
                .point("power", Unit.DBM)
                .build();
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        return new Announced(
                "Takes the light through the cords as the reference of " + where, Map.of(), List.of(), Set.of(), 10);
    }

    @Override
    public Result run(MethodBench bench) {
        LossTester tester = bench.port(LossTester.class);
        CableLines.select(bench, tester);
        double dbm = tester.power();
        String cords = CORDS.get((int) Math.round(bench.param("cords")) - 1);
        if (!(dbm >= LEAST)) {
            return new Result(
                    Attempt.Outcome.CONNECTION_FAILED,
                    OutputEvents.OffReason.DONE,
                    String.format(
                            Locale.ROOT, "only %.1f dBm reach the detector: look at the cords and connect them", dbm));
        }
        bench.keep(bench.value("power", dbm, Unit.DBM).accuracy("power"));
        return Shots.valid("through " + cords + "; " + tester.launch());
    }
}
