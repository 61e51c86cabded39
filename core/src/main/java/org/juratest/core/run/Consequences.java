package org.juratest.core.run;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Supplier;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.InputRef;
import org.juratest.core.limit.LimitKind;
import org.juratest.core.limit.LimitResolver;
import org.juratest.core.limit.LimitSpec;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.limit.ResolvedLimit;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.procedure.Step;
import org.juratest.core.procedure.StepKind;
import org.juratest.core.procedure.TestPoint;
import org.juratest.core.quantity.Near;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.uncertainty.Uncertainty;

/**
 * What follows from a state by itself: limits whose readings now exist become plain numbers, derivations get their
 * values. The caller appends what it gets and asks again, until nothing follows.
 */
public final class Consequences {

    private Consequences() {}

    /** Limits that can be resolved at the start: what {@code opened} carries. */
    public static Map<String, ResolvedLimit> limitsAtStart(RunState bare) {
        Map<String, ResolvedLimit> limits = new java.util.TreeMap<>();
        for (PointKey key : bare.procedure().keys(bare.scope())) {
            LimitSpec spec = bare.limitSpec(key);
            if (spec != null && spec.when() == LimitSpec.When.START) {
                limits.put(key.toString(), resolve(bare, key, spec));
            }
        }
        return limits;
    }

    /** Whether anything can follow from an event at all: most change neither a reading nor a limit. */
    public static boolean canFollow(EventData data) {
        return data instanceof AttemptEvents.AttemptClosed
                || data instanceof AttemptEvents.AttemptSettled
                || data instanceof AttemptEvents.AttemptVoided
                || data instanceof AttemptEvents.LimitChanged
                || data instanceof AttemptEvents.ParamChanged
                || data instanceof AttemptEvents.BackToProcedure
                || data instanceof RunEvents.VariantApplied
                || data instanceof StepEvents.StepSkipped
                || data instanceof RunEvents.ScopeSet
                || data instanceof RunEvents.Withdrawn;
    }

    /** {@link #of(RunState, Supplier, Deriving)} where no step computes by a method. */
    public static List<EventData> of(RunState state, Supplier<UUID> ids) {
        return of(state, ids, Deriving.NONE);
    }

    /**
     * Events that follow now; empty when nothing does.
     *
     * @param ids gives ids for derived attempts
     * @param deriving computes what steps derive by a method
     */
    public static List<EventData> of(RunState state, Supplier<UUID> ids, Deriving deriving) {
        List<EventData> events = new ArrayList<>();
        if (state.status() != RunState.Status.OPEN) {
            return events;
        }
        for (PointKey key : state.keys()) {
            LimitSpec spec = state.limitSpec(key);
            if (spec != null
                    && spec.when() != LimitSpec.When.READING
                    && !state.limits().containsKey(key)
                    && missing(state, key, spec).isEmpty()) {
                events.add(
                        new AttemptEvents.LimitResolved(key, resolve(state, key, spec), state.limitChangeEvent(key)));
            }
            derived(state, key, ids, events);
        }
        computed(state, ids, deriving, events);
        return events;
    }

    private static ResolvedLimit resolve(RunState state, PointKey key, LimitSpec spec) {
        return LimitResolver.resolve(spec, Rules.point(state, key).scale(), new RunValues(state, key, Map.of()));
    }

    /**
     * The limit a point will have if what its curve runs over is just the step's own: to be shown before there is a
     * reading; null where there is none.
     */
    public static @Nullable ResolvedLimit expected(RunState state, PointKey key) {
        LimitSpec spec = state.limitSpec(key);
        Map<String, Quantity> own = new LinkedHashMap<>();
        state.procedure().step(key.step()).orElseThrow().at(key.lane()).params().forEach((name, p) -> {
            if (p.value() != null) {
                own.put(name, new Quantity(p.value(), Unit.of(p.unit())));
            }
        });
        boolean known = spec != null
                && (spec.kind() instanceof LimitKind.Along along
                        ? own.containsKey(InputRef.parse(along.of()).name())
                        : state.envelope() == null
                                || own.containsKey(state.envelope().over()));
        return spec == null || spec.when() != LimitSpec.When.READING || !known
                ? null
                : LimitResolver.resolve(spec, Rules.point(state, key).scale(), new RunValues(state, key, own));
    }

    /** "waiting for phase B": what the limit of a point waits for. */
    static String waitingFor(RunState state, PointKey key) {
        LimitSpec spec = state.limitSpec(key);
        List<PointKey> missing = spec == null ? List.of() : missing(state, key, spec);
        Procedure procedure = state.procedure();
        String words = String.join(
                ", ",
                missing.stream()
                        .limit(3)
                        .map(m -> {
                            Step step = procedure.step(m.step()).orElseThrow();
                            String lane = procedure.laneName(step, m.lane());
                            return m.step().equals(key.step()) && !lane.isEmpty()
                                    ? lane
                                    : (step.title() + " " + lane).trim();
                        })
                        .toList());
        return words.isEmpty() ? "waiting for the limit" : "waiting for " + words;
    }

