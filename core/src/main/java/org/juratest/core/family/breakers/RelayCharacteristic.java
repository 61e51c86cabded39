package org.juratest.core.family.breakers;

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
 * The edge of what an element operates at, by short injections that halve what is not known yet: of a directional one
 * both edges over the angle of the current, of a differential one the difference at a restraint.
 */
final class RelayCharacteristic implements Method {

    private static final String FROM = "from";
    private static final String TO = "to";
    private static final String CENTRE = "centre";
    private static final String WIDTH = "width";
    private static final String DIFFERENCE = "difference";

    private final boolean directional;
    private final MethodSpec spec;

    RelayCharacteristic(boolean directional) {
        this.directional = directional;
        MethodSpec.Builder builder = RelayInjection.spec(directional ? "relay.directional" : "relay.differential")
                .param("seconds", Unit.SECOND, 0.05, 5, 0.2);
        this.spec = directional
                ? builder.param("current", Unit.AMPERE, 0.01, 200)
                        .param("voltage", Unit.VOLT, 1, 250)
                        .param("angle", Unit.ONE, -180, 180)
                        .param("resolution", Unit.ONE, 0.1, 10, 0.5)
                        .maximum("voltage", Unit.VOLT, 300)
                        .point(FROM, Unit.ONE)
                        .point(TO, Unit.ONE)
                        .point(CENTRE, Unit.ONE)
                        .point(WIDTH, Unit.ONE)
                        .build()
                : builder.param("bias", Unit.AMPERE, 0.01, 100)
                        .param("greatest", Unit.AMPERE, 0.01, 100)
                        .param("resolution", Unit.AMPERE, 0.001, 1, 0.01)
                        .point(DIFFERENCE, Unit.AMPERE)
                        .build();
    }

    @Override
    public MethodSpec spec() {
        return spec;
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        double seconds = Method.base(step.params(), "seconds");
        if (directional) {
            double current = Method.base(step.params(), "current");
            double voltage = Method.base(step.params(), "voltage");
            Method.within("voltage", voltage, Method.base(step.maxima(), "voltage"));
            String words = String.format(
                    Locale.ROOT,
                    "%.4g A and %.4g V at one angle after the other, each for at most %.3g s",
                    current,
                    voltage,
                    seconds);
            return RelayInjection.announced(step, words, current, voltage, seconds);
        }
        double most = largest(step);
        String words = String.format(
                Locale.ROOT,
                "currents of at most %.4g A into both sides of %s, time and again, each for at most %.3g s",
                most,
                where,
                seconds);
        return RelayInjection.announced(step, words, most, 0, seconds);
    }

    private static double largest(Step step) {
        return Method.base(step.params(), "bias") + Method.base(step.params(), "greatest") / 2;
    }

    /** An injection that ended by something else than a contact or its time. */
    private static final class EndedException extends RuntimeException {
        private final transient CurrentSource.Injection end;

        EndedException(CurrentSource.Injection end) {
            this.end = end;
        }
    }

    @Override
    public Result run(MethodBench bench) {
        try {
            return directional ? angles(bench) : difference(bench);
        } catch (EndedException e) {
            return RelayInjection.ended(bench, e.end, directional ? CENTRE : DIFFERENCE);
        }
    }

    /** One short injection; whether its start contact closed. */
    private static boolean shot(MethodBench bench, RelayTestSet.Injected what, String name, Quantity at) {
        RelayTestSet set = bench.port(RelayTestSet.class);
        set.prepareHeld(what, RelayTestSet.Contact.START, bench.param("seconds"));
        CurrentSource.Injection end = RelayInjection.run(bench, set, Map.of(name, at));
        if (!RelayInjection.measured(end)) {
            throw new EndedException(end);
        }
        return RelayInjection.cause(end) == CurrentSource.OffCause.TRIP;
    }

    private static boolean atAngle(MethodBench bench, double degrees) {
        double turned = Math.IEEEremainder(degrees, 360);
        return shot(
                bench,
                new RelayTestSet.Injected(bench.param("current"), turned, bench.param("voltage"), 0, 0),
                "angle",
                new Quantity(turned, Unit.ONE));
    }

