package org.juratest.core.family.meters;

import java.math.BigDecimal;
import java.math.MathContext;
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
import org.juratest.core.run.Attempt;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.ReadingOrigin;
import org.juratest.core.run.RunState;

/**
 * A current transformer under load, beside which nothing is opened: its ratio and phase with clamps on both sides,
 * which tell whether what the plate says is plausible and never more than that; and the burden it drives.
 */
final class TransformerInService implements Method {

    private static final String RATIO = "ratio";
    private static final String ERROR = "error";
    private static final String PHASE = "phase";
    private static final String RATED = "ratedRatio";
    private static final String CLAMPS = "clamps";
    private static final String NOMINAL = "nominal";
    private static final String VA = "va";
    private static final String ANGLE = "angle";
    private static final String FACTOR = "powerFactor";
    private static final String VA_NOMINAL = "vaNominal";
    /** Minutes of a degree. */
    private static final double MINUTES = 60;
    /** Beyond it a ratio is another one, not one with an error. */
    private static final double ANOTHER = 0.1;

    private static final String REVERSED = "reversed: S1 and S2, or the clamp, are the other way round";
    /** Of the nominal current, below which clamps see nothing that can be used. */
    private static final double LEAST = 0.01;

    private static final MethodSpec RATIO_SPEC = MethodSpec.named("ct.ratio")
            .ports(MeterMethods.REFERENCE)
            .param(RATED, Unit.ONE, 0, 100_000)
            .param(NOMINAL, Unit.AMPERE, 0.1, 10)
            .param(CLAMPS, Unit.PERCENT, 0.05, 5, 0.5)
            .point(RATIO, Unit.ONE)
            .point(ERROR, Unit.PERCENT)
            .point(PHASE, Unit.ONE)
            .build();
    private static final MethodSpec BURDEN_SPEC =
            burden(MethodSpec.named("ct.burden").ports(MeterMethods.REFERENCE)).build();

    private final boolean ratio;

    TransformerInService(boolean ratio) {
        this.ratio = ratio;
    }

    /** Points and parameters that every way of measuring a burden has. */
    static MethodSpec.Builder burden(MethodSpec.Builder builder) {
        return builder.param(NOMINAL, Unit.AMPERE, 0.1, 10)
                .point(VA, Unit.VOLT_AMPERE)
                .point(ANGLE, Unit.ONE)
                .point(FACTOR, Unit.ONE)
                .point(VA_NOMINAL, Unit.VOLT_AMPERE);
    }

    @Override
    public MethodSpec spec() {
        return ratio ? RATIO_SPEC : BURDEN_SPEC;
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        return new Announced(
                ratio
                        ? "Clamps on both sides of " + where + "; nothing is opened or switched on"
                        : "Voltage and current of the secondary of " + where + "; nothing is opened or switched on",
                Map.of(),
                List.of(),
                Set.of(ReferenceStandard.class),
                10);
    }

    @Override
    public Result run(MethodBench bench) {
        ReferenceStandard reference = bench.port(ReferenceStandard.class);
        return ratio ? ratio(bench, reference) : burden(bench, reference);
    }

    private static Result ratio(MethodBench bench, ReferenceStandard reference) {
        ReferenceStandard.Clamped seen = reference.clamped();
        double nominal = bench.param(NOMINAL);
        double secondary = seen.secondary().rms();
        if (secondary < LEAST * nominal || seen.primary().rms() == 0) {
            String words =
                    String.format(Locale.ROOT, "no load: the secondary carries %.3g A of %.3g A", secondary, nominal);
            Points.notMeasurable(bench, List.of(RATIO, ERROR, PHASE), words);
            return MeterOutputs.done(words);
        }
        double measured = seen.primary().rms() / secondary;
        double degrees = seen.primary().behind(seen.secondary());
        boolean reversed = Math.abs(degrees) > 90;
        double minutes = MINUTES * (reversed ? Math.IEEEremainder(degrees + 180, 360) : degrees);
        double clamp = bench.param(CLAMPS) * 100 / Math.sqrt(3);
        Points.keep(bench, RATIO, () -> bench.value(RATIO, measured, Unit.ONE).typeB(clamp / 100 * measured, 1));
        Points.keep(bench, PHASE, () -> bench.value(PHASE, minutes, Unit.ONE)
                .typeB(clamp * 0.6 * MINUTES / Math.sqrt(2), 1));
        double rated = bench.param(RATED);
        if (rated == 0) {
            Points.notMeasurable(bench, List.of(ERROR), "the plate leaves the ratio to be measured");
            return MeterOutputs.done(leftToBeMeasured(measured, nominal) + (reversed ? "; " + REVERSED : ""));
        }
        // Secondary times rated ratio against the primary, as IEC 61869-2 defines it.
        double percent = (rated / measured - 1) * 100;
        Points.keep(
                bench, ERROR, () -> bench.value(ERROR, percent, Unit.PERCENT).typeB(clamp * Math.sqrt(2), 1));
        if (Math.abs(rated / measured - 1) > ANOTHER) {
            return new Result(
                    Attempt.Outcome.UNCLEAR,
                    OutputEvents.OffReason.DONE,
                    String.format(
                            Locale.ROOT,
                            "entered %.4g, measured %.4g: is what was entered wrong, or is another tap connected?",
                            rated,
                            measured));
        }
        return MeterOutputs.done(
                reversed
                        ? "plausible but " + REVERSED
                        : Math.abs(percent) <= 2 * bench.param(CLAMPS) * 100 + 1 ? "plausible" : "not plausible");
    }

