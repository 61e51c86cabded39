package org.juratest.core.run;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.juratest.core.formula.Formula;
import org.juratest.core.formula.FormulaException;
import org.juratest.core.limit.InputRef;
import org.juratest.core.limit.LimitCheck;
import org.juratest.core.limit.LimitKind;
import org.juratest.core.limit.LimitSpec;
import org.juratest.core.limit.Verdict;
import org.juratest.core.procedure.Confirmation;
import org.juratest.core.procedure.GearNeed;
import org.juratest.core.procedure.Lane;
import org.juratest.core.procedure.LaneSet;
import org.juratest.core.procedure.Param;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.ProcedureResolver;
import org.juratest.core.procedure.Scope;
import org.juratest.core.procedure.Step;
import org.juratest.core.procedure.StepKind;
import org.juratest.core.procedure.TestPoint;
import org.juratest.core.quantity.Plausible;
import org.juratest.core.quantity.Unit;

/**
 * What must hold before a person may do something in a run. Each check throws a {@link Refusal} that says what to do.
 */
public final class Rules {

    private static final int LONGEST_TEXT = 4000;
    private static final Map<Class<? extends EventData>, String> CHANGES = Map.ofEntries(
            Map.entry(StepEvents.HoldReleased.class, "a confirmation was given"),
            Map.entry(StepEvents.Restored.class, "something was put back"),
            Map.entry(RunEvents.Withdrawn.class, "something was taken back"),
            Map.entry(StepEvents.StepSkipped.class, "a step was skipped"),
            Map.entry(StepEvents.WentOn.class, "it was decided to go on"),
            Map.entry(RunEvents.AssetIdentified.class, "the device was identified anew"),
            Map.entry(RunEvents.ScopeSet.class, "the scope was changed"),
            Map.entry(RunEvents.VariantApplied.class, "another variant was taken"),
            Map.entry(RunEvents.GearChosen.class, "gear was changed"),
            Map.entry(RunEvents.SetupMoved.class, "the set-up was changed"),
            Map.entry(RunEvents.ScreenTaken.class, "another screen took over"),
            Map.entry(AttemptEvents.ParamChanged.class, "a parameter was changed"),
            Map.entry(AttemptEvents.LimitChanged.class, "a limit was changed"),
            Map.entry(AttemptEvents.BackToProcedure.class, "a limit or parameter was put back"),
            Map.entry(OutputEvents.GearLost.class, "gear was lost"));

    private Rules() {}

    /** The run is open, and not waiting for someone to read what interrupted it. */
    public static void open(RunState state) {
        if (state.status() == RunState.Status.FINISHED) {
            throw new Refusal("run-finished", "This run is finished; its record takes amendments only.");
        }
        if (state.status() == RunState.Status.ABORTED) {
            throw new Refusal("run-aborted", "This run was given up: " + state.abortReason() + ".");
        }
        if (state.interrupted() != null) {
            throw new Refusal(
                    "run-interrupted",
                    "This run was interrupted: " + state.interrupted() + " Read it and resume first.");
        }
    }

    /** The device is not known to be another than the run's. */
    static void rightDevice(RunState state) {
        if (state.isOtherDevice()) {
            throw new Refusal(
                    "wrong-asset",
                    "The plate says " + state.identified() + ", but this run is of number "
                            + state.opened().asset().serial() + ". Nothing is tested until that is settled.",
                    "serial");
        }
    }

    static void notLive(RunState state, String what) {
        if (state.output().mode() == Output.Mode.LIVE) {
            throw new Refusal("output-live", what + " while the output is live. Stop the output first.");
        }
        if (state.isBusy()) {
            throw busy();
        }
    }

    private static Refusal busy() {
        return new Refusal(
                "busy",
                "A measurement of this run is under way, also while its output is off in between. Wait for its "
                        + "end, or stop it.");
    }

    /**
     * What may be added to a run as it stands, whoever adds it: the last check before an event is written.
     *
     * @throws Refusal if it may not
     */
    public static void admit(RunState before, Actor by, EventData data) {
        boolean note = data instanceof StepEvents.Note || data instanceof StepEvents.Photo;
        if (by.isPerson() && before.isBusy() && !note) {
            throw busy();
        }
        data.fits(before);
    }

