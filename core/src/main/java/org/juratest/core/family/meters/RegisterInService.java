package org.juratest.core.family.meters;

import java.time.Duration;
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

/**
 * What a meter shows against a reference under the customer's load: the advance of its register over an energy, or the
 * demand of one whole interval, between two moments at which the meter itself begins a new one (IEC 62056-61: 1.8.0,
 * 1.4.0 the demand that grows, 1.5.0 that of the last interval).
 */
final class RegisterInService implements Method {

    private static final String ERROR = "error";
    private static final String ADVANCE = "advance";
    private static final String REFERENCE = "reference";
    private static final String DEMAND = "demand";
    private static final String INTERVAL = "interval";
    private static final String ENERGY = "energy";
    private static final String SECONDS = "seconds";
    private static final String ENERGY_CODE = "1.8.0";
    private static final String GROWING_CODE = "1.4.0";
    private static final String LAST_CODE = "1.5.0";
    /** A meter's port is slow and shared; nothing is lost by asking it four times a second. */
    private static final Duration POLL = Duration.ofMillis(250);

    private static final MethodSpec REGISTER_SPEC = MethodSpec.named("meter.register")
            .ports(MeterMethods.REFERENCE, "meter-port")
            .param(ENERGY, Unit.KILOWATT_HOUR, 1e-4, 1e5)
            .param(SECONDS, Unit.SECOND, 10, 86_400)
            .point(ERROR, Unit.PERCENT)
            .point(ADVANCE, Unit.KILOWATT_HOUR)
            .point(REFERENCE, Unit.KILOWATT_HOUR)
            .build();
    private static final MethodSpec DEMAND_SPEC = MethodSpec.named("meter.demand")
            .ports(MeterMethods.REFERENCE, "meter-port")
            .param(INTERVAL, Unit.SECOND, 60, 7200)
            .point(ERROR, Unit.PERCENT)
            .point(DEMAND, Unit.KILOWATT)
            .point(REFERENCE, Unit.KILOWATT)
            .point(INTERVAL, Unit.SECOND)
            .build();

    /** Digits a register may stay behind before it is said to stand still. */
    private static final double STANDS = 3;

    private final boolean demand;

    RegisterInService(boolean demand) {
        this.demand = demand;
    }

    @Override
    public MethodSpec spec() {
        return demand ? DEMAND_SPEC : REGISTER_SPEC;
    }

    private double longest(Step step) {
        return demand
                // It may have just missed the end of one: that is waited for first.
                ? 2.2 * Method.base(step.params(), INTERVAL) + 60
                : Method.base(step.params(), SECONDS) + 60;
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        String words = demand
                ? String.format(
                        Locale.ROOT,
                        "The meter of %s is read again and again until it begins an interval of %.4g s, and over that",
                        where,
                        Method.base(step.params(), INTERVAL))
                : String.format(
                        Locale.ROOT,
                        "The register of the meter of %s against the reference: %.4g kWh or %.4g s, whichever comes "
                                + "first",
                        where,
                        kilowattHours(step),
                        Method.base(step.params(), SECONDS));
        return new Announced(
                words, Map.of(), List.of(), Set.of(ReferenceStandard.class, MeterPort.class), longest(step));
    }

    private static double kilowattHours(Step step) {
        return Method.base(step.params(), ENERGY) / Unit.KILOWATT_HOUR.factor();
    }

    @Override
    public Result run(MethodBench bench) {
        try {
            return demand ? demand(bench) : register(bench);
        } catch (UnreadableException e) {
            return nothing(bench, String.valueOf(e.getMessage()));
        }
    }

    /** Why nothing can be said: the meter does not give what it takes. */
    private static final class UnreadableException extends RuntimeException {
        private static final long serialVersionUID = 1;

        UnreadableException(String words) {
            super(words);
        }
    }

    private static MeterPort.Register read(MethodBench bench, String code, Unit unit) {
        MeterPort.Register register =
                bench.port(MeterPort.class).readout().registers().get(code);
        if (register == null) {
            throw new UnreadableException("the meter has no register " + code);
        }
        if (!register.unit().equals(unit.symbol())) {
            throw new UnreadableException("the meter gives " + code + " in " + register.unit());
        }
        return register;
    }

    private Result nothing(MethodBench bench, String words) {
        Points.notMeasurable(bench, spec().points().keySet(), words);
        return MeterOutputs.done(words);
    }

    // ---- register

