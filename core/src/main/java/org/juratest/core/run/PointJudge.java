package org.juratest.core.run;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import org.hipparchus.stat.descriptive.StreamingStatistics;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Judge;
import org.juratest.core.limit.Judgement;
import org.juratest.core.limit.LimitSpec;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.limit.ResolvedLimit;
import org.juratest.core.limit.Scale;
import org.juratest.core.limit.Verdict;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Step;
import org.juratest.core.procedure.StepKind;
import org.juratest.core.procedure.TestPoint;
import org.juratest.core.uncertainty.Uncertainty;
import org.juratest.core.uncertainty.UncertaintyBudget;

/**
 * Judges the points of one state. Valid attempts fall into groups by the adjustments before them: the first attempt of
 * all is as found, the last group that has any counts. Repeats within a group count together, as their mean or the
 * worst; a fail followed by a pass with nothing done between is not judged until reviewed.
 */
final class PointJudge {

    private final RunState state;

    PointJudge(RunState state) {
        this.state = state;
    }

    /**
     * A reading, or the mean of several, with its verdict.
     *
     * @param value absent where there is none
     * @param standard standard uncertainty; absent where unknown
     * @param freedom effective degrees of freedom of it
     */
    private record Judged(
            @Nullable Double value,
            Qualifier qualifier,
            @Nullable Double uncertainty,
            @Nullable Double standard,
            double freedom,
            Attempt attempt,
            Judgement judgement,
            @Nullable ResolvedLimit limit,
            int count) {

        PointJudgement.Value asValue() {
            return new PointJudgement.Value(value, qualifier, uncertainty, judgement.verdict(), attempt.id(), count);
        }
    }

    /** The value that counts of a point; empty where it has no reading. */
    Optional<PointJudgement.Value> counting(PointKey key) {
        return counted(key).map(Judged::asValue);
    }

    /** Standard uncertainty of the value that counts; null where it is not known, or there is none. */
    @Nullable
    Double standard(PointKey key) {
        return counted(key).map(Judged::standard).orElse(null);
    }

    /** Effective degrees of freedom of the value that counts. */
    double freedom(PointKey key) {
        return counted(key).map(Judged::freedom).orElse(Double.POSITIVE_INFINITY);
    }

    private Optional<Judged> counted(PointKey key) {
        Step step = state.procedure().step(key.step()).orElse(null);
        TestPoint point = step == null ? null : step.point(key.point()).orElse(null);
        if (step == null || point == null || step.kind() == StepKind.INSPECTION) {
            return Optional.empty();
        }
        List<List<Judged>> groups = groups(key, step, point);
        return groups.isEmpty() ? Optional.empty() : Optional.of(counting(step, point, groups.get(groups.size() - 1)));
    }

    PointJudgement judge(PointKey key) {
        Step step = state.procedure().step(key.step()).orElseThrow();
        TestPoint point = step.point(key.point()).orElseThrow();
        String lane = state.procedure().laneName(step, key.lane());
        String named = Rows.named(state, key, point.label());
        String label = lane.isEmpty() ? named : named + ", " + lane;
        return step.kind() == StepKind.INSPECTION ? answered(key, point, label) : measured(key, step, point, label);
    }

    private PointJudgement answered(PointKey key, TestPoint point, String label) {
        StepEvents.AnswerGiven answer = state.answers().get(key);
        if (answer == null) {
            return result(key, point, label, null, null, null, Verdict.NOT_JUDGED, null, openReason(key), null, false);
        }
        Verdict verdict =
                switch (answer.answer()) {
                    case IN_ORDER -> Verdict.PASS;
                    case DEFECT -> Verdict.MARGINAL_INSIDE;
                    case NOT_IN_ORDER -> Verdict.FAIL;
                };
        PointJudgement.Value value = new PointJudgement.Value(null, Qualifier.EQUAL, null, verdict, null, 1);
        return result(key, point, label, value, null, value, verdict, null, answer.words(), null, false);
    }

    private PointJudgement measured(PointKey key, Step step, TestPoint point, String label) {
        List<List<Judged>> groups = groups(key, step, point);
        if (groups.isEmpty()) {
            return result(
                    key,
                    point,
                    label,
                    null,
                    null,
                    null,
                    Verdict.NOT_JUDGED,
                    null,
                    openReason(key),
                    state.limits().get(key),
                    false);
        }
        Judged asFound = groups.get(0).get(0);
        List<Judged> last = groups.get(groups.size() - 1);
        Judged counting = counting(step, point, last);
        boolean adjusted = groups.size() > 1;
        Verdict verdict = counting.judgement.verdict();
        String why = counting.judgement.why();
        if (!standsForItself(step) && failThenPass(last)) {
            verdict = Verdict.NOT_JUDGED;
            why = "a fail was followed by a pass with nothing adjusted and nothing voided; it waits for review";
        }
        PointJudgement.Value left = adjusted ? counting.asValue() : null;
        return result(
                key,
                point,
                label,
                asFound.asValue(),
                left,
                counting.asValue(),
                verdict,
                counting.judgement.marginUsed(),
                why,
                counting.limit,
                counting.judgement.tooCoarse());
    }

