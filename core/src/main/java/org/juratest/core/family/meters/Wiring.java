package org.juratest.core.family.meters;

import java.util.ArrayList;
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
import org.juratest.core.trace.Trace;

/**
 * How a meter is wired, from the phasors at its terminals under the customer's load: what is wrong is told as every
 * wiring that fits, with what that assumes of the load.
 */
final class Wiring implements Method {

    private static final String CHANGES = "changes";
    private static final String FITTING = "fitting";
    /** How much of what was sampled is kept, s: enough to see its shape. */
    private static final double KEPT = 0.06;

    private static final MethodSpec SPEC = spec(MethodSpec.named("meter.wiring")
            .ports(MeterMethods.REFERENCE)
            .param("seconds", Unit.SECOND, 0.06, 1, 0.2)
            .param("leads", Unit.ONE, 0, 90, WiringCheck.Assumed.USUAL.leads())
            .param("lags", Unit.ONE, 0, 90, WiringCheck.Assumed.USUAL.lags())
            .param("apart", Unit.ONE, 1, 180, WiringCheck.Assumed.USUAL.apart())
            .param("delivered", Unit.ONE, 0, 1, 0)
            .captures("Voltage 1", "Voltage 2", "Voltage 3", "Current 1", "Current 2", "Current 3")
            .point(CHANGES, Unit.ONE)
            .point(FITTING, Unit.ONE)
            .point("frequency", Unit.HERTZ)
            .point("active", Unit.WATT)
            .point("activePrimary", Unit.WATT)
            .point("reactive", Unit.VAR)
            .point("apparent", Unit.VOLT_AMPERE)
            .point("powerFactor", Unit.ONE));

    private static MethodSpec spec(MethodSpec.Builder builder) {
        for (int k = 1; k <= 3; k++) {
            builder.point("u" + k, Unit.VOLT).point("i" + k, Unit.AMPERE).point("angle" + k, Unit.ONE);
        }
        return builder.build();
    }

    @Override
    public MethodSpec spec() {
        return SPEC;
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        return new Announced(
                "Voltages and currents at the meter of " + where + " are read; nothing is switched on",
                Map.of(),
                List.of(),
                Set.of(ReferenceStandard.class),
                10);
    }

    @Override
    public Result run(MethodBench bench) {
        Service service = Service.of(bench.state());
        ReferenceStandard.Samples taken = bench.port(ReferenceStandard.class).samples(bench.param("seconds"));
        ThreePhase measured;
        ThreePhase clamped;
        try {
            double[][][] three = service.phases(taken);
            measured = ThreePhase.of(taken.perSecond(), three[0], three[1]);
            // What is in no clamp is not held against a wiring.
            clamped = service == Service.THREE_WIRES
                    ? ThreePhase.of(taken.perSecond(), three[0], new double[][] {
                        taken.current()[0], new double[taken.current()[0].length], taken.current()[2]
                    })
                    : measured;
            taken = new ReferenceStandard.Samples(taken.perSecond(), three[0], three[1]);
        } catch (SignalException e) {
            String words = "what was sampled cannot be used: " + e.getMessage();
            bench.notMeasurable(CHANGES, words);
            return MeterOutputs.done(words);
        }
        WiringCheck.Assumed assumed = new WiringCheck.Assumed(
                bench.param("leads"),
                bench.param("lags"),
                bench.param("apart"),
                bench.param("delivered") > 0.5 ? WiringCheck.Direction.EXPORT : WiringCheck.Direction.IMPORT);
        List<WiringCheck.Wiring> fitting = WiringCheck.fitting(clamped, assumed, service == Service.THREE_WIRES);
        List<String> missing = missing(measured, service);
        String words = words(fitting, missing, assumed);
        keep(taken, measured, fitting, missing, assumed, bench);
        figures(measured, bench);
        if (bench.step().point(FITTING).isPresent()) {
            bench.keep(bench.value(FITTING, fitting.size(), Unit.ONE).typeB(0, 1));
        }
        if (fitting.isEmpty()) {
            bench.noValue(CHANGES, words);
        } else {
            int changes = missing.size() + fitting.get(0).faults().size();
            bench.keep(bench.value(CHANGES, changes, Unit.ONE).typeB(0, 1).remark(words));
        }
        return MeterOutputs.done(words);
    }

    private static List<String> missing(ThreePhase measured, Service service) {
        List<String> words = new ArrayList<>();
        WiringCheck.missingVoltages(measured).stream()
                .filter(service::has)
                .forEach(k -> words.add("voltage " + k + " is missing"));
        WiringCheck.missingCurrents(measured).stream()
                .filter(service::has)
                .forEach(k -> words.add("no current in input " + k));
        return words;
    }