    private Result register(MethodBench bench) {
        ReferenceStandard reference = bench.port(ReferenceStandard.class);
        MeterPort.Register before = read(bench, ENERGY_CODE, Unit.KILOWATT_HOUR);
        reference.integrate();
        double wanted = kilowattHours(bench.step());
        double most = bench.param(SECONDS);
        ReferenceStandard.Integrated now = reference.integrated();
        while (now.active() < wanted && now.seconds() < most) {
            Map<String, Quantity> values = new LinkedHashMap<>();
            values.put("referenceEnergy", new Quantity(now.active(), Unit.KILOWATT_HOUR));
            values.put("wantedEnergy", new Quantity(wanted, Unit.KILOWATT_HOUR));
            values.put("counting", Quantity.seconds(now.seconds()));
            bench.progress(values);
            bench.stop().pause(MeterOutputs.POLL);
            now = reference.integrated();
        }
        // The register first, then the reference as close behind it as can be: both moments lie as far apart as at
        // the beginning.
        MeterPort.Register after = read(bench, ENERGY_CODE, Unit.KILOWATT_HOUR);
        ReferenceStandard.Integrated over = reference.integrated();
        double advance = after.value() - before.value();
        double digit = Math.max(before.digit(), after.digit());
        if (!(advance > 0) || !(over.active() > 0)) {
            String words = String.format(
                    Locale.ROOT,
                    "the register did not go on within %.4g s and %.4g kWh; its last digit is worth %.3g kWh",
                    over.seconds(),
                    over.active(),
                    digit);
            // Over several digits it is the register that stands still; below that nobody can tell.
            return over.active() > STANDS * digit ? Errors.none(bench, words) : nothing(bench, words);
        }
        MeterError error = MeterError.byRegister(before.value(), after.value(), digit, over.active(), 0);
        Points.keep(bench, ERROR, () -> bench.value(ERROR, error.percent(), Unit.PERCENT)
                .accuracy("energy", 100, 100, 1)
                .typeB(error.uncertainty() / 2, 1)
                .with(ENERGY, new Quantity(over.active(), Unit.KILOWATT_HOUR)));
        Points.keep(bench, ADVANCE, () -> bench.value(ADVANCE, advance, Unit.KILOWATT_HOUR)
                .within(digit));
        Points.keep(bench, REFERENCE, () -> bench.value(REFERENCE, over.active(), Unit.KILOWATT_HOUR)
                .accuracy("energy", 100, 100, over.active() / 100));
        return MeterOutputs.done(String.format(
                Locale.ROOT, "%.5g kWh on the register, %.5g kWh of the reference", advance, over.active()));
    }

    // ---- demand

    private Result demand(MethodBench bench) {
        ReferenceStandard reference = bench.port(ReferenceStandard.class);
        double interval = bench.param(INTERVAL);
        reference.integrate();
        begins(bench, reference, 1.1 * interval, "until it begins");
        reference.integrate();
        begins(bench, reference, 1.1 * interval, "interval");
        ReferenceStandard.Integrated over = reference.integrated();
        MeterPort.Register last = read(bench, LAST_CODE, Unit.KILOWATT);
        double watts = MeterError.demand(over.active() * 1000, over.seconds());
        double percent = (last.value() * 1000 / watts - 1) * 100;
        // A register's last digit, and either end of the interval seen late by up to one round of asking.
        double late = POLL.toMillis() / 1000.0 / Math.max(1, over.seconds()) * 100 / Math.sqrt(6);
        double coarse = last.digit() / 2 / Math.sqrt(3) / Math.max(1e-9, watts / 1000) * 100;
        Points.keep(bench, ERROR, () -> bench.value(ERROR, percent, Unit.PERCENT)
                .accuracy("energy", 100, 100, 1)
                .typeB(Math.hypot(late, coarse), 1));
        Points.keep(bench, DEMAND, () -> bench.value(DEMAND, last.value(), Unit.KILOWATT)
                .within(last.digit()));
        Points.keep(bench, REFERENCE, () -> bench.value(REFERENCE, watts / 1000, Unit.KILOWATT)
                .accuracy("energy", 100, 100, watts / 1e5));
        Points.keep(bench, INTERVAL, () -> bench.value(INTERVAL, over.seconds(), Unit.SECOND)
                .typeB(POLL.toMillis() / 1000.0 / Math.sqrt(6), 1));
        return MeterOutputs.done(String.format(
                Locale.ROOT,
                "%.4g kW by the meter, %.4g kW by the reference, over %.1f s",
                last.value(),
                watts / 1000,
                over.seconds()));
    }

    /**
     * Waits until the demand that grows falls back: a new interval.
     *
     * @param most s of the reference's time
     * @throws UnreadableException if it does not within that
     */
    private static void begins(MethodBench bench, ReferenceStandard reference, double most, String what) {
        double before = Double.NEGATIVE_INFINITY;
        ReferenceStandard.Integrated now = reference.integrated();
        double from = now.seconds();
        while (now.seconds() - from <= most) {
            MeterPort.Register growing = read(bench, GROWING_CODE, Unit.KILOWATT);
            if (growing.value() < before - growing.digit() / 2) {
                return;
            }
            before = growing.value();
            bench.progress(Map.of(
                    DEMAND,
                    new Quantity(growing.value(), Unit.KILOWATT),
                    what,
                    Quantity.seconds(Math.max(0, most / 1.1 - (now.seconds() - from)))));
            bench.stop().pause(POLL);
            now = reference.integrated();
        }
        throw new UnreadableException(String.format(
                Locale.ROOT,
                "the meter began no interval within %.0f s: is its interval another one, or is there no load?",
                most));
    }

    @Override
    public ReadingBuilder retold(
            ReadingOrigin origin, String point, double value, Unit unit, Map<String, Double> facts) {
        ReadingBuilder told = origin.value(point, value, unit);
        return point.equals(ADVANCE) || point.equals(DEMAND)
                ? told.within(facts.getOrDefault("digit", 0.01))
                : told.unknown();
    }
}
