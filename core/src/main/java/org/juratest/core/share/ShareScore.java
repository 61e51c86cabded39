package org.juratest.core.share;

import ai.timefold.solver.core.api.score.buildin.hardmediumsoftlong.HardMediumSoftLongScore;
import ai.timefold.solver.core.api.score.calculator.IncrementalScoreCalculator;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * What a way to share out is worth to the solver; public for the solver only. Hard: rules broken. Medium: jobs that are
 * asked for and have no day. Soft, in tenths of a minute: travel, days late or early, unequal loads, jobs moved from
 * where they stand.
 */
public final class ShareScore implements IncrementalScoreCalculator<Sharing, HardMediumSoftLongScore> {

    /** A day later for what is over, and for what is past its due date: as much as so much travel, 0.1 min. */
    private static final long LATER = 40;

    private static final long LATE = 10;
    /** A day before its due date: a little of its interval is given away. */
    private static final long EARLY = 3;
    /** What is not asked for yet is placed where it costs less than this. */
    private static final long NOT_ASKED = 100;

    private static final long MOVED = 300;

    private @Nullable Board board;
    private long unplaced;
    private long cost;

    @Override
    public void resetWorkingSolution(Sharing sharing) {
        Board fresh = new Board(sharing.problem());
        board = fresh;
        unplaced = 0;
        cost = 0;
        sharing.placings().forEach(this::put);
    }

    @Override
    public void beforeEntityAdded(Object entity) {
        // Jobs neither come nor go while it is solved.
    }

    @Override
    public void afterEntityAdded(Object entity) {
        put((Placing) entity);
    }

    @Override
    public void beforeEntityRemoved(Object entity) {
        take((Placing) entity);
    }

    @Override
    public void afterEntityRemoved(Object entity) {
        // Taken before.
    }

    @Override
    public void beforeVariableChanged(Object entity, String variable) {
        take((Placing) entity);
    }

    @Override
    public void afterVariableChanged(Object entity, String variable) {
        put((Placing) entity);
    }

    @Override
    public HardMediumSoftLongScore calculateScore() {
        Board now = board();
        return HardMediumSoftLongScore.of(-now.broken(), -unplaced, -(now.travelled() + now.imbalance() + cost));
    }

    private Board board() {
        return Objects.requireNonNull(board, "nothing is solved yet");
    }

    private void put(Placing placing) {
        change(placing, 1);
    }

    private void take(Placing placing) {
        change(placing, -1);
    }

    private void change(Placing placing, int sign) {
        Placing.Slot at = placing.getAt();
        ShareProblem.Job job = board().problem.jobs().get(placing.job());
        if (at == null) {
            unplaced += sign * placing.weight();
            cost += sign * ((placing.weight() == 0 ? NOT_ASKED : 0) + (job.now() == null ? 0 : MOVED));
            return;
        }
        if (sign > 0) {
            board().add(placing.job(), at.index());
        } else {
            board().remove(placing.job(), at.index());
        }
        cost += sign * cost(board(), job, at.index());
    }

    /** What a day costs for a job, travel aside, in tenths of a minute. */
    static long cost(Board board, ShareProblem.Job job, int slot) {
        int day = board.day(slot);
        long late = java.time.temporal.ChronoUnit.DAYS.between(job.due(), board.problem.day(day));
        long when = job.over(board.problem.today()) ? day * LATER : late > 0 ? late * LATE : -late * EARLY;
        return when + (job.now() == null || job.now().equals(board.personDay(slot)) ? 0 : MOVED);
    }

    /** How much it weighs that a job is placed; 0 for one that may wait until after the last day. */
    static long weight(ShareProblem problem, ShareProblem.Job job) {
        if (job.over(problem.today())) {
            long over = java.time.temporal.ChronoUnit.DAYS.between(job.closes(), problem.today());
            return 1000 + Math.min(400, over * 10);
        }
        return job.closes().isAfter(problem.last()) ? job.due().isAfter(problem.last()) ? 0 : 200 : 500;
    }
}