    private PointJudgement result(
            PointKey key,
            TestPoint point,
            String label,
            PointJudgement.@Nullable Value found,
            PointJudgement.@Nullable Value left,
            PointJudgement.@Nullable Value counting,
            Verdict verdict,
            @Nullable Double margin,
            @Nullable String why,
            @Nullable ResolvedLimit limit,
            boolean tooCoarse) {
        boolean required = point.required()
                && state.procedure().step(key.step()).orElseThrow().required();
        return new PointJudgement(
                key,
                label,
                point.unit(),
                point.scale(),
                point.series(),
                required,
                found,
                left,
                counting,
                verdict,
                margin,
                why,
                limit,
                tooCoarse);
    }

    private @Nullable String openReason(PointKey key) {
        String skipped = state.skipped().get(key.step());
        if (skipped != null) {
            return "skipped: " + skipped;
        }
        String failed = Derivation.of(state, key).map(d -> d.why()).orElse(null);
        return failed == null ? "still to do" : failed;
    }

    /** Judged valid readings of a point, by the adjustments before them; groups without a reading are left out. */
    private List<List<Judged>> groups(PointKey key, Step step, TestPoint point) {
        List<List<Judged>> groups = new ArrayList<>();
        long lastGroup = -1;
        boolean alone = standsForItself(step);
        for (Attempt attempt : state.attempts(key.step(), key.lane())) {
            Reading reading = attempt.counts() ? attempt.reading(key).orElse(null) : null;
            AttemptEvents.NoValue blank = attempt.counts() ? attempt.blank(key).orElse(null) : null;
            if (reading == null && blank == null) {
                continue;
            }
            long group = alone
                    ? groups.size()
                    : state.adjustments().stream()
                            .filter(a ->
                                    a.at() < attempt.begunAt() && a.points().contains(key))
                            .count();
            if (group != lastGroup || groups.isEmpty()) {
                groups.add(new ArrayList<>());
                lastGroup = group;
            }
            groups.get(groups.size() - 1)
                    .add(reading == null ? none(key, point, attempt, blank) : judged(key, point, attempt, reading));
        }
        return groups;
    }

    /** A derivation follows its inputs, a reference takes the place of the one before: each new value is by itself. */
    private static boolean standsForItself(Step step) {
        return step.kind() == StepKind.DERIVATION || step.kind() == StepKind.REFERENCE;
    }

    /**
     * Nothing there where the connection is good is a fail; how far over the range it is nobody knows; and what could
     * not be measured is no fault of the device.
     */
    private Judged none(PointKey key, TestPoint point, Attempt attempt, AttemptEvents.@Nullable NoValue blank) {
        AttemptEvents.Blank kind = blank == null ? AttemptEvents.Blank.NOTHING_THERE : blank.blank();
        String words = blank == null ? "" : ": " + blank.words();
        Judgement judgement = point.limit() == null && state.limitSpec(key) == null
                ? notJudged("recorded only")
                : switch (kind) {
                    case NOTHING_THERE -> new Judgement(Verdict.FAIL, null, "no value" + words, false);
                    case OVER_RANGE -> notJudged("over range" + words);
                    case NOT_MEASURABLE -> notJudged("not measurable" + words);
                };
        return new Judged(
                null,
                Qualifier.EQUAL,
                null,
                null,
                Double.POSITIVE_INFINITY,
                attempt,
                judgement,
                state.limits().get(key),
                1);
    }

    /** One reading by itself. */
    RunJudgement.JudgedReading alone(Attempt attempt, Reading reading) {
        Step step = state.procedure().step(reading.key().step()).orElseThrow();
        Judged judged = judged(reading.key(), step.point(reading.key().point()).orElseThrow(), attempt, reading);
        return new RunJudgement.JudgedReading(attempt, reading, judged.judgement, judged.limit);
    }

