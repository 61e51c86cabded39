package org.juratest.core.procedure;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalDouble;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.juratest.core.formula.Formula;
import org.juratest.core.formula.FormulaException;
import org.juratest.core.limit.Envelope;
import org.juratest.core.limit.InputRef;

/**
 * Fits a procedure to one device: lane sets shrink to the lanes it has, formulas of parameters become values. A formula
 * whose inputs are missing leaves the parameter without a value and with the reason; what needs it then refuses.
 */
public final class ProcedureResolver {

    /** Ranges beyond what any step has: three to the fourth. */
    private static final int MOST_CORNERS = 27;

    private final Nameplate nameplate;
    private final @Nullable Envelope envelope;

    private ProcedureResolver(Nameplate nameplate, @Nullable Envelope envelope) {
        this.nameplate = nameplate;
        this.envelope = envelope;
    }

    /**
     * The procedure for a device of this nameplate and curve.
     *
     * @throws UnfitDeviceException if the nameplate does not say how many lanes there are, or says more than there may
     *     be
     */
    public static Procedure resolve(Procedure procedure, Nameplate nameplate, @Nullable Envelope envelope) {
        ProcedureResolver resolver = new ProcedureResolver(nameplate, envelope);
        Map<String, LaneSet> lanes = new LinkedHashMap<>();
        procedure.laneSets().forEach((name, set) -> {
            if (set.product() == null) {
                lanes.put(name, resolver.lanes(set));
            }
        });
        procedure.laneSets().forEach((name, set) -> {
            if (set.product() != null) {
                lanes.put(name, product(set, set.product(), lanes));
            }
        });
        List<Step> present = procedure.steps().stream().filter(resolver::has).toList();
        Set<String> ids = present.stream().map(Step::id).collect(Collectors.toSet());
        return procedure.withResolved(
                lanes,
                present.stream().map(s -> resolver.step(s.among(ids), lanes)).toList());
    }

    /**
     * A resolved procedure with one parameter of a step set to a value, and what follows from it by formulas; its
     * greatest values stay.
     *
     * @param lane on which; absent for all
     */
    public static Procedure with(
            Procedure resolved,
            Nameplate nameplate,
            @Nullable Envelope envelope,
            String step,
            String param,
            @Nullable String lane,
            double value) {
        ProcedureResolver resolver = new ProcedureResolver(nameplate, envelope);
        return resolved.withResolved(
                resolved.laneSets(),
                resolved.steps().stream()
                        .map(s -> s.id().equals(step)
                                ? resolver.changed(s.with(param, lane, value, resolved.laneSets()), resolved.laneSets())
                                : s)
                        .toList());
    }

    private boolean has(Step step) {
        return step.onlyIfRated() == null || nameplate.base(step.onlyIfRated()).isPresent();
    }

    private static LaneSet product(LaneSet set, List<String> of, Map<String, LaneSet> lanes) {
        LaneSet one = lanes.get(of.get(0));
        LaneSet other = lanes.get(of.get(1));
        if (one == null || other == null) {
            throw new IllegalArgumentException("lanes are made of two listed sets, not of " + of);
        }
        if (one.lanes().size() * other.lanes().size() > LaneSet.MOST) {
            throw new UnfitDeviceException(one.lanes().size() + " by "
                    + other.lanes().size() + " " + set.label() + "s are more than " + LaneSet.MOST + ".");
        }
        return set.product(of.get(0), one, of.get(1), other);
    }

    private LaneSet counted(LaneSet set, LaneRule rule) {
        double count = nameplate
                .base(rule.count())
                .orElseThrow(() -> new UnfitDeviceException("The nameplate has no \"" + rule.count()
                        + "\": nobody knows how many " + set.label() + "s it has."));
        if (!(count >= 1 && count <= Math.min(rule.most(), LaneSet.MOST)) || count != Math.rint(count)) {
            throw new UnfitDeviceException("A device has 1 to " + Math.min(rule.most(), LaneSet.MOST) + " "
                    + set.label() + "s; by its nameplate (" + rule.count() + ") it has " + count + ".");
        }
        return set.counted(
                rule.only() == null ? all((int) count) : rule.only().chosen(nameplate, (int) count),
                rule,
                rule.colours(nameplate));
    }

    private static BitSet all(int count) {
        BitSet all = new BitSet();
        all.set(1, count + 1);
        return all;
    }

    private LaneSet lanes(LaneSet set) {
        if (set.rule() != null) {
            return counted(set, set.rule());
        }
        // Without the rating nobody knows how many there are; leaving lanes out would hide them, so all stay.
        double count = set.from() == null
                ? Double.POSITIVE_INFINITY
                : nameplate.base(set.from()).orElse(Double.POSITIVE_INFINITY);
        List<Lane> present = set.lanes().stream()
                .filter(l -> l.from() == null || l.from() <= count)
                .filter(l -> l.fits(nameplate))
                .filter(l -> l.ifRated() == null || nameplate.base(l.ifRated()).isPresent())
                .toList();
        boolean nothingKnown = present.isEmpty()
                || set.lanes().stream()
                        .allMatch(l -> l.ifRated() != null
                                && nameplate.base(l.ifRated()).isEmpty());
        return nothingKnown ? set : new LaneSet(set.label(), set.from(), present);
    }

    private Step step(Step step, Map<String, LaneSet> laneSets) {
        List<String> lanes = lanes(step, laneSets);
        return step.resolved(params(step.params(), lanes), maxima(step, lanes));
    }

    /**
     * A step after a parameter was changed in a run: what follows from it by formulas is made anew. Its greatest values
     * stay what they are: nothing that is changed in a run moves them.
     */
    private Step changed(Step step, Map<String, LaneSet> laneSets) {
        return step.resolved(params(step.params(), lanes(step, laneSets)), step.maxima());
    }

