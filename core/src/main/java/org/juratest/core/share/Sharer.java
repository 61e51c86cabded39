package org.juratest.core.share;

import ai.timefold.solver.core.api.solver.Solver;
import ai.timefold.solver.core.api.solver.SolverFactory;
import ai.timefold.solver.core.config.constructionheuristic.ConstructionHeuristicPhaseConfig;
import ai.timefold.solver.core.config.constructionheuristic.ConstructionHeuristicType;
import ai.timefold.solver.core.config.heuristic.selector.move.composite.UnionMoveSelectorConfig;
import ai.timefold.solver.core.config.heuristic.selector.move.factory.MoveIteratorFactoryConfig;
import ai.timefold.solver.core.config.heuristic.selector.move.generic.ChangeMoveSelectorConfig;
import ai.timefold.solver.core.config.heuristic.selector.move.generic.SwapMoveSelectorConfig;
import ai.timefold.solver.core.config.localsearch.LocalSearchPhaseConfig;
import ai.timefold.solver.core.config.localsearch.decider.acceptor.LocalSearchAcceptorConfig;
import ai.timefold.solver.core.config.localsearch.decider.forager.LocalSearchForagerConfig;
import ai.timefold.solver.core.config.solver.EnvironmentMode;
import ai.timefold.solver.core.config.solver.SolverConfig;
import ai.timefold.solver.core.config.solver.termination.TerminationConfig;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/** Shares jobs out once: a general constraint solver looks for a way that breaks no rule and travels little. */
public final class Sharer {

    /** What may get worse at first: ten minutes on the way, and nothing else. */
    private static final String WARM = "0hard/0medium/100soft";

    private final ShareProblem problem;
    private final Limits limits;
    private final AtomicBoolean stopped = new AtomicBoolean();
    private volatile @Nullable Solver<Sharing> solver;
    private volatile List<Placing> best = List.of();

    /**
     * When it ends.
     *
     * @param most time it takes
     * @param still time without anything better after which it is good enough
     * @param moves looked at, at most; absent for any number: for results that do not depend on the machine's pace
     */
    public record Limits(Duration most, Duration still, @Nullable Long moves) {

        /** Enough for so many jobs on two cores, and for any number less than half a minute. */
        public static Limits of(int jobs) {
            return new Limits(Duration.ofSeconds(Math.min(24, 4 + jobs / 30)), Duration.ofSeconds(5), null);
        }
    }

    /**
     * How far it is.
     *
     * @param placed jobs that are asked for and have a day
     * @param of jobs that are asked for
     * @param travel minutes of everybody
     */
    public record Progress(int placed, int of, int travel) {}

    public Sharer(ShareProblem problem, Limits limits) {
        this.problem = problem;
        this.limits = limits;
    }

    /** Ends it with the best so far; before it began, with what is fixed. */
    public void stop() {
        stopped.set(true);
        Solver<Sharing> running = solver;
        if (running != null) {
            running.terminateEarly();
        }
    }

    /**
     * Looks for the best way; takes as long as its limits say, or until it is stopped from another thread.
     *
     * @param news called whenever something better was found
     */
    public Share share(Runnable news) {
        Board empty = new Board(problem);
        List<Placing> placings = new ArrayList<>();
        Placing.Slot[] slots = IntStream.range(0, problem.people().size() * problem.days())
                .mapToObj(Placing.Slot::new)
                .toArray(Placing.Slot[]::new);
        for (int i = 0; i < problem.jobs().size(); i++) {
            ShareProblem.Job job = problem.jobs().get(i);
            List<Placing.Slot> possible = job.fixed()
                    ? List.of()
                    : empty.possible(i).stream().map(s -> slots[s]).toList();
            if (!possible.isEmpty()) {
                placings.add(new Placing(i, empty.site(i), possible, ShareScore.weight(problem, job), null));
            }
        }
        List<Placing> solved = placings.isEmpty() || stopped.get() ? placings : solved(placings, news);
        return new Explained(problem, solved).share();
    }

    private List<Placing> solved(List<Placing> placings, Runnable news) {
        TerminationConfig termination =
                new TerminationConfig().withSpentLimit(limits.most()).withUnimprovedSpentLimit(limits.still());
        Long moves = limits.moves();
        if (moves != null) {
            termination.withMoveCountLimit(moves);
        }
        Solver<Sharing> running = SolverFactory.<Sharing>create(new SolverConfig()
                        .withSolutionClass(Sharing.class)
                        .withEntityClasses(Placing.class)
                        .withScoreDirectorFactory(
                                new ai.timefold.solver.core.config.score.director.ScoreDirectorFactoryConfig()
                                        .withIncrementalScoreCalculatorClass(ShareScore.class))
                        .withEnvironmentMode(EnvironmentMode.NO_ASSERT)
                        .withTerminationConfig(termination)
                        .withPhases(
                                new ConstructionHeuristicPhaseConfig()
                                        .withConstructionHeuristicType(ConstructionHeuristicType.FIRST_FIT_DECREASING),
                                new LocalSearchPhaseConfig()
                                        .withAcceptorConfig(new LocalSearchAcceptorConfig()
                                                .withSimulatedAnnealingStartingTemperature(WARM))
                                        .withForagerConfig(new LocalSearchForagerConfig().withAcceptedCountLimit(1))
                                        .withMoveSelectorConfig(new UnionMoveSelectorConfig(List.of(
                                                new ChangeMoveSelectorConfig().withFixedProbabilityWeight(4.0),
                                                new SwapMoveSelectorConfig().withFixedProbabilityWeight(3.0),
                                                new MoveIteratorFactoryConfig()
                                                        .withMoveIteratorFactoryClass(TogetherMoves.class)
                                                        .withFixedProbabilityWeight(3.0))))))
                .buildSolver();
        running.addEventListener(event -> {
            best = event.getNewBestSolution().placings();
            news.run();
        });
        solver = running;
        if (stopped.get()) {
            return placings;
        }
        return running.solve(new Sharing(problem, placings)).placings();
    }

    /** How far it is; may be asked from any thread. */
    public Progress progress() {
        Board board = new Board(problem);
        List<Placing> placed = best.stream().filter(p -> p.getAt() != null).toList();
        placed.forEach(p -> board.add(p.job(), Objects.requireNonNull(p.getAt()).index()));
        int all = (int) problem.jobs().stream()
                .filter(j -> !j.fixed() && (j.now() != null || ShareScore.weight(problem, j) > 0))
                .count();
        int known = (int) placed.stream()
                .map(p -> problem.jobs().get(p.job()))
                .filter(j -> j.now() != null || ShareScore.weight(problem, j) > 0)
                .count();
        return new Progress(known, all, (int) Math.round(board.travelled() / 10.0));
    }
}
