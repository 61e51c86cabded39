package org.juratest.core.family.meters;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
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
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.ReadingOrigin;
import org.juratest.core.run.RunState;

/**
 * A meter on a source: at a load point its error, without any current how much it creeps, with very little whether it
 * starts. Where a step wants it, a contact lets the load go on after the press; until then nothing is on.
 */
final class LoadPoint implements Method {

    /** What is looked for. */
    enum What {
        ERROR("meter.load"),
        CREEP("meter.creep"),
        START("meter.start");

        private final String name;

        What(String name) {
            this.name = name;
        }
    }

    private static final String VOLTAGE = "voltage";
    private static final String CURRENT = "current";
    private static final String TIME = "time";
    private static final String CONTACT = "contact";
    private static final String WAIT = "wait";
    private static final String OPEN = "no current flows: are the current leads of the source in their loop?";

    private final What what;
    private final MethodSpec spec;

    LoadPoint(What what) {
        this.what = what;
        MethodSpec.Builder builder = MethodSpec.named(what.name)
                .hazard(MethodSpec.Hazard.VOLTAGE)
                .ports(MeterMethods.SOURCE)
                .param(VOLTAGE, Unit.VOLT, 10, 600)
                .param("frequency", Unit.HERTZ, 45, 65, 50)
                .maximum(VOLTAGE, Unit.VOLT, 600)
                .maximum(TIME, Unit.SECOND, 36_000);
        if (what != What.CREEP) {
            builder.param(CURRENT, Unit.AMPERE, 0.0005, 200).maximum(CURRENT, Unit.AMPERE, 200);
        }
        this.spec = what == What.ERROR
                ? Errors.spec(builder)
                        .param("degrees", Unit.ONE, -90, 90, 0)
                        .param("phase", Unit.ONE, 0, 3, 0)
                        .param("fifth", Unit.ONE, 0, 0.5, 0)
                        .param("warm", Unit.SECOND, 0, 7200, 0)
                        .param("settle", Unit.SECOND, 0, 600, 2)
                        .param(CONTACT, Unit.ONE, 0, 1, 0)
                        .param(WAIT, Unit.SECOND, 1, 3600, 600)
                        .build()
                : builder.param("seconds", Unit.SECOND, 1, 36_000)
                        .point(Errors.PULSES, Unit.ONE)
                        .build();
    }

    @Override
    public MethodSpec spec() {
        return spec;
    }

    private double current(Step step) {
        return what == What.CREEP ? 0 : Method.base(step.params(), CURRENT);
    }

    /** How long it may be on, s. */
    private double longest(Step step) {
        Map<String, org.juratest.core.procedure.Param> p = step.params();
        double seconds = Method.base(p, "seconds");
        return what != What.ERROR
                ? seconds + 10
                : Method.base(p, "warm") + Method.base(p, "settle") + Method.base(p, "runs") * (seconds + 2) + 10;
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        double volts = Method.base(step.params(), VOLTAGE);
        double amperes = current(step);
        String words = String.format(
                Locale.ROOT,
                "%.4g V%s into the meter of %s, for at most %.4g s%s",
                volts,
                amperes > 0 ? String.format(Locale.ROOT, " and %.4g A", amperes) : ", no current",
                where,
                longest(step),
                what == What.ERROR && Method.base(step.params(), CONTACT) > 0.5
                        ? ", as soon as the contact at the source closes"
                        : "");
        return MeterOutputs.announced(step, LoadSource.class, words, volts, amperes, longest(step));
    }

    @Override
    public Result run(MethodBench bench) {
        LoadSource source = bench.port(LoadSource.class);
        boolean error = what == What.ERROR;
        source.prepare(
                new LoadSource.Load(
                        bench.param(VOLTAGE),
                        current(bench.step()),
                        error ? bench.param("degrees") : 0,
                        error ? (int) Math.round(bench.param("phase")) : 0,
                        bench.param("frequency"),
                        error ? bench.param("fifth") : 0),
                longest(bench.step()));
        if (error && bench.param(CONTACT) > 0.5 && !released(bench, source)) {
            return new Result(
                    Attempt.Outcome.ABORTED,
                    OutputEvents.OffReason.TIME_LIMIT,
                    "the contact at the source did not close; nothing was switched on");
        }
        bench.stop().switchOn(source::outputOn);
        try {
            return error ? error(bench, source) : pulses(bench, source);
        } catch (Errors.EndedException e) {
            return MeterOutputs.ended(bench, e.end(), List.of(error ? Errors.ERROR : Errors.PULSES), OPEN);
        }
    }

