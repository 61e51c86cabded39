package org.juratest.core.family.meters;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
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

/** An instrument transformer by itself, out of service: winding, core and ratio, each from its terminals. */
final class TransformerAlone implements Method {

    /** What is done to it. */
    enum What {
        WINDING("ct.winding"),
        DEMAGNETISE("ct.demagnetise"),
        EXCITATION("ct.excitation"),
        RATIO("ct.voltageRatio"),
        /** Of a voltage transformer, from its primary side. */
        VOLTAGE_RATIO("vt.ratio");

        private final String name;

        What(String name) {
            this.name = name;
        }
    }

    private static final String OPEN = "no current flows: are the leads on the secondary of the right core?";
    private static final String RESISTANCE = "resistance";
    private static final String CORRECTED = "corrected";
    private static final String DONE = "done";
    private static final String KNEE = "knee";
    private static final String KNEE_CURRENT = "kneeCurrent";
    private static final String KNEE_45 = "knee45";
    private static final String KNEE_45_CURRENT = "knee45Current";
    private static final String RATIO = "ratio";
    private static final String DEVIATION = "deviation";
    private static final String POLARITY = "polarity";
    private static final String PHASE = "phase";
    private static final String VOLTAGE = "voltage";
    private static final String CURRENT = "current";
    private static final String SECONDS = "seconds";
    private static final double WANTED_CELSIUS = 75;
    private static final int POINTS = 24;

    private final What what;
    private final MethodSpec spec;

    TransformerAlone(What what) {
        this.what = what;
        MethodSpec.Builder builder = MethodSpec.named(what.name)
                .hazard(what == What.WINDING ? MethodSpec.Hazard.CURRENT : MethodSpec.Hazard.VOLTAGE)
                .ports("transformer-analyser")
                .param(SECONDS, Unit.SECOND, 1, 300, 30)
                .maximum("time", Unit.SECOND, 600);
        if (what != What.WINDING) {
            builder.param(VOLTAGE, Unit.VOLT, 0.1, 2000).maximum(VOLTAGE, Unit.VOLT, 2000);
        }
        builder.param(CURRENT, Unit.AMPERE, 0.001, 10).maximum(CURRENT, Unit.AMPERE, 10);
        switch (what) {
            case WINDING ->
                builder.param("ambient", Unit.CELSIUS, -40, 80, 20)
                        .point(RESISTANCE, Unit.OHM)
                        .point(CORRECTED, Unit.OHM);
            case DEMAGNETISE -> builder.point(DONE, Unit.ONE);
            case EXCITATION ->
                builder.captures("Excitation")
                        .point(KNEE, Unit.VOLT)
                        .point(KNEE_CURRENT, Unit.AMPERE)
                        .point(KNEE_45, Unit.VOLT)
                        .point(KNEE_45_CURRENT, Unit.AMPERE);
            default ->
                builder.param("ratedRatio", Unit.ONE, 0.1, 100_000)
                        .point(RATIO, Unit.ONE)
                        .point(DEVIATION, Unit.PERCENT)
                        .point(POLARITY, Unit.ONE);
        }
        if (what == What.VOLTAGE_RATIO) {
            builder.point(PHASE, Unit.ONE);
        }
        this.spec = builder.build();
    }

    @Override
    public MethodSpec spec() {
        return spec;
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        double volts = what == What.WINDING ? 0 : Method.base(step.params(), VOLTAGE);
        double amperes = Method.base(step.params(), CURRENT);
        String words =
                switch (what) {
                    case WINDING ->
                        String.format(Locale.ROOT, "%.3g A direct through the winding of %s", amperes, where);
                    case DEMAGNETISE ->
                        String.format(
                                Locale.ROOT, "up to %.4g V on the secondary of %s, falling to nothing", volts, where);
                    case EXCITATION ->
                        String.format(
                                Locale.ROOT,
                                "up to %.4g V or %.3g A on the secondary of %s, its primary open",
                                volts,
                                amperes,
                                where);
                    case RATIO ->
                        String.format(Locale.ROOT, "%.4g V on the secondary of %s, its primary open", volts, where);
                    case VOLTAGE_RATIO ->
                        String.format(
                                Locale.ROOT,
                                "%.4g V on the primary of %s, its secondary open and free of the meter",
                                volts,
                                where);
                };
        return MeterOutputs.announced(
                step, TransformerAnalyser.class, words, volts, amperes, Method.base(step.params(), SECONDS));
    }

    @Override
    public Result run(MethodBench bench) {
        TransformerAnalyser gear = bench.port(TransformerAnalyser.class);
        double seconds = bench.param(SECONDS);
        switch (what) {
            case WINDING -> gear.prepareWinding(0, bench.param(CURRENT), seconds);
            case DEMAGNETISE -> gear.prepareDemagnetising(bench.param(VOLTAGE), bench.param(CURRENT), seconds);
            case EXCITATION -> gear.prepareExcitation(bench.param(VOLTAGE), bench.param(CURRENT), POINTS, seconds);
            case RATIO -> gear.prepareRatio(bench.param(VOLTAGE), bench.param(CURRENT), seconds);
            case VOLTAGE_RATIO -> gear.prepareVoltageRatio(bench.param(VOLTAGE), bench.param(CURRENT), seconds);
        }
        MeterOutput.Given end = MeterOutputs.run(bench, gear);
        if (MeterOutputs.cause(end) != MeterOutput.Cause.DONE) {
            return MeterOutputs.ended(bench, end, List.copyOf(spec.points().keySet()), OPEN);
        }
        return switch (what) {
            case WINDING -> winding(bench, end);
            case DEMAGNETISE -> {
                bench.keep(bench.value(DONE, 1, Unit.ONE).typeB(0, 1));
                yield MeterOutputs.done("demagnetised");
            }
            case EXCITATION -> excitation(bench, gear.curve());
            // One turn on the primary: the voltages stand as the turns for voltages below the knee.
            case RATIO -> ratio(bench, end.volts(), gear.primary(), "no voltage over the primary");
            case VOLTAGE_RATIO -> ratio(bench, end.volts(), gear.secondary(), "no voltage at the secondary");
        };
    }

