package org.juratest.core.run;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Judgement;
import org.juratest.core.limit.ResolvedLimit;
import org.juratest.core.limit.Verdict;
import org.juratest.core.procedure.Lane;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Step;

/**
 * What a run came to: the worst of its required points. A required point that is skipped or not judged makes the run
 * incomplete; an incomplete run is never passed.
 *
 * @param verdict worst of the required points in scope; not judged if there are none
 * @param complete every required point in scope has a verdict
 * @param firstFailed label of the first point that failed as found; absent if none did
 * @param points points in scope, in the order of the work
 * @param notTested what the scope leaves out, in words
 * @param provedOnce shared steps that one lane proves for the others, in words; absent where there are none
 */
public record RunJudgement(
        Verdict verdict,
        boolean complete,
        @Nullable String firstFailed,
        List<PointJudgement> points,
        List<String> notTested,
        @Nullable List<String> provedOnce) {

    public RunJudgement {
        points = List.copyOf(points);
        notTested = List.copyOf(notTested);
        provedOnce = provedOnce == null || provedOnce.isEmpty() ? null : List.copyOf(provedOnce);
    }

    public RunJudgement(
            Verdict verdict,
            boolean complete,
            @Nullable String firstFailed,
            List<PointJudgement> points,
            List<String> notTested) {
        this(verdict, complete, firstFailed, points, notTested, null);
    }

    /** The judgement of a run as it stands. */
    public static RunJudgement of(RunState state) {
        PointJudge judge = new PointJudge(state);
        List<PointJudgement> points = new ArrayList<>();
        for (PointKey key : state.keys()) {
            points.add(judge.judge(key));
        }
        List<PointJudgement> required =
                points.stream().filter(PointJudgement::required).toList();
        Verdict worst = required.isEmpty() ? Verdict.NOT_JUDGED : Verdict.PASS;
        for (PointJudgement point : required) {
            worst = worst.worse(point.verdict());
        }
        boolean complete = required.stream().noneMatch(p -> p.verdict() == Verdict.NOT_JUDGED);
        String firstFailed = points.stream()
                .filter(p -> p.asFound() != null && p.asFound().verdict() == Verdict.FAIL)
                .map(PointJudgement::label)
                .findFirst()
                .orElse(null);
        return new RunJudgement(
                worst, complete && !required.isEmpty(), firstFailed, points, notTested(state), provedOnce(state));
    }

    private static List<String> provedOnce(RunState state) {
        List<String> words = new ArrayList<>();
        for (Step step : state.stepsInScope()) {
            for (String lane : state.procedure().provedElsewhere(step, state.scope())) {
                words.add(step.title() + ", " + state.procedure().laneName(step, lane) + ": proved on "
                        + state.procedure()
                                .laneName(
                                        step,
                                        state.procedure()
                                                .lanesOf(step, state.scope())
                                                .get(0)));
            }
        }
        return words;
    }

    /**
     * One reading of one attempt with its own verdict, also where the attempt does not count.
     *
     * @param limit absent while it waits
     */
    public record JudgedReading(Attempt attempt, Reading reading, Judgement judgement, @Nullable ResolvedLimit limit) {}

    /** Every reading of a run by itself, in the order they were taken. */
    public static List<JudgedReading> readings(RunState state) {
        PointJudge judge = new PointJudge(state);
        return state.attempts().stream()
                .flatMap(a -> a.readings().stream().map(r -> judge.alone(a, r)))
                .toList();
    }

    /** Whether any point counts what an attempt measured. */
    public boolean counts(Attempt attempt) {
        return points.stream()
                .anyMatch(p ->
                        p.counting() != null && attempt.id().equals(p.counting().attempt()));
    }

    /** Whether a reading is what its point counts. */
    public boolean counts(JudgedReading reading) {
        return points.stream()
                .filter(p -> p.key().equals(reading.reading().key()))
                .anyMatch(p -> p.counting() != null
                        && reading.attempt().id().equals(p.counting().attempt()));
    }

    /** Whether the run passes as left. */
    public boolean passed() {
        return complete && verdict.passes();
    }

    /** Lanes side by side from which on they are told by the first and the last. */
    private static final int MANY = 4;

    private static List<String> notTested(RunState state) {
        List<String> words = new ArrayList<>();
        for (Step step : state.procedure().steps()) {
            if (!state.scope().step(step.id())) {
                if (!step.beginsWithout()) {
                    words.add(step.title());
                }
            } else if (step.lanes() != null) {
                leftOut(state, step, words);
            }
        }
        return words;
    }

    /** Lanes that a scope leaves out; where many stand side by side, the first and the last of them. */
    private static void leftOut(RunState state, Step step, List<String> words) {
        List<String> side = new ArrayList<>();
        List<Lane> lanes = state.procedure().laneSets().get(step.lanes()).lanes();
        for (int i = 0; i <= lanes.size(); i++) {
            if (i < lanes.size()
                    && !lanes.get(i).beginsWithout()
                    && !(state.scope().lane(step.lanes(), lanes.get(i).id())
                            && state.scope().pair(step.id(), lanes.get(i).id()))) {
                side.add(state.procedure().laneName(step, lanes.get(i).id()));
                continue;
            }
            if (side.size() >= MANY) {
                words.add(step.title() + ", " + side.get(0) + " to " + side.get(side.size() - 1));
            } else {
                side.forEach(name -> words.add(step.title() + ", " + name));
            }
            side.clear();
        }
    }
}
