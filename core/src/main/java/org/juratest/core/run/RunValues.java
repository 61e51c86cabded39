package org.juratest.core.run;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Envelope;
import org.juratest.core.limit.InputRef;
import org.juratest.core.limit.LimitContext;
import org.juratest.core.limit.LimitKind;
import org.juratest.core.procedure.Param;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Step;
import org.juratest.core.procedure.StepKind;
import org.juratest.core.procedure.TestPoint;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.standard.StandardTable;

/** The values of a run as a limit or a derivation at one point and lane sees them. */
public final class RunValues implements LimitContext {

    private final RunState state;
    private final PointKey key;
    private final Map<String, Quantity> with;

    /** @param with what else belongs to the reading; empty where there is none */
    public RunValues(RunState state, PointKey key, Map<String, Quantity> with) {
        this.state = state;
        this.key = key;
        this.with = Map.copyOf(with);
    }

    private Step step() {
        return state.procedure().step(key.step()).orElseThrow();
    }

    /** The latest valid reading of a point. */
    static Optional<Reading> latest(RunState state, PointKey key) {
        List<Attempt> attempts = state.attempts(key.step(), key.lane());
        for (int i = attempts.size() - 1; i >= 0; i--) {
            Optional<Reading> reading =
                    attempts.get(i).counts() ? attempts.get(i).reading(key) : Optional.empty();
            if (reading.isPresent()) {
                return reading;
            }
        }
        return Optional.empty();
    }

    /** The value that counts of a point (mean or worst of its repeats, as its step says): what others count with. */
    static Optional<PointJudgement.Value> counting(RunState state, PointKey key) {
        return new PointJudge(state).counting(key).filter(v -> v.value() != null);
    }

    /** The point an input of this one refers to. */
    PointKey pointOf(InputRef ref) {
        return new PointKey(ref.name(), ref.point(), ref.lane() == null ? laneAt(ref.name()) : ref.lane());
    }

    /** The lane of another step that this one's goes by. */
    private String laneAt(String other) {
        return other.equals(key.step())
                ? key.lane()
                : state.procedure()
                        .step(other)
                        .filter(s -> s.kind() == StepKind.REFERENCE)
                        .map(s -> References.laneOf(state, s, step(), key.lane()))
                        .orElse(key.lane());
    }

    @Override
    public OptionalDouble input(InputRef ref) {
        return switch (ref.from()) {
            case NAMEPLATE -> state.opened().asset().nameplate().base(ref.onLane(key.lane()));
            case PARAM -> number(step().at(key.lane()).params().get(ref.name()));
            case READING ->
                counting(state, pointOf(ref))
                        .map(v -> OptionalDouble.of(java.util.Objects.requireNonNull(v.value())))
                        .orElse(OptionalDouble.empty());
            case CONDITION -> condition(ref.name());
            case LANE -> OptionalDouble.empty();
            case WITH -> with.containsKey(ref.name()) ? OptionalDouble.of(with(ref.name())) : OptionalDouble.empty();
            case CURVE -> side(ref);
        };
    }

    private OptionalDouble condition(String name) {
        Quantity there = state.conditions().get(name);
        return there == null
                ? OptionalDouble.empty()
                : OptionalDouble.of(there.value() * there.unit().factor());
    }

    private OptionalDouble side(InputRef ref) {
        String name = ref.name();
        Envelope envelope = envelope();
        if (envelope == null) {
            return OptionalDouble.empty();
        }
        if (ref.isBeginning()) {
            return envelope.side(name, Double.NaN);
        }
        OptionalDouble place = number(step().at(key.lane()).params().get(envelope.over()));
        return place.isEmpty() ? place : envelope.side(name, place.getAsDouble());
    }

    @Override
    public @Nullable String words(InputRef ref) {
        return switch (ref.from()) {
            case NAMEPLATE -> state.opened().asset().nameplate().texts().get(ref.onLane(key.lane()));
            case LANE -> state.procedure().laneIn(step(), key.lane(), ref.name());
            default -> null;
        };
    }

    private static OptionalDouble number(@Nullable Param param) {
        return param == null || param.value() == null ? OptionalDouble.empty() : OptionalDouble.of(param.value());
    }

    @Override
    public Map<String, Double> lanes() {
        Map<String, Double> values = new LinkedHashMap<>();
        for (String lane : state.procedure().lanesOf(step(), state.scope())) {
            counting(state, new PointKey(key.step(), key.point(), lane)).ifPresent(v -> values.put(lane, v.value()));
        }
        return values;
    }

    @Override
    public OptionalDouble prior(LimitKind.Against against) {
        TestPoint point = step().point(key.point()).orElseThrow();
        return state.opened().priors().stream()
                .filter(p -> p.series().equals(point.series()) && Rows.isSame(state, key, p))
                .filter(p -> against == LimitKind.Against.LAST || p.baseline())
                .findFirst()
                .map(p -> OptionalDouble.of(p.unit().convert(p.value(), Unit.of(String.valueOf(point.unit())))))
                .orElse(OptionalDouble.empty());
    }

    @Override
    public String title(String name) {
        return state.opened().asset().nameplate().title(name);
    }

    @Override
    public @Nullable Envelope envelope() {
        return state.envelope();
    }

    @Override
    public @Nullable StandardTable table(String group) {
        return state.opened().table(group);
    }

    @Override
    public double with(String name) {
        Quantity quantity = with.get(name);
        return quantity == null
                ? Double.NaN
                : quantity.value() * quantity.unit().factor();
    }

    @Override
    public @Nullable Unit unit() {
        return step().point(key.point()).map(p -> p.unit()).map(Unit::of).orElse(null);
    }

    @Override
    public String laneWord() {
        return state.procedure().laneWord(step());
    }
}
