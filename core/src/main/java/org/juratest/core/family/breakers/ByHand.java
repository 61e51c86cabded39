package org.juratest.core.family.breakers;

import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.method.Announced;
import org.juratest.core.method.Hand;
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
 * A current that a person raises and lowers, held to run, within the greatest values of the step; all of it is recorded
 * as set and as measured. Points: {@code current} at which it tripped, or that it held more than; {@code time} from the
 * beginning to the trip, or to letting go.
 */
final class ByHand implements Method {

    private static final String CURRENT = "current";
    private static final Duration POLL = Duration.ofMillis(50);
    private static final int DRAWN = 600;
    /** Changes that are smaller than this share are not worth a command to the gear. */
    private static final double WORTH = 1e-4;

    private static final MethodSpec SPEC = CircuitCheck.params(MethodSpec.named("breaker.byHand"))
            .hazard(MethodSpec.Hazard.CURRENT)
            .ports("current-source")
            .byHand()
            .param("from", Unit.AMPERE, 0.1, 100_000)
            .param("rate", Unit.AMPERE, 0.01, 100_000)
            .maximum(CURRENT, Unit.AMPERE, 100_000)
            .maximum("time", Unit.SECOND, 3600)
            .point(CURRENT, Unit.AMPERE)
            .point("time", Unit.SECOND)
            .captures("Current", "Current as set")
            .build();

    @Override
    public MethodSpec spec() {
        return SPEC;
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        double from = Method.base(step.params(), "from");
        double check = Method.base(step.params(), "checkCurrent");
        double greatest = Method.base(step.maxima(), CURRENT);
        double longest = Method.base(step.maxima(), "time");
        Method.within("from", from, greatest);
        Method.within("checkCurrent", check, greatest);
        return new Announced(
                String.format(
                        Locale.ROOT,
                        "%.4g A to check the leads, then into %s as long as the button is held, from %.4g A as you "
                                + "raise and lower it, at most %.4g A for %.4g s",
                        check,
                        where,
                        from,
                        greatest,
                        longest),
                Map.of(
                        CURRENT,
                        Quantity.amperes(greatest),
                        "checkCurrent",
                        Quantity.amperes(check),
                        "time",
                        Quantity.seconds(longest)),
                List.of(
                        Bound.upTo(CURRENT, greatest, "A", "the procedure's greatest current"),
                        Bound.upTo(
                                "time", Math.max(longest, CircuitCheck.LIMIT), "s", "the procedure's greatest time")),
                Set.of(HandSource.class, CurrentSource.class),
                Math.max(longest, CircuitCheck.LIMIT));
    }

    @Override
    public Result run(MethodBench bench) {
        HandSource source = bench.port(HandSource.class);
        double greatest = bench.maximum(CURRENT);
        CircuitCheck check = CircuitCheck.of(bench, source, greatest);
        if (!check.good()) {
            return check.failed(bench, CURRENT);
        }
        source.prepareAdjustable(bench.param("from"), check.range(), bench.maximum("time"));
        bench.stop().switchOn(source::outputOn);
        Course course = new Course(bench.param("from"));
        CurrentSource.Injection end = watched(bench, source, course);
        course.told(bench);
        return kept(bench, course, end, check.range());
    }

    /** What was set and what flowed. */
    private static final class Course {
        private final List<CurrentSource.Injection> seen = new ArrayList<>();
        private final List<Double> set = new ArrayList<>();
        private double wanted;
        private double sent;
        private double largest;

        Course(double from) {
            wanted = from;
            sent = from;
        }

        void saw(CurrentSource.Injection now) {
            if (now.on()
                    && seen.size() < Trace.MOST
                    && (seen.isEmpty()
                            || now.elapsed() > seen.get(seen.size() - 1).elapsed())) {
                seen.add(now);
                set.add(sent);
                largest = Math.max(largest, now.current());
            }
        }

        /** The last of it, as it is drawn while it flows. */
        List<Trace> drawn() {
            if (seen.isEmpty()) {
                return List.of();
            }
            List<CurrentSource.Injection> some = seen.subList(Math.max(0, seen.size() - DRAWN), seen.size());
            return List.of(new Trace(
                    "Current",
                    Unit.SECOND,
                    Unit.AMPERE,
                    some.stream().mapToDouble(CurrentSource.Injection::elapsed).toArray(),
                    some.stream().mapToDouble(CurrentSource.Injection::current).toArray()));
        }