    private static Result angles(MethodBench bench) {
        double middle = bench.param("angle");
        double resolution = bench.param("resolution");
        String wrong = !atAngle(bench, middle)
                ? "it does not operate at its own angle. Are current and voltage connected the right way round?"
                : atAngle(bench, middle + 180)
                        ? "it operates backwards as well: is its directional element in use?"
                        : "";
        if (!wrong.isEmpty()) {
            for (String point : new String[] {FROM, TO, CENTRE, WIDTH}) {
                if (bench.step().point(point).isPresent()) {
                    bench.noValue(point, wrong);
                }
            }
            return new Result(Attempt.Outcome.UNCLEAR, OutputEvents.OffReason.DONE, wrong);
        }
        double[] edges = new double[2];
        for (int side = 0; side < 2; side++) {
            Bisection search = new Bisection(middle, middle + (side == 0 ? -180 : 180), resolution);
            while (!search.isDone()) {
                search.was(atAngle(bench, search.next()));
            }
            edges[side] = search.edge();
        }
        keep(bench, FROM, edges[0], resolution);
        keep(bench, TO, edges[1], resolution);
        keep(bench, CENTRE, (edges[0] + edges[1]) / 2, resolution);
        keep(bench, WIDTH, edges[1] - edges[0], resolution);
        return new Result(
                Attempt.Outcome.VALID,
                OutputEvents.OffReason.DONE,
                String.format(Locale.ROOT, "operates from %.1f to %.1f°", edges[0], edges[1]));
    }

    private static void keep(MethodBench bench, String point, double degrees, double resolution) {
        if (bench.step().point(point).isPresent()) {
            bench.keep(bench.value(point, degrees, Unit.ONE).within(resolution));
        }
    }

    private static boolean atDifference(MethodBench bench, double difference) {
        double bias = bench.param("bias");
        double other = bias - difference / 2;
        // What flows through stands on one side and against it on the other; the difference is their sum.
        return shot(
                bench,
                new RelayTestSet.Injected(bias + difference / 2, 0, 0, Math.abs(other), other >= 0 ? 180 : 0),
                DIFFERENCE,
                Quantity.amperes(difference));
    }

    private static Result difference(MethodBench bench) {
        double greatest = bench.param("greatest");
        double resolution = bench.param("resolution");
        String wrong = !atDifference(bench, greatest)
                ? "it does not operate at the greatest difference"
                : atDifference(bench, 0) ? "it operates without a difference: is one side turned round?" : "";
        if (!wrong.isEmpty()) {
            bench.noValue(DIFFERENCE, wrong);
            return new Result(Attempt.Outcome.UNCLEAR, OutputEvents.OffReason.DONE, wrong);
        }
        Bisection search = new Bisection(greatest, 0, resolution);
        while (!search.isDone()) {
            search.was(atDifference(bench, search.next()));
        }
        bench.keep(differed(bench, search.edge(), resolution, bench.param("bias")));
        return new Result(
                Attempt.Outcome.VALID,
                OutputEvents.OffReason.DONE,
                String.format(Locale.ROOT, "operates from a difference of %.3g A", search.edge()));
    }

    private static ReadingBuilder differed(ReadingOrigin from, double difference, double resolution, double bias) {
        return from.value(DIFFERENCE, difference, Unit.AMPERE)
                .accuracy(Unit.AMPERE.dimension())
                .within(resolution)
                .with("bias", Quantity.amperes(bias));
    }

    @Override
    public ReadingBuilder retold(
            ReadingOrigin origin, String point, double value, Unit unit, Map<String, Double> facts) {
        double resolution = facts.getOrDefault("resolution", 0.0);
        return point.equals(DIFFERENCE)
                ? differed(origin, unit.convert(value, Unit.AMPERE), resolution, facts.getOrDefault("bias", Double.NaN))
                : origin.value(point, value, unit).within(resolution);
    }
}
