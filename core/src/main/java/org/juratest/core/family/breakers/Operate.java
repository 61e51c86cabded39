package org.juratest.core.family.breakers;

import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;
import java.util.function.Function;
import org.juratest.core.method.Announced;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Announcement.Bound;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.ReadingOrigin;
import org.juratest.core.run.RunState;
import org.juratest.core.trace.Trace;

/**
 * One operation of a breaker by its own coil: the time of each of its three poles, how far apart they are, travel with
 * speed, overtravel and rebound, and the current of the coil with the moment its armature struck. A coil that is open
 * stops it before a voltage is given.
 */
final class Operate implements Method {

    private static final Duration POLL = Duration.ofMillis(40);
    private static final int POLES = 3;
    private static final String COIL = "Coil current";
    private static final String TRAVEL = "Travel";
    /** Points that are times, s. */
    private static final Set<String> TIMES =
            Set.of("pole1", "pole2", "pole3", "slowest", "spread", "bounce", "latch", "coilEnds", "closeOpen");

    private final OperationRecorder.Command command;
    private final MethodSpec spec;

    Operate(OperationRecorder.Command command) {
        this.command = command;
        MethodSpec.Builder builder = MethodSpec.named(
                        switch (command) {
                            case OPEN -> "breaker.open";
                            case CLOSE -> "breaker.close";
                            case CLOSE_OPEN -> "breaker.closeOpen";
                        })
                .hazard(MethodSpec.Hazard.MOTION)
                .ports("breaker-analyser")
                .param("voltage", Unit.VOLT, 6, 400)
                .param("seconds", Unit.SECOND, 0.05, 2, 0.3)
                .param("zone", Unit.MILLIMETRE, 0.5, 300, 6)
                .maximum("voltage", Unit.VOLT, 440)
                .maximum("time", Unit.SECOND, 5);
        for (int pole = 1; pole <= POLES; pole++) {
            builder.point("pole" + pole, Unit.SECOND);
        }
        builder.point("spread", Unit.SECOND);
        if (command != OperationRecorder.Command.CLOSE_OPEN) {
            builder.point("slowest", Unit.SECOND);
        }
        if (command != OperationRecorder.Command.OPEN) {
            builder.point("bounce", Unit.SECOND);
        }
        if (command == OperationRecorder.Command.CLOSE_OPEN) {
            builder.point("closeOpen", Unit.SECOND);
        } else {
            builder.point("speed", Unit.METRE_PER_SECOND)
                    .point("stroke", Unit.MILLIMETRE)
                    .point("overtravel", Unit.MILLIMETRE)
                    .point("rebound", Unit.MILLIMETRE);
        }
        this.spec = builder.point("coilPeak", Unit.AMPERE)
                .point("latch", Unit.SECOND)
                .point("coilEnds", Unit.SECOND)
                .captures(COIL, TRAVEL)
                .build();
    }

    @Override
    public MethodSpec spec() {
        return spec;
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        double voltage = Method.base(step.params(), "voltage");
        double seconds = Method.base(step.params(), "seconds");
        double greatest = Method.base(step.maxima(), "voltage");
        double longest = Method.base(step.maxima(), "time");
        Method.within("voltage", voltage, greatest);
        Method.within("seconds", seconds, longest);
        return new Announced(
                String.format(
                        Locale.ROOT,
                        "%.4g V to the coil for at most %.3g s: %s %s at once, with all its force",
                        voltage,
                        seconds,
                        where.isBlank() ? "the breaker" : where,
                        does()),
                Map.of("voltage", new Quantity(voltage, Unit.VOLT), "time", Quantity.seconds(seconds)),
                List.of(
                        Bound.upTo("voltage", voltage, "V", "announced"),
                        Bound.upTo("voltage", greatest, "V", "the procedure's greatest voltage"),
                        Bound.upTo("time", seconds, "s", "announced"),
                        Bound.upTo("time", longest, "s", "the procedure's greatest time")),
                Set.of(OperationRecorder.class),
                longest);
    }

