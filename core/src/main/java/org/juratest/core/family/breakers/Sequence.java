package org.juratest.core.family.breakers;

import java.time.Duration;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.juratest.core.curve.TimeOverCurrent;
import org.juratest.core.limit.Envelope;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.method.Announced;
import org.juratest.core.method.FileMethod;
import org.juratest.core.method.Filed;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.method.Results;
import org.juratest.core.method.StartingPoint;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.Param;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Announcement.Bound;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.Reading;
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.ReadingOrigin;
import org.juratest.core.run.RunState;
import org.juratest.core.signal.MeanSquare;
import org.juratest.core.trace.Trace;

/**
 * A device that closes again by itself, from its first operation to its lock-out, at a current that nothing holds: each
 * operation is judged by its true rms, and by how far its curve was run through. The first {@code fast} operations go
 * by the part {@code fast} of the device's curve, the others by the part {@code delayed}. Points: {@code operations} to
 * the lock-out, {@code fast} and {@code delayed}, the time of the slowest of each, against the curve; {@code runFast}
 * and {@code runDelayed}, the integral of dt/t(I) of those (IEEE C37.112-2018, 4.3). Rows: each operation.
 */
final class Sequence implements FileMethod {

    static final String FAST = "fast";
    static final String DELAYED = "delayed";
    /** How much more the source is set to than is wanted: what is not regulated sinks under its load. */
    private static final String DRIVE = "drive";
    /** Beside what came: what the source was set to. */
    private static final String SET = "set";

    private static final String OPERATIONS = "operations";
    private static final Duration POLL = Duration.ofMillis(50);
    /** Of what was set, below which no current flows. */
    private static final double NONE = 0.1;

    private static final int DRAWN = 900;
    /** How far the current of a file may be from that of a level, as a part of it; the levels are far apart. */
    private static final double SAME_LEVEL = 0.15;

    /** Looks at the rms that a trace keeps, at most. */
    private static final int MOST_KEPT = 12_000;

    private static final MethodSpec SPEC = CircuitCheck.params(MethodSpec.named("breaker.sequence"))
            .hazard(MethodSpec.Hazard.CURRENT)
            .ports("current-source")
            .param("current", Unit.AMPERE, 0.1, 100_000)
            .param(FAST, Unit.ONE, 0, 10, 2)
            .param(DRIVE, Unit.ONE, 0.5, 2, 1)
            .learned(DRIVE, "current")
            .param("quiet", Unit.SECOND, 0.5, 120, 15)
            .param("frequency", Unit.HERTZ, 16, 60, 50)
            .maximum("current", Unit.AMPERE, 100_000)
            .maximum("time", Unit.SECOND, 1800)
            .point(OPERATIONS, Unit.ONE)
            .point(FAST, Unit.SECOND)
            .point(DELAYED, Unit.SECOND)
            .point("runFast", Unit.ONE)
            .point("runDelayed", Unit.ONE)
            .feature("operation", Unit.ONE, columns())
            .captures("Current", DigitisedCurrent.NAME)
            .alsoFromFiles()
            .build();

    private static Map<String, Unit> columns() {
        Map<String, Unit> columns = new LinkedHashMap<>();
        columns.put("trip", Unit.SECOND);
        columns.put("open", Unit.SECOND);
        columns.put("rms", Unit.AMPERE);
        columns.put("run", Unit.ONE);
        return columns;
    }

    @Override
    public MethodSpec spec() {
        return SPEC;
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        double current = Method.base(step.params(), "current");
        double check = Method.base(step.params(), "checkCurrent");
        double greatest = Method.base(step.maxima(), "current");
        double longest = Method.base(step.maxima(), "time");
        double set = current * drive(step);
        Method.within("current", set, greatest);
        Method.within("checkCurrent", check, greatest);
        return new Announced(
                String.format(
                        Locale.ROOT,
                        "%.4g A to check the leads, then %.4g A%s into %s through all its operations to the lock-out, "
                                + "at most %.4g s",
                        check,
                        set,
                        set == current ? "" : String.format(Locale.ROOT, " for %.4g A", current),
                        where,
                        longest),
                Map.of(
                        "current",
                        Quantity.amperes(set),
                        "checkCurrent",
                        Quantity.amperes(check),
                        "time",
                        Quantity.seconds(longest)),
                List.of(
                        Bound.upTo("current", Math.max(set, check), "A", "announced"),
                        Bound.upTo("current", greatest, "A", "the procedure's greatest current"),
                        Bound.upTo(
                                "time", Math.max(longest, CircuitCheck.LIMIT), "s", "the procedure's greatest time")),
                Set.of(WaveSource.class, CurrentSource.class),
                Math.max(longest, CircuitCheck.LIMIT));
    }