        double last() {
            return seen.isEmpty() ? 0 : seen.get(seen.size() - 1).current();
        }

        void told(MethodBench bench) {
            if (!seen.isEmpty()) {
                double[] time = seen.stream()
                        .mapToDouble(CurrentSource.Injection::elapsed)
                        .toArray();
                bench.trace(new Trace(
                        "Current",
                        Unit.SECOND,
                        Unit.AMPERE,
                        time,
                        seen.stream()
                                .mapToDouble(CurrentSource.Injection::current)
                                .toArray()));
                bench.trace(new Trace(
                        "Current as set",
                        Unit.SECOND,
                        Unit.AMPERE,
                        time,
                        set.stream().mapToDouble(Double::doubleValue).toArray()));
            }
        }
    }

    /** Follows the hand until it lets go, or the gear goes off by itself. */
    private static CurrentSource.Injection watched(MethodBench bench, HandSource source, Course course) {
        Hand hand = bench.stop().hand();
        double greatest = bench.maximum(CURRENT);
        double least = Math.min(bench.param("from"), bench.param("checkCurrent"));
        long before = System.nanoTime();
        while (true) {
            CurrentSource.Injection now = source.read();
            course.saw(now);
            if (!now.on()) {
                return now;
            }
            long nanos = System.nanoTime();
            if (!hand.isHeld(nanos)) {
                source.makeSafe();
                return source.read();
            }
            double by = hand.change(nanos) * bench.param("rate") * (nanos - before) / 1e9;
            before = nanos;
            course.wanted = Math.max(least, Math.min(greatest, course.wanted + by));
            if (Math.abs(course.wanted - course.sent) > WORTH * course.sent) {
                source.adjust(course.wanted);
                course.sent = course.wanted;
            }
            Map<String, Quantity> values = new LinkedHashMap<>();
            values.put(CURRENT, Quantity.amperes(now.current()));
            values.put("set", Quantity.amperes(course.sent));
            values.put("elapsed", Quantity.seconds(now.elapsed()));
            bench.progress(values, course.drawn());
            bench.stop().pause(POLL);
        }
    }

    private static Result kept(MethodBench bench, Course course, CurrentSource.Injection end, double range) {
        CurrentSource.OffCause cause = end.cause() == null ? CurrentSource.OffCause.COMMAND : end.cause();
        switch (cause) {
            case TRIP:
                keep(bench, course.last(), end.elapsed(), Qualifier.EQUAL, range);
                return new Result(
                        Attempt.Outcome.VALID,
                        OutputEvents.OffReason.TRIPPED,
                        String.format(Locale.ROOT, "tripped at %.4g A", course.last()));
            case COMMAND:
                bench.stop().check();
                keep(bench, course.largest, end.elapsed(), Qualifier.MORE, range);
                return new Result(
                        Attempt.Outcome.VALID,
                        OutputEvents.OffReason.DONE,
                        String.format(Locale.ROOT, "let go; it held up to %.4g A", course.largest));
            case LIMIT:
                keep(bench, course.largest, end.elapsed(), Qualifier.MORE, range);
                return new Result(
                        Attempt.Outcome.VALID,
                        OutputEvents.OffReason.TIME_LIMIT,
                        String.format(Locale.ROOT, "the greatest time is over; it held up to %.4g A", course.largest));
            case OPEN:
                return CircuitCheck.open(bench, CURRENT, "the circuit opened without a trip");
            default:
                return CircuitCheck.ended(bench, cause);
        }
    }

    private static void keep(MethodBench bench, double current, double seconds, Qualifier qualifier, double range) {
        bench.keep(reading(bench, current, range).qualifier(qualifier));
        if (bench.step().point("time").isPresent()) {
            bench.keep(bench.value("time", seconds, Unit.SECOND)
                    .accuracy(Unit.SECOND.dimension())
                    .qualifier(qualifier));
        }
    }

    private static ReadingBuilder reading(ReadingOrigin from, double current, double range) {
        return from.value(CURRENT, current, Unit.AMPERE).accuracy(Unit.AMPERE.dimension(), current, range, 1);
    }

    @Override
    public ReadingBuilder retold(
            ReadingOrigin origin, String point, double value, Unit unit, Map<String, Double> facts) {
        return point.equals(CURRENT)
                ? reading(origin, unit.convert(value, Unit.AMPERE), facts.getOrDefault("range", value))
                : origin.value(point, value, unit).unknown();
    }
}
