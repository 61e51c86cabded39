package org.juratest.core.share;

import java.util.ArrayList;
import java.util.List;

/**
 * The plain way to fill days, as a measure of others: day after day each person goes to the nearest job that may be
 * done, the longest due first where several are as near, until no more fits.
 */
public final class NearestFirst {

    private NearestFirst() {}

    /** The jobs shared out so, with what everybody travels. */
    public static Share share(ShareProblem problem) {
        Board board = new Board(problem);
        int people = problem.people().size();
        List<List<Integer>> possible = new ArrayList<>();
        for (int i = 0; i < problem.jobs().size(); i++) {
            possible.add(problem.jobs().get(i).fixed() ? List.of() : board.possible(i));
        }
        List<Placing> placings = new ArrayList<>();
        boolean[] gone = new boolean[problem.jobs().size()];
        for (int day = 0; day < problem.days(); day++) {
            for (int person = 0; person < people; person++) {
                fill(problem, board, board.slot(person, day), possible, gone, placings);
            }
        }
        for (int i = 0; i < gone.length; i++) {
            if (!gone[i] && !problem.jobs().get(i).fixed()) {
                placings.add(new Placing(
                        i,
                        board.site(i),
                        List.of(),
                        ShareScore.weight(problem, problem.jobs().get(i)),
                        null));
            }
        }
        return new Explained(problem, placings).share();
    }

    private static void fill(
            ShareProblem problem,
            Board board,
            int slot,
            List<List<Integer>> possible,
            boolean[] gone,
            List<Placing> placings) {
        double km = problem.line().baseKm();
        while (true) {
            int next = -1;
            double least = Double.POSITIVE_INFINITY;
            for (int i = 0; i < gone.length; i++) {
                ShareProblem.Job job = problem.jobs().get(i);
                if (gone[i]
                        || ShareScore.weight(problem, job) == 0
                        || !possible.get(i).contains(slot)
                        || !board.fits(i, slot)) {
                    continue;
                }
                double leg =
                        problem.line().leg(km, board.sites.get(board.site(i)).km());
                if (leg < least
                        || leg == least
                                && job.due().isBefore(problem.jobs().get(next).due())) {
                    least = leg;
                    next = i;
                }
            }
            if (next < 0) {
                return;
            }
            board.add(next, slot);
            gone[next] = true;
            km = board.sites.get(board.site(next)).km();
            placings.add(new Placing(
                    next,
                    board.site(next),
                    List.of(),
                    ShareScore.weight(problem, problem.jobs().get(next)),
                    new Placing.Slot(slot)));
        }
    }
}
