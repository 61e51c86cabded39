package org.juratest.core.family.meters;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.juratest.core.method.Computing;
import org.juratest.core.method.Results;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.Reading;
import org.juratest.core.run.ReadingBuilder;

/**
 * The error of a whole measuring installation at its load, from those of its parts as they were measured, and what its
 * parts together may be off: at their worst at once, or as independent parts ({@link InstallationError}).
 */
final class WholeInstallation implements Computing {

    private static final String ERROR = "error";
    private static final String ALLOWED = "allowed";
    private static final String SHARE = "share";
    private static final String PHASE = "phase";
    private static final MethodSpec SPEC = MethodSpec.named("meter.whole")
            .hazard(MethodSpec.Hazard.NONE)
            .param("independent", Unit.ONE, 0, 1, 0)
            .param("meter", Unit.PERCENT, 0.01, 10)
            .param("current", Unit.PERCENT, 0, 10, 0)
            .param("currentMinutes", Unit.ONE, 0, 600, 0)
            .param("voltage", Unit.PERCENT, 0, 10, 0)
            .param("voltageMinutes", Unit.ONE, 0, 600, 0)
            .point(ERROR, Unit.PERCENT)
            .point(ALLOWED, Unit.PERCENT)
            .point(SHARE, Unit.PERCENT)
            .build();

    @Override
    public MethodSpec spec() {
        return SPEC;
    }

    /** What a step came to over its lanes: the mean, and its standard uncertainty; null where one of them has none. */
    private record Part(double value, @Nullable Double standard) {

        static final Part NONE = new Part(0, 0.0);

        static Part of(List<Reading> readings) {
            double sum = 0;
            double squares = 0;
            boolean known = true;
            for (Reading r : readings) {
                sum += r.unit().equals(Unit.PERCENT) ? r.value() : r.unit().convert(r.value(), Unit.ONE);
                Double u = r.standard();
                known &= u != null;
                squares += u == null ? 0 : u * u;
            }
            int n = Math.max(1, readings.size());
            return new Part(sum / n, known ? (Double) (Math.sqrt(squares) / n) : null);
        }
    }

    private static List<Reading> readings(Results results, String stepId, String point) {
        List<Reading> found = new ArrayList<>();
        Step step = results.state().procedure().step(stepId).orElseThrow();
        for (String lane :
                results.state().procedure().lanesOf(step, results.state().scope())) {
            results.state().attempts(stepId, lane).stream()
                    .filter(Attempt::counts)
                    .reduce((a, b) -> b)
                    .flatMap(a -> a.readings().stream()
                            .filter(r -> r.key().point().equals(point))
                            .findFirst())
                    .ifPresent(found::add);
        }
        return found;
    }

    private static Optional<Step> using(Results results, String method) {
        return results.step().references().stream()
                .map(id -> results.state().procedure().step(id).orElseThrow())
                .filter(s -> method.equals(s.method()))
                .findFirst();
    }

    /** A part that was tried and came to nothing on some lane must not count as one without an error; null if none. */
    private static @Nullable String missing(Results results) {
        Map<String, List<String>> parts =
                Map.of("ct.ratio", List.of("error", PHASE), "vt.leadDrop", List.of("drop", PHASE));
        for (Map.Entry<String, List<String>> part : parts.entrySet()) {
            Step step = using(results, part.getKey()).orElse(null);
            if (step != null) {
                int lanes = results.state()
                        .procedure()
                        .lanesOf(step, results.state().scope())
                        .size();
                for (String point : part.getValue()) {
                    if (readings(results, step.id(), point).size() < lanes) {
                        return "\"" + step.title() + "\" has not its values on all lanes";
                    }
                }
            }
        }
        return null;
    }

    private static Part part(Results results, String method, String point) {
        return using(results, method)
                .map(s -> Part.of(readings(results, s.id(), point)))
                .orElse(Part.NONE);
    }

    @Override
    public Result compute(Results results, Traces traces) {
        Step counted = using(results, "meter.error")
                .orElseThrow(() -> new IllegalArgumentException("no step tells the error of the meter"));
        List<Reading> error = readings(results, counted.id(), Errors.ERROR);
        if (error.isEmpty() || !error.get(0).with().containsKey("powerFactor")) {
            return nothing(results, "the meter has no error at its load");
        }
        double powerFactor =
                Math.min(1, Math.abs(error.get(0).with().get("powerFactor").value()));
        if (!(powerFactor > 0.05)) {
            return nothing(results, "at a power factor below 0.05 the angles decide alone");
        }
        double angle = using(results, "meter.wiring")
                .flatMap(s -> readings(results, s.id(), "angle1").stream().findFirst())
                .map(Reading::value)
                .orElse(1.0);
        boolean lagging = angle >= 0;
        String missing = missing(results);
        if (missing != null) {
            return nothing(results, missing);
        }
        Part meter = Part.of(error);
        Part current = part(results, "ct.ratio", "error");
        Part currentMinutes = part(results, "ct.ratio", PHASE);
        Part voltage = part(results, "vt.leadDrop", "drop");
        Part voltageMinutes = part(results, "vt.leadDrop", PHASE);
        double whole = InstallationError.of(
                meter.value,
                current.value,
                voltage.value,
                currentMinutes.value,
                voltageMinutes.value,
                powerFactor,
                lagging);
        double allowed = allowed(results.step().at(results.lane()), powerFactor);
        Points.keep(results, ERROR, () -> {
            ReadingBuilder told = results.value(ERROR, whole, Unit.PERCENT);
            for (Part p : List.of(meter, current, voltage)) {
                add(told, p.standard, 1);
            }
            double minute = InstallationError.ofAMinute(powerFactor);
            add(told, currentMinutes.standard, minute);
            add(told, voltageMinutes.standard, minute);
            return told;
        });
        Points.keep(results, ALLOWED, () -> results.value(ALLOWED, allowed, Unit.PERCENT)
                .typeB(0, 1));
        Points.keep(results, SHARE, () -> results.value(SHARE, Math.abs(whole) / allowed * 100, Unit.PERCENT)
                .unknown());
        return new Result(
                Attempt.Outcome.VALID,
                OutputEvents.OffReason.DONE,
                String.format(
                        Locale.ROOT,
                        "meter %.3g %%, current transformers %.3g %% and %.3g', voltage %.3g %% and %.3g', "
                                + "power factor %.2f %s",
                        meter.value,
                        current.value,
                        currentMinutes.value,
                        voltage.value,
                        voltageMinutes.value,
                        powerFactor,
                        lagging ? "lagging" : "leading"));
    }

    private static void add(ReadingBuilder told, @Nullable Double standard, double sensitivity) {
        if (standard == null) {
            told.unknown();
        } else if (standard > 0) {
            told.typeB(standard, sensitivity);
        }
    }

    private static double allowed(Step step, double powerFactor) {
        return InstallationError.limit(
                param(step, "independent") > 0.5
                        ? InstallationError.Limit.ROOT_SUM_SQUARE
                        : InstallationError.Limit.SUM,
                100 * param(step, "meter"),
                100 * param(step, "current"),
                100 * param(step, "voltage"),
                param(step, "currentMinutes"),
                param(step, "voltageMinutes"),
                powerFactor);
    }

    private static double param(Step step, String name) {
        return org.juratest.core.method.Method.base(step.params(), name);
    }

    private static Result nothing(Results results, String words) {
        Points.notMeasurable(results, List.of(ERROR, ALLOWED, SHARE), words);
        return new Result(Attempt.Outcome.VALID, OutputEvents.OffReason.DONE, words);
    }
}
