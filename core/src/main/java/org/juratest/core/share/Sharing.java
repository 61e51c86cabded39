package org.juratest.core.share;

import ai.timefold.solver.core.api.domain.solution.PlanningEntityCollectionProperty;
import ai.timefold.solver.core.api.domain.solution.PlanningScore;
import ai.timefold.solver.core.api.domain.solution.PlanningSolution;
import ai.timefold.solver.core.api.score.buildin.hardmediumsoftlong.HardMediumSoftLongScore;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** What the solver works on; public for the solver only. */
@PlanningSolution
public final class Sharing {

    private @Nullable ShareProblem problem;

    @PlanningEntityCollectionProperty
    private List<Placing> placings = List.of();

    @PlanningScore
    private @Nullable HardMediumSoftLongScore score;

    /** For the solver. */
    public Sharing() {}

    Sharing(ShareProblem problem, List<Placing> placings) {
        this.problem = problem;
        this.placings = placings;
    }

    ShareProblem problem() {
        return java.util.Objects.requireNonNull(problem);
    }

    List<Placing> placings() {
        return placings;
    }
}