    /** Refuses an event that does not fit an open run as it stands. */
    static void fits(RunState before, EventData data, boolean fits) {
        if (before.status() != RunState.Status.OPEN || !fits) {
            throw new Refusal(
                    "does-not-fit",
                    "\"" + data.type() + "\" does not fit this run: it is "
                            + before.status().name().toLowerCase(java.util.Locale.ROOT) + ", its output "
                            + before.output().mode().name().toLowerCase(java.util.Locale.ROOT)
                            + (before.isBusy() ? ", a measurement under way." : "."));
        }
    }

    /**
     * What an armed step rested on that an event has changed, in words; absent where it leaves that as it was. Anything
     * but notes, photos and what belongs to outputs themselves counts as a change.
     */
    public static @Nullable String disarms(EventData data) {
        if (data instanceof StepEvents.Note
                || data instanceof StepEvents.Photo
                || data instanceof StepEvents.StepBegun
                || data instanceof OutputEvents.Armed
                || data instanceof OutputEvents.GearBack) {
            return null;
        }
        return CHANGES.getOrDefault(data.getClass(), "something it rests on has changed");
    }

    static void words(@Nullable String text, String field) {
        if (text == null || text.isBlank()) {
            throw new Refusal("words-missing", "Say why, or what, in a few words.", field);
        }
        if (text.length() > LONGEST_TEXT) {
            throw new Refusal(
                    "words-too-long",
                    "At most " + LONGEST_TEXT + " characters, these are " + text.length() + ".",
                    field);
        }
    }

    static Confirmation confirmation(RunState state, String step, String confirmation) {
        return state.stepInScope(step).confirmations().stream()
                .filter(c -> c.id().equals(confirmation))
                .findFirst()
                .orElseThrow(() -> new Refusal(
                        "unknown-confirmation",
                        "This step has no confirmation \"" + confirmation + "\".",
                        "confirmation"));
    }

    static void lane(RunState state, Step step, String lane) {
        if (!state.procedure().lanesOf(step, state.scope()).contains(lane)) {
            throw new Refusal(
                    "unknown-lane",
                    "\"" + step.title() + "\" is not done on lane \"" + lane + "\" in this run.",
                    "lane");
        }
    }

    /** Nothing was measured or answered yet. */
    static void fresh(RunState state) {
        if (!state.attempts().isEmpty() || !state.answers().isEmpty()) {
            throw new Refusal(
                    "scope-fixed",
                    "What is tested is chosen before the first reading; skip a step instead, with a reason.");
        }
    }

    /** A lane of a step, in scope or not; absent stands for all. */
    static void anyLane(RunState state, Step step, @Nullable String lane) {
        if (lane != null
                && (step.lanes() == null
                        || state.procedure()
                                .laneSets()
                                .get(step.lanes())
                                .lane(lane)
                                .isEmpty())) {
            throw new Refusal("unknown-lane", "\"" + step.title() + "\" has no lane \"" + lane + "\".", "lane");
        }
    }

    /** A limit can be one at a point. */
    static void limit(TestPoint point, LimitSpec limit, String field) {
        List<LimitCheck.Fault> faults = LimitCheck.of(limit, point.unit() == null ? null : Unit.of(point.unit()));
        if (!faults.isEmpty()) {
            throw new Refusal(
                    "limit-invalid",
                    "The limit of \"" + point.label() + "\" cannot be so: "
                            + faults.stream().map(LimitCheck.Fault::what).collect(Collectors.joining("; ")) + ".",
                    field + "." + faults.get(0).field());
        }
        if (limit.kind() instanceof LimitKind.Formula formula) {
            formula(field + ".low", formula.low());
            formula(field + ".high", formula.high());
            formula(field + ".ideal", formula.ideal());
            formula.inputs().forEach((name, ref) -> {
                try {
                    InputRef.parse(ref);
                } catch (IllegalArgumentException e) {
                    throw new Refusal(
                            "formula-invalid", String.valueOf(e.getMessage()) + ".", field + ".inputs." + name);
                }
            });
        }
    }