    /** The plate leaves it blank: what is measured is told, with the rated ratio of usual currents that is nearest. */
    private static String leftToBeMeasured(double measured, double nominal) {
        double primary = UsualCurrents.nearest(measured * nominal);
        return String.format(Locale.ROOT, "left to be measured: %.4g", measured)
                + (Math.abs(primary / nominal / measured - 1) < ANOTHER / 2
                        ? ", as " + plain(primary) + " A to " + plain(nominal) + " A; enter that on the plate"
                        : ", which no usual transformer has");
    }

    private static String plain(double value) {
        return new BigDecimal(value)
                .round(new MathContext(4))
                .stripTrailingZeros()
                .toPlainString();
    }

    private static Result burden(MethodBench bench, ReferenceStandard reference) {
        ReferenceStandard.Across seen = reference.across();
        double nominal = bench.param(NOMINAL);
        if (seen.current().rms() < LEAST * nominal) {
            String words = String.format(
                    Locale.ROOT,
                    "no load: the secondary carries %.3g A of %.3g A",
                    seen.current().rms(),
                    nominal);
            Points.notMeasurable(bench, List.of(VA, ANGLE, FACTOR, VA_NOMINAL), words);
            return MeterOutputs.done(words);
        }
        Burden burden = Burden.of(seen.voltage(), seen.current(), nominal);
        keepBurden(bench, burden, seen.voltage().rms(), seen.current().rms());
        return MeterOutputs.done(words(burden));
    }

    static String words(Burden burden) {
        return String.format(
                Locale.ROOT,
                "%.3g VA at the nominal current, %.3g\u03a9, power factor %.2f",
                burden.vaNominal(),
                burden.ohms(),
                burden.powerFactor());
    }

    /** Keeps what a burden came to, with what it was measured by. */
    static void keepBurden(MethodBench bench, Burden burden, double volts, double amperes) {
        for (String point : List.of(VA, ANGLE, FACTOR, VA_NOMINAL)) {
            if (bench.step().point(point).isPresent()) {
                double value =
                        switch (point) {
                            case VA -> burden.va();
                            case ANGLE -> burden.degrees();
                            case FACTOR -> burden.powerFactor();
                            default -> burden.vaNominal();
                        };
                Unit unit = point.equals(ANGLE) || point.equals(FACTOR) ? Unit.ONE : Unit.VOLT_AMPERE;
                ReadingBuilder reading = bench.value(point, value, unit);
                if (unit == Unit.VOLT_AMPERE) {
                    // The nominal burden goes as U/I: it has both errors once; VA as measured has them as a product.
                    reading.accuracy("voltage", volts, volts, value / Math.max(1e-12, volts))
                            .accuracy("current", amperes, amperes, value / amperes);
                } else {
                    reading.unknown();
                }
                bench.keep(reading.with("current", Quantity.amperes(amperes))
                        .with("voltage", new Quantity(volts, Unit.VOLT)));
            }
        }
    }

    @Override
    public ReadingBuilder retold(
            ReadingOrigin origin, String point, double value, Unit unit, Map<String, Double> facts) {
        ReadingBuilder told = origin.value(point, value, unit);
        return point.equals(VA_NOMINAL) ? told.typeB(0.01 * Math.abs(value), 1) : told.unknown();
    }
}
