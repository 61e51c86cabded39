package org.juratest.core.family.meters;

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

/**
 * A voltage transformer under load, seen at its own terminals and at the meter at one time: what its lead drops in size
 * and angle, and the burden that hangs on it. Nothing is opened.
 */
final class VoltageInService implements Method {

    private static final String DROP = "drop";
    private static final String PHASE = "phase";
    private static final String TERMINALS = "terminals";
    private static final String METER = "meter";
    private static final String NOMINAL = "nominal";
    private static final String VA = "va";
    private static final String VA_NOMINAL = "vaNominal";
    private static final String FACTOR = "powerFactor";
    private static final String VOLTAGE = "voltage";
    /** Minutes of a degree. */
    private static final double MINUTES = 60;
    /** Of the nominal voltage, below which nothing is connected. */
    private static final double LEAST = 0.5;

    private static final MethodSpec DROP_SPEC = spec("vt.leadDrop")
            .point(DROP, Unit.PERCENT)
            .point(PHASE, Unit.ONE)
            .point(TERMINALS, Unit.VOLT)
            .point(METER, Unit.VOLT)
            .build();
    private static final MethodSpec BURDEN_SPEC = spec("vt.burden")
            .point(VA_NOMINAL, Unit.VOLT_AMPERE)
            .point(VA, Unit.VOLT_AMPERE)
            .point(FACTOR, Unit.ONE)
            .build();

    private final boolean lead;

    VoltageInService(boolean lead) {
        this.lead = lead;
    }

    private static MethodSpec.Builder spec(String name) {
        return MethodSpec.named(name).ports(MeterMethods.REFERENCE).param(NOMINAL, Unit.VOLT, 30, 300);
    }

    @Override
    public MethodSpec spec() {
        return lead ? DROP_SPEC : BURDEN_SPEC;
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        return new Announced(
                lead
                        ? "Voltages at the transformer and at the meter of " + where
                                + "; nothing is opened or switched on"
                        : "Voltage and current of the secondary of " + where + "; nothing is opened or switched on",
                Map.of(),
                List.of(),
                Set.of(ReferenceStandard.class),
                10);
    }

    @Override
    public Result run(MethodBench bench) {
        ReferenceStandard.Ends ends = bench.port(ReferenceStandard.class).ends();
        double volts = ends.transformer().rms();
        if (volts < LEAST * bench.param(NOMINAL)) {
            String words = String.format(
                    Locale.ROOT, "no voltage: %.3g V of %.3g V at its terminals", volts, bench.param(NOMINAL));
            Points.notMeasurable(bench, spec().points().keySet(), words);
            return MeterOutputs.done(words);
        }
        return lead ? drop(bench, ends) : burden(bench, ends, volts);
    }

    private static Result drop(MethodBench bench, ReferenceStandard.Ends ends) {
        double terminals = ends.transformer().rms();
        double meter = ends.meter().rms();
        double percent = (meter / terminals - 1) * 100;
        double minutes = MINUTES * ends.transformer().behind(ends.meter());
        // Both inputs are of one standard: of their errors what differs between two inputs is left, as it states.
        Points.keep(bench, DROP, () -> bench.value(DROP, percent, Unit.PERCENT).accuracy("ratio", 100, 100, 1));
        Points.keep(bench, PHASE, () -> bench.value(PHASE, minutes, Unit.ONE).accuracy("minutes", minutes, minutes, 1));
        Points.keep(bench, TERMINALS, () -> bench.value(TERMINALS, terminals, Unit.VOLT)
                .accuracy("voltage"));
        Points.keep(bench, METER, () -> bench.value(METER, meter, Unit.VOLT).accuracy("voltage"));
        return MeterOutputs.done(String.format(
                Locale.ROOT, "%.4g V at the transformer, %.4g V at the meter: %.3g %%", terminals, meter, percent));
    }

    private static Result burden(MethodBench bench, ReferenceStandard.Ends ends, double volts) {
        double amperes = ends.current().rms();
        if (!(amperes > 0)) {
            String words = "no current flows in its secondary: is the clamp around the right lead?";
            Points.notMeasurable(bench, BURDEN_SPEC.points().keySet(), words);
            return MeterOutputs.done(words);
        }
        double nominal = bench.param(NOMINAL) / volts;
        double va = volts * amperes;
        double factor = Math.cos(Math.toRadians(ends.current().behind(ends.transformer())));
        Quantity with = new Quantity(volts, Unit.VOLT);
        Points.keep(bench, VA_NOMINAL, () -> both(bench, VA_NOMINAL, va * nominal * nominal, volts, amperes)
                .with(VOLTAGE, with));
        Points.keep(bench, VA, () -> both(bench, VA, va, volts, amperes).with(VOLTAGE, with));
        Points.keep(bench, FACTOR, () -> bench.value(FACTOR, factor, Unit.ONE).unknown());
        return MeterOutputs.done(String.format(
                Locale.ROOT, "%.3g VA at the nominal voltage, power factor %.2f", va * nominal * nominal, factor));
    }

    private static ReadingBuilder both(MethodBench bench, String point, double va, double volts, double amperes) {
        return bench.value(point, va, Unit.VOLT_AMPERE)
                .accuracy("voltage", volts, volts, va / volts)
                .accuracy("current", amperes, amperes, va / amperes);
    }

    @Override
    public ReadingBuilder retold(
            ReadingOrigin origin, String point, double value, Unit unit, Map<String, Double> facts) {
        ReadingBuilder told = origin.value(point, value, unit);
        return switch (point) {
            case DROP -> told.typeB(0.01, 1);
            case PHASE -> told.typeB(0.5, 1);
            case VA, VA_NOMINAL -> told.typeB(0.01 * Math.abs(value), 1);
            default -> told.unknown();
        };
    }
}