    private static void keep(MethodBench bench, String point, double value, Unit unit, String none) {
        Points.keep(bench, point, () -> bench.value(point, value, unit)
                .accuracy(unit.dimension())
                .ifNone(none));
    }

    private static Result winding(MethodBench bench, MeterOutput.Given end) {
        double ohms = end.volts() / end.amperes();
        double ambient = bench.param("ambient");
        keep(bench, RESISTANCE, ohms, Unit.OHM, "no current flowed");
        if (bench.step().point(CORRECTED).isPresent()) {
            double hot = Excitation.copperAt(ohms, ambient, WANTED_CELSIUS);
            bench.keep(bench.value(CORRECTED, hot, Unit.OHM)
                    .accuracy("resistance", ohms, ohms, hot / ohms)
                    .with("temperature", new Quantity(ambient, Unit.CELSIUS)));
        }
        return MeterOutputs.done(String.format(Locale.ROOT, "%.4g\u03a9 at %.0f \u00b0C, copper", ohms, ambient));
    }

    private static Result excitation(MethodBench bench, TransformerAnalyser.Curve curve) {
        bench.trace(new Trace("Excitation", Unit.AMPERE, Unit.VOLT, curve.amperes(), curve.volts()));
        Optional<Excitation.Knee> iec;
        Optional<Excitation.Knee> ieee;
        try {
            Excitation excitation = new Excitation(curve.amperes(), curve.volts());
            iec = excitation.kneeIec();
            ieee = excitation.kneeIeee();
        } catch (SignalException e) {
            iec = Optional.empty();
            ieee = Optional.empty();
        }
        String none = "the curve does not reach a knee";
        keep(bench, KNEE, iec.map(Excitation.Knee::voltage).orElse(Double.NaN), Unit.VOLT, none);
        keep(bench, KNEE_CURRENT, iec.map(Excitation.Knee::current).orElse(Double.NaN), Unit.AMPERE, none);
        keep(bench, KNEE_45, ieee.map(Excitation.Knee::voltage).orElse(Double.NaN), Unit.VOLT, none);
        keep(bench, KNEE_45_CURRENT, ieee.map(Excitation.Knee::current).orElse(Double.NaN), Unit.AMPERE, none);
        return MeterOutputs.done(
                iec.map(k -> String.format(Locale.ROOT, "knee at %.4g V, %.3g A", k.voltage(), k.current()))
                        .orElse(none));
    }

    /**
     * Ratio, error and polarity from the voltages on both sides.
     *
     * @param volts on the side that is fed
     * @param other on the other, its angle against that
     */
    private static Result ratio(MethodBench bench, double volts, Phasor other, String none) {
        if (!(other.rms() > 0)) {
            // Without a voltage there is no angle either: nothing is said of the polarity.
            for (String point : List.of(RATIO, DEVIATION, POLARITY, PHASE)) {
                if (bench.step().point(point).isPresent()) {
                    bench.noValue(point, none);
                }
            }
            return MeterOutputs.done(none);
        }
        double measured = volts / other.rms();
        double rated = bench.param("ratedRatio");
        boolean same = Math.abs(other.degrees()) < 90;
        keep(bench, RATIO, measured, Unit.ONE, none);
        if (bench.step().point(DEVIATION).isPresent()) {
            bench.keep(bench.value(DEVIATION, (rated / measured - 1) * 100, Unit.PERCENT)
                    .accuracy("voltage", 100, 100, 1)
                    .ifNone(none));
        }
        if (bench.step().point(PHASE).isPresent()) {
            double minutes = 60 * (same ? other.degrees() : Math.IEEEremainder(other.degrees() + 180, 360));
            bench.keep(bench.value(PHASE, minutes, Unit.ONE).accuracy("minutes", minutes, minutes, 1));
        }
        if (bench.step().point(POLARITY).isPresent()) {
            bench.keep(bench.value(POLARITY, same ? 1 : -1, Unit.ONE).typeB(0, 1));
        }
        return MeterOutputs.done(
                String.format(Locale.ROOT, "%.5g, %s", measured, same ? "as marked" : "polarity reversed"));
    }

    @Override
    public ReadingBuilder retold(
            ReadingOrigin origin, String point, double value, Unit unit, Map<String, Double> facts) {
        ReadingBuilder told = origin.value(point, value, unit);
        return switch (point) {
            case DONE, POLARITY -> told.typeB(0, 1);
            case DEVIATION -> told.accuracy("voltage", 100, 100, 1);
            default -> told.accuracy(unit.dimension());
        };
    }
}