    private String does() {
        return switch (command) {
            case OPEN -> "opens";
            case CLOSE -> "closes";
            case CLOSE_OPEN -> "closes and opens again";
        };
    }

    @Override
    public Result run(MethodBench bench) {
        OperationRecorder recorder = bench.port(OperationRecorder.class);
        double ohms = recorder.coilResistance(command);
        boolean whole = ohms <= Double.MAX_VALUE;
        String found =
                whole ? String.format(Locale.ROOT, "the coil has %.4g Ω", ohms) : "the circuit of the coil is open";
        bench.connectionChecked(whole, found, whole ? Map.of("coil", new Quantity(ohms, Unit.OHM)) : Map.of());
        if (!whole) {
            return unclear(bench, found + ". Are the leads on, its auxiliary switch in place and its interlocks free?");
        }
        recorder.prepare(command, bench.param("voltage"), bench.param("seconds"));
        bench.stop().switchOn(recorder::outputOn);
        while (recorder.isRecording()) {
            bench.progress(Map.of("voltage", new Quantity(bench.param("voltage"), Unit.VOLT)));
            bench.stop().pause(POLL);
        }
        CurrentSource.OffCause cause = recorder.cause();
        recorder.makeSafe();
        if (cause != CurrentSource.OffCause.LIMIT) {
            return CircuitCheck.ended(bench, cause);
        }
        return judged(bench, recorder.recorded());
    }

    /** A lead that is off and a breaker that fails look the same: a person says which. */
    private static Result unclear(MethodBench bench, String words) {
        for (int pole = 1; pole <= POLES; pole++) {
            none(bench, "pole" + pole, words);
        }
        return new Result(Attempt.Outcome.UNCLEAR, OutputEvents.OffReason.CIRCUIT_OPEN, words);
    }

    private static void none(MethodBench bench, String point, String words) {
        if (bench.step().point(point).isPresent()) {
            bench.noValue(point, words);
        }
    }

    private Result judged(MethodBench bench, SwitchingRecord record) {
        if (record.contacts().length != POLES) {
            return unclear(bench, record.contacts().length + " poles were recorded, not " + POLES);
        }
        Optional<Switching> analysed = Switching.of(record, bench.param("zone") * 1000);
        if (analysed.isEmpty()) {
            return unclear(bench, "no current flowed in the coil");
        }
        Switching found = analysed.get();
        drawn(bench, record, found);
        Function<Switching.Pole, OptionalDouble> moment =
                command == OperationRecorder.Command.CLOSE ? Switching.Pole::made : Switching.Pole::parted;
        if (found.poles().stream().allMatch(p -> moment.apply(p).isEmpty())) {
            return unclear(bench, "its coil was energised, and no contact moved. Is it " + ready() + "?");
        }
        double step = 1 / record.perSecond();
        for (int i = 0; i < POLES; i++) {
            kept(bench, "pole" + (i + 1), own(found, i, moment), step, "this pole did not move");
        }
        kept(bench, "slowest", found.last(moment), step, "not all poles moved");
        kept(bench, "spread", found.spread(moment), step, "not all poles moved");
        if (command != OperationRecorder.Command.OPEN) {
            OptionalDouble bounce = found.poles().stream()
                    .map(Switching.Pole::bounce)
                    .filter(OptionalDouble::isPresent)
                    .mapToDouble(OptionalDouble::getAsDouble)
                    .max();
            kept(bench, "bounce", bounce, step, "no pole closed");
        }
        if (command == OperationRecorder.Command.CLOSE_OPEN) {
            kept(bench, "closeOpen", found.closeOpen(), step, "it did not do both");
        }
        motion(bench, found);
        keep(bench, "coilPeak", OptionalDouble.of(found.coil().peak()), "");
        kept(bench, "latch", found.coil().latch(), step, "the current shows no dip of the armature");
        kept(bench, "coilEnds", found.coil().ends(), step, "the auxiliary switch did not interrupt the coil");
        return new Result(
                Attempt.Outcome.VALID,
                OutputEvents.OffReason.DONE,
                found.last(moment).stream()
                        .mapToObj(t -> String.format(Locale.ROOT, "%s in %.1f ms", does(), t * 1000))
                        .findFirst()
                        .orElse("not all poles moved"));
    }