    /** A formula with an error is refused when it is entered, with the position named, not when it is first needed. */
    private static void formula(String field, @Nullable String text) {
        if (text != null) {
            try {
                Formula.parse(text);
            } catch (FormulaException e) {
                throw new Refusal("formula-invalid", "The " + e.getMessage() + ".", field);
            }
        }
    }

    /** Whether a parameter only sets what drives the test: no value that was measured with another is less true. */
    static boolean learned(Step step, String param) {
        Param there = step.params().get(param);
        return there != null && Boolean.TRUE.equals(there.learned());
    }

    /** A parameter may have a value, on a lane or on all. */
    static void param(RunState state, String stepId, String param, @Nullable String lane, double value) {
        Step step = state.procedure()
                .step(stepId)
                .orElseThrow(
                        () -> new Refusal("unknown-step", "This procedure has no step \"" + stepId + "\".", "step"));
        if (!step.params().containsKey(param)) {
            throw new Refusal("unknown-param", "\"" + step.title() + "\" has no parameter \"" + param + "\".", "param");
        }
        anyLane(state, step, lane);
        Unit unit = Unit.of(step.params().get(param).unit());
        if (!(Math.abs(value) <= Double.MAX_VALUE)) {
            throw new Refusal("not-a-number", "A parameter is a number, not " + value + ".", "value");
        }
        Param.Range range = step.params().get(param).range();
        String symbol = unit.symbol();
        if (range != null && !range.has(value)) {
            throw new Refusal(
                    "out-of-range",
                    String.format(
                                    java.util.Locale.ROOT,
                                    "The %s may be changed to %s to %s %s, not to %s.",
                                    param,
                                    plain(range.low()),
                                    plain(range.high()),
                                    symbol,
                                    plain(value))
                            .replace(" ,", ","),
                    "value");
        }
        if (!Plausible.is(value, unit)) {
            throw new Refusal(
                    "out-of-range", "The " + param + " cannot be so: " + Plausible.words(value, unit) + ".", "value");
        }
        Step changed = ProcedureResolver.with(
                        state.procedure(),
                        state.opened().asset().nameplate(),
                        state.opened().envelope(),
                        stepId,
                        param,
                        lane,
                        value)
                .step(stepId)
                .orElseThrow();
        for (String on : lane != null ? List.of(lane) : state.procedure().lanesOf(step, Scope.ALL)) {
            withinMaxima(changed.at(on), param, plain(value) + (symbol.isEmpty() ? "" : " " + symbol));
        }
    }

    /** What follows from a changed parameter stays within the greatest values of the step, which no change moves. */
    private static void withinMaxima(Step step, String param, String value) {
        step.maxima().forEach((name, most) -> {
            Param now = step.params().get(name);
            if (most.value() != null
                    && now != null
                    && now.value() != null
                    && !(now.value() * Unit.of(now.unit()).factor()
                            <= most.value() * Unit.of(most.unit()).factor())) {
                throw new Refusal(
                        "above-maximum",
                        "With a " + param + " of " + value + " the " + name + " would be " + plain(now.value()) + " "
                                + Unit.of(now.unit()).symbol() + ", above the greatest allowed, " + plain(most.value())
                                + " " + Unit.of(most.unit()).symbol() + ".",
                        "value");
            }
        });
    }

    /** A figure in words, without zeros it does not need. */
    public static String plain(double value) {
        return new java.math.BigDecimal(value)
                .round(new java.math.MathContext(8))
                .stripTrailingZeros()
                .toPlainString();
    }

    /**
     * Whether a step may be left out of a scope: an instruction that makes the work safe only with all the steps it is
     * for.
     */
    public static boolean mayLeaveOut(Step step, Scope scope) {
        return step.kind() != StepKind.INSTRUCTION
                || step.hold() == null
                || !step.hold().onlyFor().isEmpty()
                        && step.hold().onlyFor().stream().noneMatch(scope::step);
    }