    private Judged judged(PointKey key, TestPoint point, Attempt attempt, Reading reading) {
        ResolvedLimit limit = limit(key, reading);
        Judgement judgement;
        if (isUncorrected(point, reading)) {
            judgement = notJudged(String.valueOf(reading.remark()));
        } else if (point.limit() == null && state.limitSpec(key) == null) {
            judgement = notJudged("recorded only");
        } else if (limit == null) {
            judgement = notJudged(Consequences.waitingFor(state, key));
        } else {
            judgement = Judge.judge(
                    reading.value(),
                    reading.qualifier(),
                    reading.uncertainty(),
                    limit,
                    state.procedure().rule(),
                    point.scale());
        }
        return new Judged(
                reading.value(),
                reading.qualifier(),
                reading.uncertainty(),
                reading.standard(),
                reading.degreesOfFreedom(),
                attempt,
                judgement,
                limit,
                1);
    }

    /** A correction that the procedure asks for could not be made. */
    private static boolean isUncorrected(TestPoint point, Reading reading) {
        return point.allCorrections().stream().anyMatch(c -> reading.corrections().stream()
                .noneMatch(made -> made.name().equals(c.name())));
    }

    private static Judgement notJudged(String why) {
        return new Judgement(Verdict.NOT_JUDGED, null, why, false);
    }

    private @Nullable ResolvedLimit limit(PointKey key, Reading reading) {
        LimitSpec spec = state.limitSpec(key);
        return spec != null && spec.when() == LimitSpec.When.READING
                ? reading.limit()
                : state.limits().get(key);
    }

    private Judged counting(Step step, TestPoint point, List<Judged> group) {
        Judged latest = group.get(group.size() - 1);
        if (group.size() == 1 || standsForItself(step)) {
            return latest;
        }
        boolean plain = group.stream().allMatch(j -> j.qualifier == Qualifier.EQUAL && j.value != null);
        if (step.repeats() == Step.Repeats.MEAN && plain) {
            return mean(point, group);
        }
        // Where no limit says which is the worst, the latest counts.
        Judged worst = group.stream()
                .filter(j -> j.judgement.marginUsed() != null || j.judgement.verdict() != Verdict.NOT_JUDGED)
                .max(Comparator.comparing((Judged j) -> j.judgement.verdict())
                        .thenComparing(j -> j.judgement.marginUsed() == null ? 0 : j.judgement.marginUsed()))
                .orElse(latest);
        return new Judged(
                worst.value,
                worst.qualifier,
                worst.uncertainty,
                worst.standard,
                worst.freedom,
                worst.attempt,
                worst.judgement,
                worst.limit,
                group.size());
    }

    /**
     * Mean (geometric on a logarithmic scale) with the type A uncertainty of the mean beside the gear's own, which is
     * the same for all repeats and does not average out. Where the gear's is unknown, that of the mean is.
     */
    private Judged mean(TestPoint point, List<Judged> group) {
        StreamingStatistics coordinates = new StreamingStatistics();
        group.forEach(j -> coordinates.addValue(point.scale().coordinate(Objects.requireNonNull(j.value))));
        double value = point.scale().value(coordinates.getMean());
        double deviation = point.scale() == Scale.LINEAR
                ? coordinates.getStandardDeviation()
                : value * Math.log(10) * coordinates.getStandardDeviation();
        UncertaintyBudget budget = new UncertaintyBudget().typeA(deviation, group.size());
        if (group.stream().anyMatch(j -> j.standard == null)) {
            budget.unknown();
        } else {
            group.stream()
                    .max(Comparator.comparingDouble(j -> Objects.requireNonNull(j.standard)))
                    .ifPresent(j -> budget.component(Objects.requireNonNull(j.standard), 1, j.freedom));
        }
        Uncertainty u = budget.isKnown() ? budget.expand() : null;
        Double expanded = u == null ? null : (Double) u.expanded();
        Judged last = group.get(group.size() - 1);
        ResolvedLimit limit = last.limit;
        Judgement judgement = limit == null
                ? last.judgement
                : Judge.judge(
                        value,
                        Qualifier.EQUAL,
                        expanded,
                        limit,
                        state.procedure().rule(),
                        point.scale());
        return new Judged(
                value,
                Qualifier.EQUAL,
                expanded,
                u == null ? null : (Double) u.standard(),
                u == null ? Double.POSITIVE_INFINITY : u.degreesOfFreedom(),
                last.attempt,
                judgement,
                limit,
                group.size());
    }

    private static boolean failThenPass(List<Judged> group) {
        boolean failed = false;
        for (Judged judged : group) {
            if (failed && judged.judgement.verdict().passes()) {
                return true;
            }
            failed |= judged.judgement.verdict() == Verdict.FAIL;
        }
        return false;
    }
}