    /** Points a limit needs that have no reading yet and may still get one. */
    private static List<PointKey> missing(RunState state, PointKey key, LimitSpec spec) {
        if (spec.when() == LimitSpec.When.START) {
            return List.of();
        }
        return needed(state, key, spec.kind())
                .filter(k -> canStillCome(state, k))
                .toList();
    }

    private static Stream<PointKey> needed(RunState state, PointKey key, LimitKind kind) {
        if (kind instanceof LimitKind.Spread) {
            Step step = state.procedure().step(key.step()).orElseThrow();
            return state.procedure().lanesOf(step, state.scope()).stream()
                    .map(l -> new PointKey(key.step(), key.point(), l));
        }
        RunValues values = new RunValues(state, key, Map.of());
        Stream<String> refs = kind instanceof LimitKind.Formula f
                ? f.inputs().values().stream()
                : kind instanceof LimitKind.Table t
                        ? Stream.of(t.of())
                        : kind instanceof LimitKind.Standard s
                                ? s.where().values().stream().filter(InputRef::looksLike)
                                : Stream.empty();
        return refs.map(InputRef::parse)
                .filter(r -> r.from() == InputRef.From.READING)
                .map(values::pointOf);
    }

    private static boolean canStillCome(RunState state, PointKey key) {
        return state.scope().step(key.step())
                && !state.skipped().containsKey(key.step())
                && RunValues.latest(state, key).isEmpty();
    }

    /** Steps that compute by a method, on lanes where what they use is there and was not computed with yet. */
    private static void computed(RunState state, Supplier<UUID> ids, Deriving deriving, List<EventData> events) {
        for (Step step : state.stepsInScope()) {
            if (step.kind() == StepKind.DERIVATION
                    && step.method() != null
                    && !state.skipped().containsKey(step.id())) {
                for (String lane : state.procedure().lanesOf(step, state.scope())) {
                    if (isDue(state, step, lane)) {
                        events.addAll(deriving.derive(state, step, lane, ids.get()));
                    }
                }
            }
        }
    }

    /** Whether all that a step uses has an attempt that counts, and one of them or its standing is newer than it. */
    private static boolean isDue(RunState state, Step step, String lane) {
        long newest = -1;
        for (String used : step.references()) {
            for (String there : lanesOf(state, used, step, lane)) {
                long last = state.attempts(used, there).stream()
                        .filter(Attempt::counts)
                        .mapToLong(Attempt::begunAt)
                        .max()
                        .orElse(-1);
                if (last < 0) {
                    return false;
                }
                newest = Math.max(newest, last);
            }
        }
        long done = state.attempts(step.id(), lane).stream()
                .mapToLong(Attempt::begunAt)
                .max()
                .orElse(-1);
        return newest > done
                || state.events().stream().skip(done).anyMatch(e -> changesStanding(state, e.data(), step, lane));
    }

    /** The lanes of a step that another computes with on one lane: that lane of the same set, else all there are. */
    private static List<String> lanesOf(RunState state, String used, Step step, String lane) {
        Step other = state.procedure().step(used).orElseThrow();
        return java.util.Objects.equals(other.lanes(), step.lanes())
                ? List.of(lane)
                : state.procedure().lanesOf(other, state.scope());
    }

    private static boolean changesStanding(RunState state, EventData data, Step step, String lane) {
        UUID attempt = data instanceof AttemptEvents.AttemptVoided v
                ? v.attempt()
                : data instanceof AttemptEvents.AttemptSettled s ? s.attempt() : null;
        return attempt != null
                && state.attempt(attempt)
                        .filter(a -> step.references().contains(a.step())
                                && lanesOf(state, a.step(), step, lane).contains(a.lane()))
                        .isPresent();
    }

    private static void derived(RunState state, PointKey key, Supplier<UUID> ids, List<EventData> events) {
        Step step = state.procedure().step(key.step()).orElseThrow();
        if (step.kind() != StepKind.DERIVATION || state.skipped().containsKey(step.id())) {
            return;
        }
        Optional<Derivation> derivation = Derivation.of(state, key);
        Double value = derivation.map(Derivation::value).orElse(null);
        if (value == null
                || RunValues.latest(state, key)
                        .map(r -> r.value() == value || Near.equal(r.value(), value))
                        .orElse(false)) {
            return;
        }
        TestPoint point = step.point(key.point()).orElseThrow();
        Uncertainty u = derivation.get().u();
        UUID attempt = ids.get();
        Reading reading = new Reading(
                key,
                value,
                Unit.of(String.valueOf(point.unit())),
                Qualifier.EQUAL,
                Reading.Source.DERIVED,
                null,
                List.of(),
                u == null ? null : (Double) u.expanded(),
                u == null ? null : (Double) u.coverageFactor(),
                null,
                Map.of(),
                null,
                null,
                u == null || u.degreesOfFreedom() > 1e6 ? null : (Double) u.degreesOfFreedom());
        events.add(new AttemptEvents.AttemptBegun(attempt, key.step(), key.lane(), null, 1));
        events.add(new AttemptEvents.ReadingTaken(attempt, reading));
        events.add(new AttemptEvents.AttemptClosed(attempt, Attempt.Outcome.VALID, "derived"));
    }
}