    /**
     * Whether a step may be skipped: an instruction that makes the work safe only once all the steps it is for are
     * skipped or out of scope, and none of them was measured.
     */
    static boolean maySkip(RunState state, Step step) {
        return step.kind() != StepKind.INSTRUCTION
                || step.hold() == null
                || !step.hold().onlyFor().isEmpty()
                        && step.hold().onlyFor().stream()
                                .allMatch(id -> !state.scope().step(id)
                                        || state.skipped().containsKey(id)
                                                && state.attempts(id, null).isEmpty());
    }

    /** Whether a hold was skipped, and is for other steps than this one. */
    private static boolean isNotFor(RunState state, Step hold, Step step) {
        return state.skipped().containsKey(hold.id())
                && hold.hold() != null
                && !hold.hold().onlyFor().isEmpty()
                && !hold.hold().onlyFor().contains(step.id());
    }

    /** Every hold before a step, and its own, is released. */
    static void holdsReleased(RunState state, Step step) {
        holdsReleased(state, step, true);
    }

    /** Every instruction before a step is confirmed. */
    static void earlierHoldsReleased(RunState state, Step step) {
        holdsReleased(state, step, false);
    }

    private static void holdsReleased(RunState state, Step step, boolean withOwn) {
        for (Step earlier : state.stepsInScope()) {
            boolean own = earlier.id().equals(step.id());
            if (own ? withOwn : earlier.kind() == StepKind.INSTRUCTION && !isNotFor(state, earlier, step)) {
                for (Confirmation confirmation : earlier.confirmations()) {
                    if (!state.isConfirmed(earlier.id(), confirmation.id())) {
                        throw new Refusal(
                                "hold-open",
                                "First confirm in \"" + earlier.title() + "\": " + confirmation.text() + ".",
                                "step");
                    }
                }
            }
            if (own) {
                return;
            }
        }
    }

    /** What was put on or taken off is so still, or is back again, as this step needs it. */
    private static void stateOfHolds(RunState state, Step step) {
        List<Step> steps = state.procedure().steps();
        int place = steps.indexOf(step);
        for (Step earlier : steps.subList(0, place + 1)) {
            for (Confirmation c : earlier.confirmations()) {
                if (c.back() == null || !state.isConfirmed(earlier.id(), c.id())) {
                    continue;
                }
                boolean mustBeBack = c.backBefore() != null
                        && state.procedure()
                                        .step(c.backBefore())
                                        .map(steps::indexOf)
                                        .orElse(0)
                                <= place;
                boolean isBack = state.isRestored(earlier.id(), c.id());
                if (mustBeBack && !isBack) {
                    throw new Refusal("not-put-back", "First confirm: " + c.back() + ".", "step");
                }
                if (isBack && !mustBeBack) {
                    throw new Refusal(
                            "already-put-back",
                            "\"" + c.back() + "\" was already confirmed. Take that back first, so that \"" + c.text()
                                    + "\" holds again.",
                            "step");
                }
            }
        }
    }

    /**
     * A live step may be armed.
     *
     * @param today day at the site, for the gear's calibration
     * @return the step
     */
    public static Step canArm(RunState state, String stepId, String lane, Instant now, LocalDate today) {
        open(state);
        if (state.isBusy()) {
            throw busy();
        }
        if (state.output().mode() != Output.Mode.SAFE) {
            throw new Refusal(
                    "output-not-safe",
                    "The output is already " + state.output().mode().name().toLowerCase(java.util.Locale.ROOT) + ".");
        }
        return ready(state, stepId, lane, now, today);
    }