    @Override
    public Result run(MethodBench bench) {
        WaveSource source = bench.port(WaveSource.class);
        double current = bench.param("current");
        double set = current * drive(bench.step());
        CircuitCheck check = CircuitCheck.of(bench, source, Math.max(current, set));
        if (!check.good()) {
            return check.failed(bench, OPERATIONS);
        }
        source.prepareSustained(set, check.range(), bench.maximum("time"));
        bench.stop().switchOn(source::outputOn);
        CurrentSource.OffCause cause = watched(bench, source, current);
        source.makeSafe();
        if (cause != CurrentSource.OffCause.COMMAND && cause != CurrentSource.OffCause.LIMIT) {
            return CircuitCheck.ended(bench, cause);
        }
        WaveSource.Wave wave = source.wave();
        return judged(
                bench, new DigitisedCurrent(wave.time(), wave.value(), frequency(bench.step())), check.range(), set);
    }

    private static double drive(Step step) {
        return step.params().containsKey(DRIVE) ? Method.base(step.params(), DRIVE) : 1;
    }

    /**
     * From the middle one of the currents over the operations: that of a short one has more of the direct part in it,
     * that of a long one has sunk further.
     */
    @Override
    public List<StartingPoint> startingPoints(Step step, Attempt attempt) {
        List<Reading> came = attempt.readings().stream()
                .filter(r -> r.key().point().startsWith("rms#") && r.with().containsKey(SET))
                .sorted(Comparator.comparingDouble(Reading::value))
                .toList();
        if (came.isEmpty()) {
            return List.of();
        }
        Reading middle = came.get(came.size() / 2);
        double amperes = middle.unit().convert(middle.value(), Unit.AMPERE);
        double set = middle.with().get(SET).in(Unit.AMPERE);
        double wanted = Method.base(step.params(), "current");
        return List.of(new StartingPoint(DRIVE, set / amperes, Quantity.amperes(wanted), Quantity.amperes(amperes)));
    }

    private static double frequency(Step step) {
        return Method.base(step.params(), "frequency");
    }

    /**
     * By the name of its lane; else, where the file tells a part of that (its phase) and other gear knows nothing of
     * our levels, by the current that flowed in it.
     */
    @Override
    public boolean takes(RunState state, Step step, String lane, Filed file) {
        if (!(file.content() instanceof FiledCurrent filed)) {
            return false;
        }
        String name = lane.toLowerCase(Locale.ROOT);
        if (filed.names().contains(name)) {
            return true;
        }
        List<String> parts = List.of(name.split("\\."));
        if (parts.size() < 2
                || state.procedure().lanesOf(step, state.scope()).stream()
                        .anyMatch(l -> filed.names().contains(l.toLowerCase(Locale.ROOT)))) {
            return false;
        }
        // Without its minimum trip on the plate nobody knows the levels: a person says which one it is.
        Param level = step.params().get("current");
        if (level == null || level.value() == null) {
            return false;
        }
        double wanted = Method.base(step.params(), "current");
        return filed.names().contains(parts.get(0)) && Math.abs(filed.operating() - wanted) <= SAME_LEVEL * wanted;
    }

    /** The range of other gear is not known, and with it not what it adds to the uncertainty. */
    @Override
    public Result read(Results results, Filed file) {
        DigitisedCurrent current = ((FiledCurrent) file.content()).current();
        double largest = 0;
        for (double v : current.current()) {
            largest = Math.max(largest, Math.abs(v));
        }
        return judged(results, current, largest, Double.NaN);
    }

