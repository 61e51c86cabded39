package org.juratest.server.run;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.method.Method;
import org.juratest.core.method.Methods;
import org.juratest.core.method.StartingPoint;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.Param;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.AssetFacts;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.RunState;
import org.juratest.server.starting.StartingPointView;
import org.juratest.server.starting.StartingPoints;
import org.springframework.stereotype.Service;

/** What a step may start from: what was found in this run, else what is known of the type of device. */
@Service
class StartingOffers {

    private final StartingPoints points;
    private final RunStore store;

    StartingOffers(StartingPoints points, RunStore store) {
        this.points = points;
        this.store = store;
    }

    /**
     * What a parameter of a step may be set to on a lane.
     *
     * @param now what it is, in {@code unit}
     * @param value what is proposed, in {@code unit}, within {@code low} and {@code high}; absent where nothing is
     *     known
     * @param unit UCUM code
     * @param low least value it may be changed to in this run
     * @param high greatest value it may be changed to in this run
     * @param wanted what it is for, in {@code wantedUnit}
     * @param wantedUnit UCUM code
     * @param hit what came there, in {@code wantedUnit}; absent where nothing is known, or a person set it
     * @param at the lane
     * @param lane where it was found in this run; absent where it was found before
     * @param record it was found in; absent where it was found in this run, or set by a person
     * @param by who found or set it before this run
     * @param model the type it is known of
     */
    record StartingOffer(
            String param,
            String at,
            double now,
            @Nullable Double value,
            String unit,
            double low,
            double high,
            double wanted,
            String wantedUnit,
            @Nullable Double hit,
            @Nullable String lane,
            @Nullable String record,
            @Nullable String by,
            String model) {}

    private record Known(
            double value, @Nullable Double hit, @Nullable String lane, @Nullable String record, @Nullable String by) {}

    /** For each lane of a step and each parameter that is learned. */
    List<StartingOffer> offers(UUID run, String stepId) {
        RunState state = store.state(run);
        Step step = state.stepInScope(stepId);
        MethodSpec spec = Optional.ofNullable(step.method())
                .flatMap(Methods::byName)
                .map(Method::spec)
                .orElse(null);
        if (spec == null || spec.learned().isEmpty()) {
            return List.of();
        }
        AssetFacts asset = state.opened().asset();
        List<StartingPointView> before = points.of(asset.maker(), asset.model(), spec.name());
        List<StartingOffer> offers = new ArrayList<>();
        for (String lane : state.procedure().lanesOf(step, state.scope())) {
            Step here = step.at(lane);
            spec.learned().forEach((param, of) -> offer(state, here, lane, param, of, before)
                    .ifPresent(offers::add));
        }
        return offers;
    }

    private static Optional<StartingOffer> offer(
            RunState state, Step here, String lane, String param, String of, List<StartingPointView> before) {
        Param set = here.params().get(param);
        Param wanted = here.params().get(of);
        if (set == null
                || !Boolean.TRUE.equals(set.learned())
                || set.value() == null
                || set.range() == null
                || wanted == null
                || wanted.value() == null) {
            return Optional.empty();
        }
        Map<String, MethodSpec.Param> declared = Methods.byName(String.valueOf(here.method()))
                .orElseThrow()
                .spec()
                .params();
        Unit goalUnit = declared.get(of).unit();
        Quantity goal = new Quantity(Unit.of(wanted.unit()).convert(wanted.value(), goalUnit), goalUnit);
        Known known = inThisRun(state, here, lane, param, goal)
                .or(() -> earlier(param, goal, before))
                .orElse(null);
        Double value = null;
        if (known != null) {
            double inUnit = declared.get(param).unit().convert(known.value, Unit.of(set.unit()));
            value = Math.max(set.range().low(), Math.min(set.range().high(), inUnit));
        }
        return Optional.of(new StartingOffer(
                param,
                lane,
                set.value(),
                value,
                set.unit(),
                set.range().low(),
                set.range().high(),
                goal.value(),
                goalUnit.code(),
                known == null ? null : known.hit,
                known == null ? null : known.lane,
                known == null ? null : known.record,
                known == null ? null : known.by,
                state.opened().asset().maker() + " " + state.opened().asset().model()));
    }

    /** The newest attempt of this run that wanted as much, on this lane before others. */
    private static Optional<Known> inThisRun(RunState state, Step here, String lane, String param, Quantity goal) {
        Step step = state.stepInScope(here.id());
        return state.attempts(here.id(), null).stream()
                .filter(Attempt::counts)
                .sorted(Comparator.comparing((Attempt a) -> a.lane().equals(lane))
                        .thenComparing(Attempt::begunAt)
                        .reversed())
                .flatMap(a -> StartingPoints.found(step, a).stream()
                        .filter(p -> p.param().equals(param) && alike(p, goal))
                        .map(p -> new Known(p.value(), p.hit().in(goal.unit()), a.lane(), null, null)))
                .findFirst();
    }

    private static boolean alike(StartingPoint p, Quantity goal) {
        return StartingPoints.alike(p.wanted()) == StartingPoints.alike(goal);
    }

    private static Optional<Known> earlier(String param, Quantity goal, List<StartingPointView> before) {
        return before.stream()
                .filter(v -> v.param().equals(param)
                        && v.wantedUnit().equals(goal.unit().code())
                        && v.wanted() == StartingPoints.alike(goal))
                .findFirst()
                .map(v -> new Known(v.value(), v.hit(), null, v.record(), v.by()));
    }
}
