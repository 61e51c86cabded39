package org.juratest.core.family.fibre;

import java.util.Map;
import org.juratest.core.method.Announced;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.RunState;

/**
 * The connection at the front, by a short shot: points {@code reflectance} and {@code loss} of it, dB. A poor one is no
 * fault of the link, and nothing is measured through it.
 */
final class LaunchMethod implements Method {

    private static final double PULSE = 100e-9;
    private static final double RANGE = 5000;

    @Override
    public MethodSpec spec() {
        return Shots.spec("fibre.launch")
                .point("reflectance", Unit.DECIBEL)
                .point("loss", Unit.DECIBEL)
                .captures("First metres")
                .build();
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        return Shots.announced(step, where, 1);
    }

    @Override
    public Result run(MethodBench bench) {
        Reflectometer tester = bench.port(Reflectometer.class);
        tester.direction(Shots.isFar(bench.step()));
        double wavelength = bench.param("wavelength");
        Result traffic = Shots.traffic(bench, tester, wavelength);
        if (traffic != null) {
            return traffic;
        }
        OtdrTrace trace = Shots.shot(bench, tester, wavelength, PULSE, RANGE, bench.param("averaging"));
        OtdrAnalysis found = Otdr.analyse(trace, tester.lead());
        LaunchCheck check = LaunchCheck.of(found, tester.frontLevel());
        boolean good = check.quality() == LaunchCheck.Quality.GOOD || check.quality() == LaunchCheck.Quality.FAIR;
        bench.connectionChecked(good, check.words(), Map.of());
        bench.trace(KeptTrace.trace("First metres", trace, found.zero()));
        if (!good) {
            return new Result(Attempt.Outcome.CONNECTION_FAILED, OutputEvents.OffReason.DONE, check.words());
        }
        OtdrEvent front = found.events().get(0);
        if (front.reflectance() == null) {
            bench.noValue("reflectance", "it reflects too little to be seen");
        } else {
            bench.keep(bench.value("reflectance", front.reflectance(), Unit.DECIBEL)
                    .accuracy("reflectance"));
        }
        if (front.loss() == null) {
            bench.noValue("loss", "there is too little fibre on one side of it");
        } else {
            bench.keep(bench.value("loss", front.loss(), Unit.DECIBEL)
                    .accuracy("loss")
                    .with("level", new Quantity(found.frontLevel(), Unit.DECIBEL)));
        }
        return Shots.valid(check.words());
    }
}