    /** Watches until no current came for as long as it ever takes to close again, or the time is over. */
    private static CurrentSource.OffCause watched(MethodBench bench, WaveSource source, double current) {
        List<CurrentSource.Injection> seen = new ArrayList<>();
        double quietFrom = Double.NaN;
        boolean flowed = false;
        int operations = 0;
        while (true) {
            CurrentSource.Injection now = source.read();
            if (!now.on()) {
                return now.cause() == null ? CurrentSource.OffCause.COMMAND : now.cause();
            }
            if (seen.isEmpty() || now.elapsed() > seen.get(seen.size() - 1).elapsed()) {
                seen.add(now);
            }
            if (now.current() > NONE * current) {
                flowed = true;
                quietFrom = Double.NaN;
            } else if (flowed && Double.isNaN(quietFrom)) {
                quietFrom = now.elapsed();
                operations++;
            }
            Map<String, Quantity> values = new LinkedHashMap<>();
            values.put("current", Quantity.amperes(now.current()));
            values.put("elapsed", Quantity.seconds(now.elapsed()));
            values.put(OPERATIONS, new Quantity(operations, Unit.ONE));
            bench.progress(values, List.of(drawn(seen)));
            if (!Double.isNaN(quietFrom) && now.elapsed() - quietFrom > bench.param("quiet")) {
                return CurrentSource.OffCause.COMMAND;
            }
            bench.stop().pause(POLL);
        }
    }

    private static Trace drawn(List<CurrentSource.Injection> seen) {
        int from = Math.max(0, seen.size() - DRAWN);
        List<CurrentSource.Injection> some = seen.subList(from, seen.size());
        return new Trace(
                "Current",
                Unit.SECOND,
                Unit.AMPERE,
                some.stream().mapToDouble(CurrentSource.Injection::elapsed).toArray(),
                some.stream().mapToDouble(CurrentSource.Injection::current).toArray());
    }

    /** The rms of each half cycle over the time, A: what a person reads off. */
    static Trace rms(String name, double[] time, double[] value, double frequency) {
        MeanSquare square = new MeanSquare(time, value);
        double half = 0.5 / frequency;
        double span = square.last() - square.first();
        double step = Math.max(half, span / MOST_KEPT);
        int n = (int) Math.max(1, span / step);
        double[] x = new double[n];
        double[] y = new double[n];
        for (int i = 0; i < n; i++) {
            double at = square.first() + (i + 0.5) * step;
            x[i] = at;
            y[i] = square.rms(at - step / 2, at + step / 2);
        }
        return new Trace(name, Unit.SECOND, Unit.AMPERE, x, y);
    }

    private static Result judged(Results bench, DigitisedCurrent digitised, double range, double set) {
        double[] time = digitised.time();
        double[] value = digitised.current();
        double frequency = digitised.frequency();
        Operations found = Operations.of(time, value, frequency);
        bench.trace(rms("Current", time, value, frequency));
        bench.trace(digitised.kept(), digitised.facts());
        int fast = (int) Math.round(Method.base(bench.step().params(), FAST));
        Slowest slowFast = new Slowest();
        Slowest slowDelayed = new Slowest();
        for (int i = 0; i < found.all().size(); i++) {
            Operations.Operation op = found.all().get(i);
            boolean isFast = i < fast;
            OptionalDouble run = curve(bench, isFast ? FAST : DELAYED)
                    .map(c -> OptionalDouble.of(Operations.runThrough(op, time, value, 1 / frequency, c)))
                    .orElse(OptionalDouble.empty());
            (isFast ? slowFast : slowDelayed).see(op, run);
            row(bench, i + 1, op, run, isFast, range, set);
        }
        bench.keep(bench.value(OPERATIONS, found.all().size(), Unit.ONE).typeB(0, 1));
        kept(bench, FAST, "runFast", slowFast, found, fast > 0, range);
        kept(bench, DELAYED, "runDelayed", slowDelayed, found, true, range);
        String words = found.all().isEmpty()
                ? "did not operate within the greatest time"
                : found.all().size() + " operations" + (found.flowsAtEnd() ? ", and closed again after the last" : "");
        return new Result(
                Attempt.Outcome.VALID,
                found.all().isEmpty() ? OutputEvents.OffReason.TIME_LIMIT : OutputEvents.OffReason.TRIPPED,
                words);
    }

