package org.juratest.core.run;

import java.util.List;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.LaneSet;
import org.juratest.core.procedure.Param;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.procedure.Scope;
import org.juratest.core.procedure.Step;
import org.juratest.core.procedure.TestPoint;
import org.juratest.core.quantity.Plausible;
import org.juratest.core.quantity.Unit;

/**
 * A saved way of carrying out a procedure: what is left out, which limits and parameters differ. Shared by everyone,
 * exchanged as a file; a revision never changes.
 *
 * @param format {@value #FORMAT}
 * @param code upper-case letters, digits and dashes
 * @param procedure code of its procedure
 * @param revision from 1
 */
public record Variant(
        String format,
        String code,
        String name,
        String procedure,
        int revision,
        Scope scope,
        List<AttemptEvents.LimitChanged> limits,
        List<AttemptEvents.ParamChanged> params) {

    public static final String FORMAT = "juratest-variant/1";

    public Variant {
        limits = List.copyOf(limits);
        params = List.copyOf(params);
    }

    /** The variant that a run is carried out by as it stands. */
    public static Variant of(RunState state, String code, String name, int revision) {
        List<AttemptEvents.ParamChanged> params = state.changedParams().entrySet().stream()
                .map(p -> new AttemptEvents.ParamChanged(
                        p.getKey().step(), p.getKey().name(), p.getKey().lane(), p.getValue(), "variant " + name))
                .toList();
        List<AttemptEvents.LimitChanged> limits = state.changedLimits().values().stream()
                .map(l -> new AttemptEvents.LimitChanged(l.step(), l.point(), l.limit(), l.reason(), l.lane()))
                .toList();
        // By name, so that it brings them to a run that begins without them.
        java.util.Set<String> with = state.stepsInScope().stream()
                .filter(Step::beginsWithout)
                .map(Step::id)
                .collect(java.util.stream.Collectors.toSet());
        Scope scope = new Scope(
                state.scope().withoutSteps(),
                state.scope().withoutLanes(),
                state.scope().withoutPairs(),
                with);
        return new Variant(FORMAT, code, name, state.procedure().code(), revision, scope, limits, params);
    }

    /**
     * Checks it against its procedure.
     *
     * @throws Refusal naming the field at fault
     */
    public void check(Procedure of) {
        if (!FORMAT.equals(format)) {
            throw new Refusal(
                    "bad-variant", "A variant's format is \"" + FORMAT + "\", not \"" + format + "\".", "format");
        }
        if (!code.matches("[A-Z0-9][A-Z0-9-]{1,39}")) {
            throw new Refusal(
                    "bad-variant",
                    "A variant's code has 2 to 40 upper-case letters, digits and dashes, not \"" + code + "\".",
                    "code");
        }
        if (name.isBlank() || name.length() > 80) {
            throw new Refusal("bad-variant", "A variant's name has 1 to 80 characters.", "name");
        }
        if (revision < 1) {
            throw new Refusal("bad-variant", "Revisions count from 1.", "revision");
        }
        if (!of.code().equals(procedure)) {
            throw new Refusal(
                    "bad-variant", "This variant is of " + procedure + ", not of " + of.code() + ".", "procedure");
        }
        scope.withoutSteps().forEach(s -> step(of, s, "scope.withoutSteps"));
        if (scope.withSteps() != null) {
            scope.withSteps().forEach(s -> step(of, s, "scope.withSteps"));
        }
        scope.withoutLanes()
                .forEach((set, lanes) -> lanes.forEach(lane -> {
                    LaneSet there = of.laneSets().get(set);
                    if (there == null || there.lane(lane).isEmpty()) {
                        throw new Refusal(
                                "bad-variant",
                                of.code() + " has no lane \"" + set + "/" + lane + "\".",
                                "scope.withoutLanes");
                    }
                }));
        if (scope.withoutPairs() != null) {
            scope.withoutPairs().forEach(pair -> {
                int slash = Math.max(0, pair.indexOf('/'));
                lane(
                        of,
                        step(of, pair.substring(0, slash), "scope.withoutPairs"),
                        pair.substring(slash + 1),
                        "scope.withoutPairs");
            });
        }
        for (int n = 0; n < limits.size(); n++) {
            AttemptEvents.LimitChanged limit = limits.get(n);
            String at = "limits[" + n + "].";
            TestPoint point = step(of, limit.step(), at + "step")
                    .point(limit.point())
                    .orElseThrow(() -> new Refusal(
                            "bad-variant",
                            "\"" + limit.step() + "\" has no point \"" + limit.point() + "\".",
                            at + "point"));
            Rules.limit(point, limit.limit(), at + "limit");
            Rules.words(limit.reason(), at + "reason");
            lane(of, step(of, limit.step(), ""), limit.lane(), "limits[" + n + "].lane");
        }
        for (int n = 0; n < params.size(); n++) {
            AttemptEvents.ParamChanged param = params.get(n);
            Param there =
                    step(of, param.step(), "params[" + n + "].step").params().get(param.param());
            if (there == null) {
                throw new Refusal(
                        "bad-variant",
                        "\"" + param.step() + "\" has no parameter \"" + param.param() + "\".",
                        "params[" + n + "].param");
            }
            Rules.words(param.reason(), "params[" + n + "].reason");
            lane(of, step(of, param.step(), ""), param.lane(), "params[" + n + "].lane");
            Unit unit = Unit.of(there.unit());
            if (!Plausible.is(param.value(), unit)
                    || there.range() != null && !there.range().has(param.value())) {
                throw new Refusal(
                        "bad-variant",
                        "The " + param.param() + " of \"" + param.step() + "\" cannot be " + param.value() + ".",
                        "params[" + n + "].value");
            }
        }
    }

    private static Step step(Procedure of, String id, String field) {
        return of.step(id)
                .orElseThrow(() -> new Refusal("bad-variant", of.code() + " has no step \"" + id + "\".", field));
    }

    private static void lane(Procedure of, Step step, @Nullable String lane, String field) {
        if (lane != null
                && (step.lanes() == null
                        || of.laneSets().get(step.lanes()).lane(lane).isEmpty())) {
            throw new Refusal("bad-variant", "\"" + step.id() + "\" has no lane \"" + lane + "\".", field);
        }
    }

    /** What applying it to a run writes: of what it says, all that this device has. */
    public RunEvents.VariantApplied applied(RunState state, String hash) {
        Procedure fitted = state.opened().procedure();
        Scope fits = new Scope(
                scope.withoutSteps().stream()
                        .filter(s -> fitted.step(s).isPresent())
                        .collect(java.util.stream.Collectors.toSet()),
                scope.withoutLanes().entrySet().stream()
                        .filter(e -> fitted.laneSets().containsKey(e.getKey()))
                        .collect(java.util.stream.Collectors.toMap(
                                java.util.Map.Entry::getKey, e -> e.getValue().stream()
                                        .filter(l -> fitted.laneSets()
                                                .get(e.getKey())
                                                .lane(l)
                                                .isPresent())
                                        .collect(java.util.stream.Collectors.toSet()))),
                scope.withoutPairs() == null
                        ? null
                        : scope.withoutPairs().stream()
                                .filter(p -> has(
                                        fitted,
                                        p.substring(0, Math.max(0, p.indexOf('/'))),
                                        p.substring(p.indexOf('/') + 1)))
                                .collect(java.util.stream.Collectors.toSet()),
                scope.withSteps());
        return new RunEvents.VariantApplied(
                code,
                name,
                revision,
                hash,
                fits.over(fitted),
                limits.stream().filter(l -> has(fitted, l.step(), l.lane())).toList(),
                params.stream().filter(p -> has(fitted, p.step(), p.lane())).toList());
    }

    private static boolean has(Procedure fitted, String step, @Nullable String lane) {
        return fitted.step(step)
                .map(s -> lane == null
                        || s.lanes() != null
                                && fitted.laneSets().get(s.lanes()).lane(lane).isPresent())
                .orElse(false);
    }
}
