package org.juratest.core.family.fibre;

import java.util.Locale;
import org.jspecify.annotations.Nullable;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.procedure.Step;
import org.juratest.core.procedure.StepKind;
import org.juratest.core.run.RunState;

/** Which fibre and which wavelength a lane of a step is. */
final class CableLines {

    /** The lane set of fibres; what its lanes are called are their numbers. */
    static final String FIBRE = "fibre";
    /** The parameter of a step whose fibres are connected by hand, one after the other, to one channel. */
    static final String CHANNEL = "channel";
    /** The lane set of wavelengths; its lanes are called by them, nm. */
    static final String WAVELENGTH = "wavelength";

    private CableLines() {}

    /** The channel of the switch: the step's own, else the number of the fibre; 1 where it has neither. */
    static int channel(RunState state, Step step, String lane) {
        if (step.params().containsKey(CHANNEL) && Method.base(step.params(), CHANNEL) > 0) {
            return (int) Math.round(Method.base(step.params(), CHANNEL));
        }
        String fibre = state.procedure().laneIn(step, lane, FIBRE);
        return fibre == null ? 1 : Integer.parseInt(fibre);
    }

    /** The wavelength of a lane, m: what the lane says, else the step's parameter. */
    static double wavelength(RunState state, Step step, String lane) {
        String nm = state.procedure().laneIn(step, lane, WAVELENGTH);
        return nm == null ? Method.base(step.params(), WAVELENGTH) : Double.parseDouble(nm) * 1e-9;
    }

    /** Switches a tester to the lane of a bench. */
    static void select(MethodBench bench, LossTester tester) {
        if (bench.step().params().containsKey("farEnd")) {
            tester.direction(Shots.isFar(bench.step()));
        }
        tester.select(
                channel(bench.state(), bench.step(), bench.lane()),
                wavelength(bench.state(), bench.step(), bench.lane()),
                bench.step().kind() == StepKind.REFERENCE);
    }

    /** "1310 nm". */
    static String words(double wavelength) {
        return String.format(Locale.ROOT, "%.0f nm", wavelength * 1e9);
    }

    /** The layout that a plate tells of; absent where it has none: single fibres. */
    static @Nullable ArrayLayout layout(Nameplate plate) {
        String layout = plate.texts().get("layout");
        return layout == null ? null : ArrayLayout.of(layout, live(plate));
    }

    private static String live(Nameplate plate) {
        String live = plate.texts().getOrDefault("live", "all");
        return live.equals("own mask") ? plate.texts().getOrDefault("liveMask", "") : live;
    }
}