    /**
     * A step is ready to be measured on a lane, whatever the output is at the moment: what has to hold when it is
     * armed, and still when it is started.
     *
     * @param today day at the site, for the gear's calibration
     * @return the step
     */
    public static Step ready(RunState state, String stepId, String lane, Instant now, LocalDate today) {
        open(state);
        rightDevice(state);
        Step step = state.stepInScope(stepId);
        if (!step.kind().measured()) {
            throw new Refusal("not-a-measurement", "\"" + step.title() + "\" switches nothing on.", "step");
        }
        if (step.gear() == null) {
            throw new Refusal(
                    "comes-by-files",
                    "\"" + step.title() + "\" is not measured here: bring in the files that hold it.",
                    "step");
        }
        lane(state, step, lane);
        if (state.skipped().containsKey(stepId)) {
            throw new Refusal(
                    "step-skipped",
                    "\"" + step.title() + "\" was skipped: " + state.skipped().get(stepId) + ".",
                    "step");
        }
        holdsReleased(state, step);
        stateOfHolds(state, step);
        gear(state, step, today);
        notAfterFail(state, step, lane);
        Decisions.made(state, step);
        asFoundFirst(state, step, lane);
        references(state, step, lane, now);
        uncharged(state, now);
        params(step.at(lane));
        Duration cooling = cooling(state, step, now);
        if (!cooling.isZero() && state.coolingOverruled == null) {
            throw new Refusal(
                    "still-cooling",
                    "Let the device cool for another " + seconds(cooling) + " s, or go on now with a reason.",
                    "step");
        }
        return step;
    }

    private static long seconds(Duration duration) {
        return (duration.toMillis() + 999) / 1000;
    }

    /** The gear of a step: what it measures with; what it uses beside that is there, too. */
    public static GearFacts gear(RunState state, Step step, LocalDate today) {
        step.furtherNeeds().forEach(need -> gear(state, step, need, today));
        return gear(state, step, String.valueOf(step.gear()), today);
    }

    private static GearFacts gear(RunState state, Step step, String needId, LocalDate today) {
        GearNeed need = state.procedure().gear().stream()
                .filter(n -> n.id().equals(needId))
                .findFirst()
                .orElse(null);
        GearFacts gear = state.gear().stream()
                .filter(g -> g.need().equals(needId))
                .findFirst()
                .orElseThrow(() -> new Refusal(
                        "gear-missing",
                        need == null
                                ? "No gear is chosen for \"" + step.title() + "\"."
                                : "\"" + step.title() + "\" needs gear that is not there: " + need.needs() + ".",
                        "step"));
        String lost = state.gearLost().get(gear.id());
        if (lost != null) {
            throw new Refusal("gear-lost", gear.name() + " does not answer: " + lost + ".", "step");
        }
        if (state.unconfirmed().containsKey(gear.id())) {
            throw new Refusal(
                    "output-unconfirmed",
                    gear.name() + " has not confirmed that its output is off ("
                            + state.unconfirmed().get(gear.id()) + "). Treat it as live until it does.",
                    "step");
        }
        if (need == null || need.calibrated()) {
            calibrated(gear, today);
        }
        return gear;
    }

    static void calibrated(GearFacts gear, LocalDate today) {
        if (!gear.holdsOn(today)) {
            throw new Refusal(
                    "gear-past-calibration",
                    gear.name()
                            + (gear.calibratedTo() == null
                                    ? " has no calibration."
                                    : " was calibrated to " + gear.calibratedTo() + ".")
                            + " It may not be used for a judged step.",
                    "gear");
        }
    }

    private static void params(Step step) {
        step.params().forEach((name, param) -> {
            if (param.value() == null) {
                throw new Refusal(
                        "parameter-unknown",
                        "The " + name + " of \"" + step.title() + "\" is not known: " + param.missing() + ".",
                        "params." + name);
            }
        });
        step.maxima().forEach((name, param) -> {
            if (param.value() == null) {
                throw new Refusal(
                        "parameter-unknown",
                        "The greatest " + name + " of \"" + step.title() + "\" is not known: " + param.missing() + ".",
                        "maxima." + name);
            }
        });
    }