    /** Waits, with nothing on, until the contact closes; false where it does not. */
    private static boolean released(MethodBench bench, LoadSource source) {
        long end = System.nanoTime() + (long) (bench.param(WAIT) * 1e9);
        while (!source.contact()) {
            if (System.nanoTime() > end) {
                return false;
            }
            bench.progress(Map.of("waitsForContact", new Quantity(1, Unit.ONE)));
            bench.stop().pause(MeterOutputs.POLL);
        }
        return true;
    }

    private static MeterOutput.Given stillOn(LoadSource source) {
        MeterOutput.Given now = source.given();
        if (!now.on()) {
            throw new Errors.EndedException(now);
        }
        return now;
    }

    private static void until(MethodBench bench, LoadSource source, double seconds, String phase) {
        MeterOutput.Given now = stillOn(source);
        while (now.elapsed() < seconds) {
            MeterOutputs.show(bench, now, Map.of(phase, Quantity.seconds(seconds - now.elapsed())));
            bench.stop().pause(MeterOutputs.POLL);
            now = stillOn(source);
        }
    }

    private Result error(MethodBench bench, LoadSource source) {
        until(bench, source, bench.param("warm"), "warming");
        until(bench, source, bench.param("warm") + bench.param("settle"), "settling");
        Errors.Outcome outcome = Errors.counted(bench, source, PulseCounter.Energy.ACTIVE, () -> {
            MeterOutput.Given now = stillOn(source);
            Map<String, Quantity> values = new LinkedHashMap<>();
            values.put(CURRENT, Quantity.amperes(now.amperes()));
            values.put(VOLTAGE, new Quantity(now.volts(), Unit.VOLT));
            return values;
        });
        if (outcome.words() != null) {
            stillOn(source);
            return Errors.none(bench, outcome.words());
        }
        Map<String, Quantity> with = new LinkedHashMap<>();
        with.put(CURRENT, Quantity.amperes(bench.param(CURRENT)));
        with.put("powerFactor", new Quantity(Math.cos(Math.toRadians(bench.param("degrees"))), Unit.ONE));
        Errors.keep(bench, outcome, with);
        return MeterOutputs.done(outcome.pulses() + " pulses in "
                + outcome.errors().size() + (outcome.errors().size() == 1 ? " run" : " runs"));
    }

    /** Pulses within a time, from its first moment on. */
    private Result pulses(MethodBench bench, LoadSource source) {
        double seconds = bench.param("seconds");
        // A count runs from a first pulse to a last one; with none or one of them it has counted nothing.
        source.count(PulseCounter.Energy.ACTIVE, 1_000_000, seconds);
        PulseCounter.Count now = source.counted();
        while (!now.over()) {
            MeterOutput.Given given = stillOn(source);
            MeterOutputs.show(
                    bench,
                    given,
                    Map.of(
                            Errors.PULSES,
                            new Quantity(seen(now), Unit.ONE),
                            "left",
                            Quantity.seconds(Math.max(0, seconds - now.elapsed()))));
            bench.stop().pause(MeterOutputs.POLL);
            now = source.counted();
        }
        bench.keep(bench.value(Errors.PULSES, seen(now), Unit.ONE).typeB(0, 1).with(TIME, Quantity.seconds(seconds)));
        return MeterOutputs.done(seen(now) + " pulses in " + Math.round(seconds) + " s");
    }

    /** Of a count from a first pulse on, which is -1 before it: how many there were. */
    private static long seen(PulseCounter.Count now) {
        return now.pulses() + 1;
    }

    @Override
    public ReadingBuilder retold(
            ReadingOrigin origin, String point, double value, Unit unit, Map<String, Double> facts) {
        return what == What.ERROR
                ? Errors.retold(origin, point, value, unit, facts)
                : origin.value(point, value, unit).typeB(0, 1);
    }
}
