package org.juratest.core.family.meters;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.function.Supplier;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.ReadingOrigin;

/** The error of a meter from several counts of its pulses: the mean of the runs, and how far apart they lie. */
final class Errors {

    static final String ERROR = "error";
    static final String SPREAD = "spread";
    static final String REGISTRATION = "registration";
    static final String PULSES = "pulses";
    /** By how much of a pulse a head may see an edge late. */
    private static final double EDGE = 0.001;
    /** Of a reading in per cent, which a data sheet's figure for energy is a share of. */
    private static final double WHOLE = 100;

    private Errors() {}

    static MethodSpec.Builder spec(MethodSpec.Builder builder) {
        return spec(builder, PulseCounter.Energy.ACTIVE);
    }

    static MethodSpec.Builder spec(MethodSpec.Builder builder, PulseCounter.Energy of) {
        return builder.param("constant", of.constant(), 0.1, 1_000_000)
                .param(PULSES, Unit.ONE, 1, 100_000)
                .param("seconds", Unit.SECOND, 1, 36_000)
                .param("runs", Unit.ONE, 1, 20, 1)
                .point(ERROR, Unit.PERCENT)
                .point(SPREAD, Unit.PERCENT)
                .point(REGISTRATION, Unit.PERCENT)
                .point(PULSES, Unit.ONE);
    }

    /** What the runs came to; {@code words} where they came to nothing. */
    record Outcome(List<Double> errors, long pulses, @org.jspecify.annotations.Nullable String words) {}

    /** Thrown out of a count whose gear ended by itself. */
    static final class EndedException extends RuntimeException {
        private final transient MeterOutput.Given end;

        EndedException(MeterOutput.Given end) {
            this.end = end;
        }

        MeterOutput.Given end() {
            return end;
        }
    }

    /**
     * Counts run by run.
     *
     * @param of which energy the pulses are for
     * @param watched called again and again: what is shown beside the count; may throw {@link EndedException}
     */
    static Outcome counted(
            MethodBench bench, PulseCounter counter, PulseCounter.Energy of, Supplier<Map<String, Quantity>> watched) {
        double constant = bench.param("constant");
        int runs = (int) Math.round(bench.param("runs"));
        long wanted = Math.round(bench.param(PULSES));
        double seconds = bench.param("seconds");
        List<Double> errors = new ArrayList<>();
        long pulses = 0;
        for (int run = 1; run <= runs; run++) {
            counter.count(of, wanted, seconds);
            PulseCounter.Count now = counter.counted();
            while (!now.over()) {
                Map<String, Quantity> values = new LinkedHashMap<>(watched.get());
                told(values, now, of, constant, wanted, run, runs);
                bench.progress(values);
                bench.stop().pause(MeterOutputs.POLL);
                now = counter.counted();
            }
            if (now.pulses() < 1 || !(now.energy() > 0)) {
                return new Outcome(
                        errors,
                        pulses,
                        String.format(
                                Locale.ROOT,
                                "no two pulses within %.4g s at %.4g %s: does the meter stand still, or the head?",
                                now.elapsed(),
                                now.power(),
                                of.power().symbol()));
            }
            errors.add(MeterError.byPulses(now.pulses(), constant, now.energy(), 0, EDGE)
                    .percent());
            pulses += now.pulses();
        }
        return new Outcome(errors, pulses, null);
    }

    private static void told(
            Map<String, Quantity> values,
            PulseCounter.Count now,
            PulseCounter.Energy of,
            double constant,
            long wanted,
            int run,
            int runs) {
        values.put("pulses", new Quantity(now.pulses(), Unit.ONE));
        values.put("wanted", new Quantity(wanted, Unit.ONE));
        values.put("counting", Quantity.seconds(now.elapsed()));
        values.put("power", new Quantity(now.power(), of.power()));
        values.put("run", new Quantity(run, Unit.ONE));
        values.put("runs", new Quantity(runs, Unit.ONE));
        values.put("meterEnergy", new Quantity(now.pulses() / constant, of.unit()));
        values.put("referenceEnergy", new Quantity(now.energy(), of.unit()));
        if (now.pulses() > 0 && now.energy() > 0) {
            values.put(
                    ERROR,
                    new Quantity(
                            MeterError.byPulses(now.pulses(), constant, now.energy(), 0, EDGE)
                                    .percent(),
                            Unit.PERCENT));
        }
    }

    /** No pulses where enough flows: the meter stands still, or the head sees none; a person settles which it is. */
    static Method.Result none(MethodBench bench, String words) {
        bench.noValue(ERROR, words);
        return new Method.Result(Attempt.Outcome.UNCLEAR, OutputEvents.OffReason.DONE, words);
    }

    /** Keeps what the runs came to. */
    static void keep(MethodBench bench, Outcome outcome, Map<String, Quantity> with) {
        double mean = outcome.errors.stream().mapToDouble(e -> e).average().orElse(Double.NaN);
        double most = outcome.errors.stream().mapToDouble(e -> e).max().orElse(Double.NaN);
        double least = outcome.errors.stream().mapToDouble(e -> e).min().orElse(Double.NaN);
        int runs = outcome.errors.size();
        long each = Math.max(1, outcome.pulses / runs);
        double deviation = runs < 2
                ? 0
                : Math.sqrt(outcome.errors.stream()
                                .mapToDouble(e -> (e - mean) * (e - mean))
                                .sum()
                        / (runs - 1));
        bench.keep(error(bench, mean, each).scatter(deviation, runs).with(with));
        if (bench.step().point(SPREAD).isPresent()) {
            bench.keep(bench.value(SPREAD, most - least, Unit.PERCENT).unknown());
        }
        if (bench.step().point(REGISTRATION).isPresent()) {
            bench.keep(bench.value(REGISTRATION, 100 + mean, Unit.PERCENT)
                    .accuracy("energy", WHOLE, WHOLE, 1)
                    .typeB(counting(each), 1));
        }
        if (bench.step().point(PULSES).isPresent()) {
            bench.keep(bench.value(PULSES, outcome.pulses, Unit.ONE).typeB(0, 1));
        }
    }

    private static double counting(long pulses) {
        return MeterError.byPulses(pulses, 1, pulses, 0, EDGE).uncertainty() / 2;
    }

    private static ReadingBuilder error(ReadingOrigin from, double percent, long pulses) {
        return from.value(ERROR, percent, Unit.PERCENT)
                .accuracy("energy", WHOLE, WHOLE, 1)
                .typeB(counting(pulses), 1);
    }

    /** Of another time. */
    static ReadingBuilder retold(
            ReadingOrigin origin, String point, double value, Unit unit, Map<String, Double> facts) {
        long pulses = Math.max(1, Math.round(facts.getOrDefault(PULSES, 10.0)));
        if (!point.equals(ERROR)) {
            return point.equals(PULSES)
                    ? origin.value(point, value, unit).typeB(0, 1)
                    : origin.value(point, value, unit).unknown();
        }
        Map<String, Quantity> with = new LinkedHashMap<>();
        if (facts.containsKey("current")) {
            with.put("current", Quantity.amperes(facts.get("current")));
        }
        if (facts.containsKey("powerFactor")) {
            with.put("powerFactor", new Quantity(facts.get("powerFactor"), Unit.ONE));
        }
        return error(origin, unit.convert(value, Unit.PERCENT), pulses).with(with);
    }
}