    private String ready() {
        return command == OperationRecorder.Command.OPEN ? "closed" : "open, its spring charged";
    }

    /** A pole's moment; in a close-open how long it was closed. */
    private OptionalDouble own(Switching found, int pole, Function<Switching.Pole, OptionalDouble> moment) {
        Switching.Pole of = found.poles().get(pole);
        OptionalDouble at = moment.apply(of);
        if (command != OperationRecorder.Command.CLOSE_OPEN || at.isEmpty()) {
            return at;
        }
        return of.made().isPresent()
                ? OptionalDouble.of(at.getAsDouble() - of.made().getAsDouble())
                : OptionalDouble.empty();
    }

    private static void motion(MethodBench bench, Switching found) {
        String still = "the drive shows no travel: is its transducer fitted?";
        Optional<Switching.Motion> motion = found.motion();
        keep(bench, "speed", motion.map(Switching.Motion::speed).orElse(OptionalDouble.empty()), still);
        keep(bench, "stroke", some(motion, Switching.Motion::stroke), still);
        keep(bench, "overtravel", some(motion, Switching.Motion::overtravel), still);
        keep(bench, "rebound", some(motion, Switching.Motion::rebound), still);
    }

    private static OptionalDouble some(Optional<Switching.Motion> of, Function<Switching.Motion, Double> what) {
        return of.map(m -> OptionalDouble.of(what.apply(m))).orElse(OptionalDouble.empty());
    }

    private static void kept(MethodBench bench, String point, OptionalDouble value, double step, String none) {
        if (bench.step().point(point).isPresent() && value.isPresent()) {
            bench.keep(reading(bench, point, value.getAsDouble(), Unit.SECOND).within(step));
        } else {
            none(bench, point, none);
        }
    }

    private static void keep(MethodBench bench, String point, OptionalDouble value, String none) {
        if (bench.step().point(point).isPresent() && value.isPresent()) {
            Unit unit = unit(point);
            bench.keep(reading(bench, point, value.getAsDouble() * (unit == Unit.METRE ? 1e-3 : 1), unit));
        } else {
            none(bench, point, none);
        }
    }

    private static Unit unit(String point) {
        return switch (point) {
            case "speed" -> Unit.METRE_PER_SECOND;
            case "coilPeak" -> Unit.AMPERE;
            default -> Unit.METRE;
        };
    }

    /** Both counted from the command, so that operations lie over each other. */
    private static void drawn(MethodBench bench, SwitchingRecord record, Switching found) {
        Map<String, float[]> channels = new LinkedHashMap<>();
        channels.put(TRAVEL, record.travel());
        channels.put(COIL, record.coil());
        channels.forEach((name, values) -> {
            double[] x = new double[values.length];
            double[] y = new double[values.length];
            for (int i = 0; i < values.length; i++) {
                x[i] = i / record.perSecond() - found.command();
                y[i] = values[i];
            }
            bench.trace(new Trace(name, Unit.SECOND, name.equals(COIL) ? Unit.AMPERE : Unit.MILLIMETRE, x, y));
        });
    }

    private static ReadingBuilder reading(ReadingOrigin from, String point, double value, Unit unit) {
        ReadingBuilder builder = from.value(point, value, unit);
        return TIMES.contains(point) ? builder.accuracy(Unit.SECOND.dimension()) : builder.accuracy(unit.dimension());
    }

    @Override
    public ReadingBuilder retold(
            ReadingOrigin origin, String point, double value, Unit unit, Map<String, Double> facts) {
        Unit base = TIMES.contains(point) ? Unit.SECOND : unit(point);
        return reading(origin, point, unit.convert(value, base), base);
    }
}
