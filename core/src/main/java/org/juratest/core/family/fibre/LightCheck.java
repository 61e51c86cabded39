package org.juratest.core.family.fibre;

import java.util.List;
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

/** Light that comes out of a fibre before any is sent in: point {@code power}, dBm. Nothing is switched on. */
final class LightCheck implements Method {

    /** More than this is traffic, dBm. */
    static final double TRAFFIC = -40;

    @Override
    public MethodSpec spec() {
        return MethodSpec.named("fibre.light")
                .ports("reflectometer")
                .param("farEnd", Unit.ONE, 0, 1, 0)
                .point("power", Unit.DBM)
                .build();
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        return new Announced(
                "Looks for light on " + where + "; its own laser stays off", Map.of(), List.of(), Set.of(), 5);
    }

    @Override
    public Result run(MethodBench bench) {
        Reflectometer tester = bench.port(Reflectometer.class);
        tester.direction(Shots.isFar(bench.step()));
        double dbm = tester.light();
        bench.keep(bench.value("power", dbm, Unit.DBM).accuracy("power"));
        return new Result(
                Attempt.Outcome.VALID,
                OutputEvents.OffReason.DONE,
                dbm > TRAFFIC ? "there is light on it: it carries traffic" : "no light on it");
    }
}