    /** What to change, or what else may be. */
    static String words(List<WiringCheck.Wiring> fitting, List<String> missing, WiringCheck.Assumed assumed) {
        List<String> parts = new ArrayList<>(missing);
        if (fitting.isEmpty()) {
            parts.add("no wiring fits a load of " + assumed.words());
        } else {
            WiringCheck.Wiring best = fitting.get(0);
            parts.add(best.right() ? "wired as it should be" : best.name());
            if (fitting.size() > 1) {
                parts.add((fitting.size() - 1) + (fitting.size() == 2 ? " other wiring fits" : " other wirings fit")
                        + " too: "
                        + String.join(
                                "; or ",
                                fitting.stream()
                                        .skip(1)
                                        .limit(3)
                                        .map(WiringCheck.Wiring::name)
                                        .toList()));
            }
            parts.add("taking " + assumed.words());
        }
        return String.join("; ", parts);
    }

    private static void figures(ThreePhase measured, MethodBench bench) {
        keep(bench, "frequency", measured.frequency(), Unit.HERTZ, "frequency");
        keep(bench, "active", measured.active(), Unit.WATT, "power");
        if (bench.step().point("activePrimary").isPresent()) {
            double multiplier = Service.multiplier(bench.state());
            bench.keep(bench.value("activePrimary", multiplier * measured.active(), Unit.WATT)
                    .accuracy("power", measured.active(), measured.active(), multiplier)
                    .with("secondary", new Quantity(measured.active(), Unit.WATT))
                    .ifNone("a ratio of its transformers is left to be measured"));
        }
        keep(bench, "reactive", measured.reactive(), Unit.VAR, "power");
        keep(bench, "apparent", measured.apparent(), Unit.VOLT_AMPERE, "apparent power");
        keep(bench, "powerFactor", measured.active() / measured.apparent(), Unit.ONE, "number");
        for (int k = 0; k < 3; k++) {
            PhaseQuantities phase = measured.phases().get(k);
            keep(bench, "u" + (k + 1), phase.voltage(), Unit.VOLT, "voltage");
            keep(bench, "i" + (k + 1), phase.current(), Unit.AMPERE, "current");
            keep(bench, "angle" + (k + 1), behind(measured, k), Unit.ONE, "number");
        }
    }

    private static double behind(ThreePhase measured, int k) {
        return Double.isNaN(measured.phases().get(k).currentAngle())
                ? Double.NaN
                : measured.currents().get(k).behind(measured.voltages().get(k));
    }

    private static void keep(MethodBench bench, String point, double value, Unit unit, String accuracy) {
        if (bench.step().point(point).isPresent()) {
            bench.keep(bench.value(point, value, unit).accuracy(accuracy).ifNone("no current flows there"));
        }
    }

    /** A few cycles of each, and with the first all that a phasor wheel shows. */
    private static void keep(
            ReferenceStandard.Samples taken,
            ThreePhase measured,
            List<WiringCheck.Wiring> fitting,
            List<String> missing,
            WiringCheck.Assumed assumed,
            MethodBench bench) {
        int count = Math.min(taken.voltage()[0].length, (int) Math.ceil(KEPT * taken.perSecond()));
        double[] x = new double[count];
        for (int n = 0; n < count; n++) {
            x[n] = n / taken.perSecond();
        }
        for (int k = 0; k < 3; k++) {
            Map<String, String> facts = new LinkedHashMap<>();
            facts.put("phasor", phasor(measured.voltages().get(k)));
            if (k == 0) {
                facts.put("assumes", assumed.words());
                facts.put("missing", String.join("; ", missing));
                facts.put("rotation", measured.rotation().name());
                for (int w = 0; w < Math.min(6, fitting.size()); w++) {
                    facts.put("wiring" + (w + 1), fitting.get(w).name());
                }
            }
            bench.trace(
                    new Trace(
                            "Voltage " + (k + 1),
                            Unit.SECOND,
                            Unit.VOLT,
                            x,
                            java.util.Arrays.copyOf(taken.voltage()[k], count)),
                    facts);
            bench.trace(
                    new Trace(
                            "Current " + (k + 1),
                            Unit.SECOND,
                            Unit.AMPERE,
                            x,
                            java.util.Arrays.copyOf(taken.current()[k], count)),
                    Map.of("phasor", phasor(measured.currents().get(k))));
        }
    }

    /** Rms and degrees, as {@code 230.1 -120.3}. */
    private static String phasor(Phasor p) {
        return String.format(Locale.ROOT, "%.5g %.2f", p.rms(), p.degrees());
    }

    @Override
    public ReadingBuilder retold(
            ReadingOrigin origin, String point, double value, Unit unit, Map<String, Double> facts) {
        ReadingBuilder told = origin.value(point, value, unit);
        return point.equals(CHANGES) || point.equals(FITTING) ? told.typeB(0, 1) : told.accuracy(unit.dimension());
    }
}