    /** The operation of a kind that went furthest beyond its curve, or took longest where the curve is not known. */
    private static final class Slowest {
        private Operations.@Nullable Operation operation;
        private OptionalDouble run = OptionalDouble.empty();

        void see(Operations.Operation op, OptionalDouble through) {
            if (operation == null
                    || through.isPresent() && run.isPresent() && through.getAsDouble() > run.getAsDouble()
                    || run.isEmpty() && op.tripTime() > operation.tripTime()) {
                operation = op;
                run = through;
            }
        }
    }

    private static @Nullable Envelope part(ReadingOrigin from, String part) {
        Envelope envelope = from.state().envelope();
        return envelope == null ? null : envelope.part(part).orElse(null);
    }

    private static Optional<TimeOverCurrent> curve(Results bench, String part) {
        Envelope band = part(bench, part);
        return band == null
                ? Optional.empty()
                : Optional.of(current -> {
                    Envelope.Bounds bounds = band.bounds(current);
                    return bounds.low() == null || bounds.high() == null
                            ? OptionalDouble.empty()
                            : OptionalDouble.of(Math.sqrt(bounds.low() * bounds.high()));
                });
    }

    private static void row(
            Results bench,
            int index,
            Operations.Operation op,
            OptionalDouble run,
            boolean fast,
            double range,
            double set) {
        Map<String, String> points = bench.found("operation", new Quantity(index, Unit.ONE), fast ? "fast" : "delayed");
        String trip = points.get("trip");
        if (trip != null) {
            bench.keep(Readings.tripTime(
                    bench, trip, op.tripTime(), Qualifier.EQUAL, op.rms(), range, part(bench, fast ? FAST : DELAYED)));
        }
        String open = points.get("open");
        if (open != null) {
            if (op.openTime().isPresent()) {
                bench.keep(bench.value(open, op.openTime().getAsDouble(), Unit.SECOND)
                        .accuracy(Unit.SECOND.dimension()));
            } else {
                bench.noValue(open, "stays open");
            }
        }
        String rms = points.get("rms");
        if (rms != null) {
            ReadingBuilder reading =
                    bench.value(rms, op.rms(), Unit.AMPERE).accuracy(Unit.AMPERE.dimension(), op.rms(), range, 1);
            bench.keep(Double.isNaN(set) ? reading : reading.with(SET, Quantity.amperes(set)));
        }
        String through = points.get("run");
        if (through != null) {
            if (run.isPresent()) {
                bench.keep(bench.value(through, run.getAsDouble(), Unit.ONE).unknown());
            } else {
                bench.noValue(through, "no curve of the device is known for it");
            }
        }
    }

    private static void kept(
            Results bench,
            String point,
            String runPoint,
            Slowest slowest,
            Operations found,
            boolean expected,
            double range) {
        if (bench.step().point(point).isPresent()) {
            Operations.Operation op = slowest.operation;
            if (op != null) {
                bench.keep(Readings.tripTime(
                        bench, point, op.tripTime(), Qualifier.EQUAL, op.rms(), range, part(bench, point)));
            } else {
                bench.noValue(
                        point, expected && !found.all().isEmpty() ? "it has no such operation" : "it did not operate");
            }
        }
        if (bench.step().point(runPoint).isPresent()) {
            if (slowest.run.isPresent()) {
                bench.keep(bench.value(runPoint, slowest.run.getAsDouble(), Unit.ONE)
                        .unknown());
            } else {
                bench.noValue(runPoint, "no curve of the device is known for it");
            }
        }
    }

    @Override
    public ReadingBuilder retold(
            ReadingOrigin origin, String point, double value, Unit unit, Map<String, Double> facts) {
        if (point.equals(FAST) || point.equals(DELAYED)) {
            double current = facts.getOrDefault("current", 0.0);
            return Readings.tripTime(
                    origin,
                    point,
                    unit.convert(value, Unit.SECOND),
                    Qualifier.EQUAL,
                    current,
                    facts.getOrDefault("range", current),
                    part(origin, point));
        }
        return point.equals(OPERATIONS)
                ? origin.value(point, value, unit).typeB(0, 1)
                : origin.value(point, value, unit).unknown();
    }
}