    /** What forbids a step was measured on the lanes it touches, and did not fail there. */
    static void notAfterFail(RunState state, Step step, String lane) {
        String barrier = step.notAfterFailIn();
        if (barrier == null || !state.scope().step(barrier)) {
            return;
        }
        // Skipping excuses what was not measured, never what failed before the rest was skipped.
        boolean skipped = state.skipped().containsKey(barrier);
        Step earlier = state.stepInScope(barrier);
        LaneSet lanes = state.procedure().laneSets().get(String.valueOf(earlier.lanes()));
        for (PointJudgement point : RunJudgement.of(state).points()) {
            PointKey key = point.key();
            if (!key.step().equals(barrier) || !touches(lanes, key.lane(), lane)) {
                continue;
            }
            String name = state.procedure().laneName(earlier, key.lane());
            if (point.verdict() == Verdict.FAIL) {
                throw new Refusal(
                        "failed-before",
                        "\"" + earlier.title() + "\" failed on " + name
                                + ". Never energise what failed there; repair it and measure that "
                                + "again first.",
                        "lane");
            }
            // What could not be measured is no fault of the device, and no proof that it is sound either.
            if ((point.asFound() == null || unmeasured(state, key)) && point.required() && !skipped) {
                throw new Refusal(
                        "not-measured-before",
                        "First do \"" + earlier.title() + "\" on " + name + ", or skip it with a reason.",
                        "lane");
            }
        }
    }

    /** Whether the newest attempt that says anything of a point says that it could not be measured. */
    private static boolean unmeasured(RunState state, PointKey key) {
        return state.attempts(key.step(), key.lane()).stream()
                .filter(Attempt::counts)
                .filter(a -> a.reading(key).isPresent() || a.blank(key).isPresent())
                .reduce((a, b) -> b)
                .flatMap(a -> a.blank(key))
                .map(b -> b.blank() == AttemptEvents.Blank.NOT_MEASURABLE)
                .orElse(false);
    }

    /** What a step changes was measured as found. */
    private static void asFoundFirst(RunState state, Step step, String lane) {
        for (String id : step.alters()) {
            Step altered = state.procedure().step(id).orElse(null);
            if (altered == null || !state.scope().step(id) || state.skipped().containsKey(id)) {
                continue;
            }
            for (String on : state.procedure().lanesOf(altered, state.scope())) {
                boolean concerns =
                        step.provesAllLanes() || altered.provesAllLanes() || on.equals(lane) || on.equals(Lane.NONE);
                if (concerns && state.attempts(id, on).stream().noneMatch(Attempt::counts)) {
                    String name = state.procedure().laneName(altered, on);
                    throw new Refusal(
                            "not-measured-as-found",
                            "First do \"" + altered.title() + "\"" + (name.isEmpty() ? "" : " on " + name)
                                    + ": as found is measured before anything is aligned.",
                            "step");
                }
            }
        }
    }

    /** What a step counts with was taken, and holds. */
    private static void references(RunState state, Step step, String lane, Instant now) {
        for (References.Standing reference : References.of(state, step, lane, now)) {
            if (reference.fault() != null) {
                String name = state.procedure().laneName(reference.step(), reference.lane());
                throw new Refusal(
                        "reference-does-not-hold",
                        "\"" + step.title() + "\" counts with \""
                                + reference.step().title() + "\"" + (name.isEmpty() ? "" : " of " + name)
                                + ", which " + reference.fault() + ". Take it first.",
                        "step");
            }
        }
    }

    /** Nothing starts while something may still be charged. */
    static void uncharged(RunState state, Instant now) {
        state.charges().forEach((place, charge) -> {
            if (charge.holds(now)) {
                Step step = state.procedure().step(place.step()).orElseThrow();
                String name = state.procedure().laneName(step, place.lane());
                Instant free = charge.free();
                throw new Refusal(
                        "still-charged",
                        "\"" + step.title() + "\"" + (name.isEmpty() ? "" : " on " + name)
                                + " may have left a charge: "
                                + (free != null
                                        ? "it stays earthed for another " + seconds(Duration.between(now, free)) + " s"
                                        : charge.residual() == null
                                                ? "measure the voltage that is left"
                                                : charge.rule().text())
                                + ".",
                        "step");
            }
        });
    }

    /**
     * What a step left charged on a lane.
     *
     * @throws Refusal if it left nothing
     */
    static Charge charge(RunState state, String step, String lane) {
        Charge charge =
                state.charges().get(new Charge.Place(state.stepInScope(step).id(), lane));
        if (charge == null) {
            throw new Refusal("not-charged", "Nothing was charged by this step on that lane.", "step");
        }
        return charge;
    }

