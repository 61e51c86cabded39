package org.juratest.core.share;

import ai.timefold.solver.core.api.domain.entity.PlanningEntity;
import ai.timefold.solver.core.api.domain.lookup.PlanningId;
import ai.timefold.solver.core.api.domain.valuerange.ValueRangeProvider;
import ai.timefold.solver.core.api.domain.variable.PlanningVariable;
import java.util.BitSet;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** A job that the solver puts on somebody's day; public for the solver only. */
@PlanningEntity(comparatorClass = Placing.Harder.class)
public final class Placing {

    @PlanningId
    private int job;

    private int site;

    private List<Slot> possible = List.of();

    private BitSet admitted = new BitSet();

    /** How much it weighs that it is placed. */
    private long weight;

    @PlanningVariable(allowsUnassigned = true, valueRangeProviderRefs = "possible")
    private @Nullable Slot at;

    /** Somebody's day. */
    public record Slot(int index) {}

    /** Those with few days go before all others. */
    private static final int FEW = 40;

    /** Site by site, the farthest first: what comes next finds the day of what went before. */
    public static final class Harder implements java.util.Comparator<Placing> {
        @Override
        public int compare(Placing a, Placing b) {
            return java.util.Comparator.comparing((Placing p) -> p.possible.size() <= FEW)
                    .thenComparing(Placing::site)
                    .thenComparing(Placing::order, java.util.Comparator.reverseOrder())
                    .thenComparing(Placing::job, java.util.Comparator.reverseOrder())
                    .compare(a, b);
        }
    }

    /** For the solver. */
    public Placing() {}

    Placing(int job, int site, List<Slot> possible, long weight, @Nullable Slot at) {
        this.job = job;
        this.site = site;
        this.possible = possible;
        possible.forEach(s -> admitted.set(s.index));
        this.weight = weight;
        this.at = at;
    }

    int job() {
        return job;
    }

    private int order() {
        return possible.isEmpty() ? 0 : possible.get(possible.size() - 1).index;
    }

    int site() {
        return site;
    }

    boolean admits(Slot slot) {
        return admitted.get(slot.index);
    }

    @ValueRangeProvider(id = "possible")
    public List<Slot> getPossible() {
        return possible;
    }

    public @Nullable Slot getAt() {
        return at;
    }

    public void setAt(@Nullable Slot at) {
        this.at = at;
    }

    long weight() {
        return weight;
    }
}