    private static List<String> lanes(Step step, Map<String, LaneSet> laneSets) {
        return step.lanes() == null || !laneSets.containsKey(step.lanes())
                ? List.of()
                : laneSets.get(step.lanes()).lanes().stream().map(Lane::id).toList();
    }

    private Map<String, Param> params(Map<String, Param> stated, List<String> lanes) {
        Map<String, Param> params = new TreeMap<>();
        // In order of need: a formula may use another parameter of the step, so literal ones come first.
        stated.forEach((name, p) -> {
            if (p.formula() == null) {
                params.put(name, p);
            }
        });
        // Twice over: a formula may use another formula of the step, whatever their order.
        for (int round = 0; round < 2; round++) {
            stated.forEach((name, p) -> {
                if (p.formula() != null) {
                    params.put(name, resolved(p, params, lanes));
                }
            });
        }
        return params;
    }

    /**
     * Greatest values, over everything that the published parameters may be changed to within their ranges: the
     * greatest of what a formula gives at the ends of the ranges. An end at which a formula cannot be worked out adds
     * nothing.
     */
    private Map<String, Param> maxima(Step step, List<String> lanes) {
        Map<String, Param> maxima = new TreeMap<>();
        for (Map<String, Param> corner : corners(step.params())) {
            Map<String, Param> params = params(corner, lanes);
            step.maxima()
                    .forEach((name, p) -> maxima.merge(
                            name, p.formula() == null ? p : resolved(p, params, lanes), ProcedureResolver::greater));
        }
        return maxima;
    }

    /** The parameters as published, and with each that has a range at each of its ends. */
    private static List<Map<String, Param>> corners(Map<String, Param> stated) {
        List<Map<String, Param>> corners = new ArrayList<>(List.of(stated));
        stated.forEach((name, p) -> {
            Param.Range range = p.range();
            if (range != null && corners.size() <= MOST_CORNERS) {
                for (Map<String, Param> corner : List.copyOf(corners)) {
                    for (double end : new double[] {range.low(), range.high()}) {
                        Map<String, Param> at = new TreeMap<>(corner);
                        at.put(name, p.set(end));
                        corners.add(at);
                    }
                }
            }
        });
        return corners;
    }

    private static Param greater(Param a, Param b) {
        if (a.missing() != null || b.missing() != null) {
            return a;
        }
        if (a.lanes() != null && b.lanes() != null) {
            Map<String, Double> both = new TreeMap<>(a.lanes());
            b.lanes().forEach((lane, value) -> both.merge(lane, value, Math::max));
            return new Param(null, a.formula(), a.inputs(), a.unit(), null, both, a.range(), a.learned());
        }
        return a.value() == null || b.value() != null && b.value() > a.value() ? b : a;
    }

    /** One value, or one by lane where it depends on the lane. */
    private Param resolved(Param param, Map<String, Param> params, List<String> lanes) {
        boolean byLane = param.inputs().values().stream()
                .map(InputRef::parse)
                .anyMatch(r -> r.from() == InputRef.From.NAMEPLATE && r.name().contains(InputRef.LANE)
                        || r.from() == InputRef.From.PARAM
                                && params.containsKey(r.name())
                                && params.get(r.name()).lanes() != null);
        if (!byLane || lanes.isEmpty()) {
            return value(param, params, Lane.NONE);
        }
        Map<String, Double> values = new TreeMap<>();
        String missing = null;
        for (String lane : lanes) {
            Map<String, Param> own = new TreeMap<>();
            params.forEach((name, p) -> own.put(name, p.at(lane)));
            Param value = value(param, own, lane);
            if (value.value() != null) {
                values.put(lane, value.value());
            } else {
                missing = value.missing();
            }
        }
        return new Param(
                null, param.formula(), param.inputs(), param.unit(), missing, values, param.range(), param.learned());
    }

    private Param value(Param param, Map<String, Param> params, String lane) {
        Map<String, Double> values = new HashMap<>();
        for (Map.Entry<String, String> input : param.inputs().entrySet()) {
            InputRef ref = InputRef.parse(input.getValue());
            OptionalDouble value = input(ref, params, lane);
            if (value.isEmpty()) {
                String why = ref.from() == InputRef.From.NAMEPLATE
                        ? "the nameplate has no " + nameplate.title(ref.onLane(lane))
                        : "there is no " + ref;
                return param.otherwise() == null || ref.from() != InputRef.From.NAMEPLATE
                        ? param.resolved(null, why)
                        : param.resolved(param.otherwise(), null);
            }
            values.put(input.getKey(), value.getAsDouble());
        }
        try {
            double value = Formula.parse(String.valueOf(param.formula())).evaluate(values);
            return param.resolved(value, null);
        } catch (FormulaException e) {
            return param.resolved(null, e.getMessage());
        }
    }

    private OptionalDouble input(InputRef ref, Map<String, Param> params, String lane) {
        return switch (ref.from()) {
            case NAMEPLATE -> nameplate.base(ref.onLane(lane));
            case PARAM -> number(params.get(ref.name()));
            case CURVE -> window(ref, params);
            case READING, WITH, LANE, CONDITION -> OptionalDouble.empty();
        };
    }

    private OptionalDouble window(InputRef ref, Map<String, Param> params) {
        if (envelope == null) {
            return OptionalDouble.empty();
        }
        if (ref.isBeginning()) {
            return envelope.side(ref.name(), Double.NaN);
        }
        OptionalDouble place = number(params.get(envelope.over()));
        return place.isEmpty() ? place : envelope.side(ref.name(), place.getAsDouble());
    }

    private static OptionalDouble number(@Nullable Param param) {
        return param == null || param.value() == null ? OptionalDouble.empty() : OptionalDouble.of(param.value());
    }
}