    private static boolean touches(@Nullable LaneSet lanes, String earlierLane, String lane) {
        // A step without lanes concerns all of them.
        if (earlierLane.equals(lane) || earlierLane.equals(Lane.NONE) || lane.equals(Lane.NONE)) {
            return true;
        }
        return lanes != null
                && lanes.lane(earlierLane).map(l -> l.touches().contains(lane)).orElse(false);
    }

    /**
     * How long the device must still cool before the next output of a step; zero if it need not. The pause counts in
     * the gear's time, which in the demo runs faster than the clock.
     */
    public static Duration cooling(RunState state, Step step, Instant now) {
        Instant off = state.outputOffAt.get(step.id());
        if (step.coolMinutes() == null || off == null) {
            return Duration.ZERO;
        }
        List<Attempt> heated = state.attempts().stream()
                .filter(a -> a.step().equals(step.id())
                        && a.outcome() != Attempt.Outcome.CONNECTION_FAILED
                        && a.outcome() != Attempt.Outcome.UNCLEAR)
                .toList();
        if (heated.isEmpty()) {
            return Duration.ZERO;
        }
        double factor = heated.get(heated.size() - 1).timeFactor();
        Duration pause = Duration.ofMillis(Math.round(step.coolMinutes() * 60_000 / factor));
        Duration left = pause.minus(Duration.between(off, now));
        return left.isNegative() ? Duration.ZERO : left;
    }

    /** The run may finish: safe, everything ticked back, nothing left to do that was not skipped. */
    public static void canFinish(RunState state) {
        open(state);
        rightDevice(state);
        if (state.output().mode() != Output.Mode.SAFE) {
            throw new Refusal("output-not-safe", "The run cannot finish while the output is armed or live.");
        }
        for (Step step : state.stepsInScope()) {
            for (Confirmation confirmation : step.confirmations()) {
                boolean done = state.isConfirmed(step.id(), confirmation.id());
                if (!done
                        && step.kind() == StepKind.INSTRUCTION
                        && !state.skipped().containsKey(step.id())) {
                    throw new Refusal(
                            "hold-open",
                            "Still to confirm in \"" + step.title() + "\": " + confirmation.text() + ".",
                            step.id());
                }
                if (done && confirmation.back() != null && !state.isRestored(step.id(), confirmation.id())) {
                    throw new Refusal("not-put-back", "Still to put back: " + confirmation.back() + ".", step.id());
                }
            }
        }
        state.charges().forEach((place, charge) -> {
            if (charge.earthedAt() == null) {
                throw new Refusal(
                        "still-charged",
                        "\""
                                + state.procedure()
                                        .step(place.step())
                                        .orElseThrow()
                                        .title() + "\" may have left a charge. Measure what is left, and earth it.",
                        place.step());
            }
        });
        state.attempts().stream()
                .filter(a -> a.outcome() == Attempt.Outcome.UNCLEAR && a.voided() == null)
                .findFirst()
                .ifPresent(a -> {
                    throw new Refusal(
                            "attempt-unclear",
                            "Still to say of \""
                                    + state.procedure()
                                            .step(a.step())
                                            .orElseThrow()
                                            .title()
                                    + "\": whether it was the connection or the device.",
                            a.step());
                });
        for (PointJudgement point : RunJudgement.of(state).points()) {
            boolean derived = state.procedure()
                    .step(point.key().step())
                    .map(s -> s.kind() == StepKind.DERIVATION)
                    .orElse(false);
            if (point.required()
                    && !derived
                    && point.asFound() == null
                    && !state.skipped().containsKey(point.key().step())) {
                throw new Refusal(
                        "point-open",
                        "Still to do: " + point.label() + ". Measure it, or skip its step with a reason.",
                        point.key().toString());
            }
        }
    }

    /** The test point of a key. */
    static TestPoint point(RunState state, PointKey key) {
        return state.stepInScope(key.step())
                .point(key.point())
                .orElseThrow(
                        () -> new Refusal("unknown-point", "This step has no point \"" + key.point() + "\".", "point"));
    }
}
