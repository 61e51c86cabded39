package org.juratest.core.family.fibre;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.OptionalDouble;
import java.util.Set;
import org.juratest.core.method.Announced;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.References;
import org.juratest.core.run.RunState;

/**
 * The reference of return loss: the open, flat-polished end of the cord reflects what is known (Fresnel, glass to air),
 * so that what comes back from there is the scale for all that comes back later. Points {@code level}, dB, and
 * {@code distance} of the end, m, which is found on the first channel and, if the step says so, taken over by the
 * others.
 */
final class ReturnReference implements Method {

    /** The most that may come back from a place that is no open end, dB: dirt and worn connectors reflect less. */
    private static final double OPEN_AT_LEAST = -22;

    @Override
    public MethodSpec spec() {
        return MethodSpec.named("fibre.returnReference")
                .ports("loss-tester")
                .param("wavelength", Unit.NANOMETRE, 800, 1700, 1310)
                .param("farEnd", Unit.ONE, 0, 1, 0)
                .param("copy", Unit.ONE, 0, 1, 1)
                .point("level", Unit.DECIBEL)
                .point("distance", Unit.METRE)
                .build();
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        return new Announced(
                "Looks at what the open end of the cord reflects on " + where, Map.of(), List.of(), Set.of(), 10);
    }

    /** The distance on the first channel of the same wavelength; empty on that itself. */
    private static OptionalDouble onFirst(MethodBench bench) {
        RunState state = bench.state();
        Step step = bench.step();
        double wavelength = CableLines.wavelength(state, step, bench.lane());
        return state.procedure().lanesOf(step, state.scope()).stream()
                .filter(lane -> CableLines.wavelength(state, step, lane) == wavelength)
                .findFirst()
                .filter(lane -> !lane.equals(bench.lane()))
                .map(lane -> References.counted(state, new PointKey(step.id(), "distance", lane)))
                .orElse(OptionalDouble.empty());
    }

    @Override
    public Result run(MethodBench bench) {
        LossTester tester = bench.port(LossTester.class);
        CableLines.select(bench, tester);
        OptionalDouble first = bench.param("copy") > 0.5 ? onFirst(bench) : OptionalDouble.empty();
        double distance =
                first.isPresent() ? first.getAsDouble() : tester.echo().distance();
        double level = tester.reflected(distance);
        if (!(level >= OPEN_AT_LEAST)) {
            return new Result(
                    Attempt.Outcome.CONNECTION_FAILED,
                    OutputEvents.OffReason.DONE,
                    String.format(
                            Locale.ROOT,
                            "only %.1f dB come back from %.1f m: no open, flat-polished end is there",
                            level,
                            distance));
        }
        bench.keep(bench.value("level", level, Unit.DECIBEL).accuracy("returnLoss"));
        bench.keep(bench.value("distance", distance, Unit.METRE).accuracy("distance"));
        return Shots.valid(String.format(
                Locale.ROOT, "the open end is at %.2f m%s", distance, first.isPresent() ? ", as on the first" : ""));
    }
}
