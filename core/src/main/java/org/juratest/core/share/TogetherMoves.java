package org.juratest.core.share;

import ai.timefold.solver.core.api.score.director.ScoreDirector;
import ai.timefold.solver.core.impl.heuristic.move.AbstractMove;
import ai.timefold.solver.core.impl.heuristic.selector.move.factory.MoveIteratorFactory;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Iterator;
import java.util.List;
import java.util.Random;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * Moves that a solver does not find job by job, as only the last of them saves the way: all jobs of a stop go to
 * another day, a job joins others of its site, two stops or two days change about. Public for the solver only.
 */
public final class TogetherMoves implements MoveIteratorFactory<Sharing, TogetherMoves.Together> {

    private static final int TRIES = 20;

    private List<Placing> all = List.of();
    private List<List<Placing>> bySite = List.of();

    @Override
    public void phaseStarted(ScoreDirector<Sharing> director) {
        all = List.copyOf(director.getWorkingSolution().placings());
        int sites = all.stream().mapToInt(Placing::site).max().orElse(-1) + 1;
        bySite = IntStream.range(0, sites)
                .mapToObj(site -> all.stream().filter(p -> p.site() == site).toList())
                .toList();
    }

    @Override
    public long getSize(ScoreDirector<Sharing> director) {
        return all.size();
    }

    @Override
    public Iterator<Together> createOriginalMoveIterator(ScoreDirector<Sharing> director) {
        return Collections.emptyIterator();
    }

    @Override
    public Iterator<Together> createRandomMoveIterator(ScoreDirector<Sharing> director, Random random) {
        return new Iterator<>() {
            @Override
            public boolean hasNext() {
                return !all.isEmpty();
            }

            @Override
            public Together next() {
                return any(random);
            }
        };
    }

    private Together any(Random random) {
        Placing one = all.get(random.nextInt(all.size()));
        Placing.Slot from = one.getAt();
        int kind = random.nextInt(20);
        if (kind == 0 && from != null) {
            Placing.Slot to =
                    one.getPossible().get(random.nextInt(one.getPossible().size()));
            // Change about: the other day has no room for both.
            return new Together(day(from), to, day(to), from);
        }
        if (kind < 8 || from == null) {
            Placing.Slot to = joined(one, random);
            return new Together(kind < 4 || from == null ? List.of(one) : stop(one), to, List.of(), null);
        }
        if (kind < 14) {
            return new Together(
                    stop(one),
                    one.getPossible().get(random.nextInt(one.getPossible().size())),
                    List.of(),
                    null);
        }
        Placing other = all.get(random.nextInt(all.size()));
        return other.getAt() == null
                ? new Together(List.of(), null, List.of(), null)
                : new Together(stop(one), other.getAt(), stop(other), from);
    }

    /** The day of some other job of the site that would do, too. */
    private Placing.@Nullable Slot joined(Placing one, Random random) {
        List<Placing> others = bySite.get(one.site());
        for (int n = 0; n < TRIES; n++) {
            Placing.Slot at = others.get(random.nextInt(others.size())).getAt();
            if (at != null && at != one.getAt() && one.admits(at)) {
                return at;
            }
        }
        return null;
    }

    /** All jobs of a day. */
    private List<Placing> day(Placing.Slot slot) {
        List<Placing> day = new ArrayList<>();
        for (Placing other : all) {
            if (other.getAt() == slot) {
                day.add(other);
            }
        }
        return day;
    }

    /** All jobs of a day at the site of one of them. */
    private List<Placing> stop(Placing one) {
        List<Placing> stop = new ArrayList<>();
        for (Placing other : bySite.get(one.site())) {
            if (other.getAt() == one.getAt()) {
                stop.add(other);
            }
        }
        return stop;
    }

    /** Some jobs that go to one day, and others that go to another. */
    public static final class Together extends AbstractMove<Sharing> {

        private final List<Placing> first;
        private final List<Placing> second;
        private final Placing.@Nullable Slot firstTo;
        private final Placing.@Nullable Slot secondTo;

        /** What a day does not admit stays where it is. */
        Together(
                List<Placing> first,
                Placing.@Nullable Slot firstTo,
                List<Placing> second,
                Placing.@Nullable Slot secondTo) {
            this.firstTo = firstTo;
            this.secondTo = secondTo;
            this.first = those(first, firstTo);
            this.second = those(second, secondTo);
        }

        private static List<Placing> those(List<Placing> all, Placing.@Nullable Slot to) {
            return to == null
                    ? List.of()
                    : all.stream().filter(p -> p.getAt() != to && p.admits(to)).toList();
        }

        @Override
        public boolean isMoveDoable(ScoreDirector<Sharing> director) {
            return !first.isEmpty() || !second.isEmpty();
        }

        @Override
        protected void doMoveOnGenuineVariables(ScoreDirector<Sharing> director) {
            first.forEach(p -> to(director, p, firstTo));
            second.forEach(p -> to(director, p, secondTo));
        }

        private static void to(ScoreDirector<Sharing> director, Placing placing, Placing.@Nullable Slot slot) {
            director.beforeVariableChanged(placing, "at");
            placing.setAt(slot);
            director.afterVariableChanged(placing, "at");
        }

        @Override
        public List<Object> getPlanningEntities() {
            List<Object> all = new ArrayList<>(first);
            all.addAll(second);
            return all;
        }

        @Override
        public List<Object> getPlanningValues() {
            List<Object> all = new ArrayList<>();
            if (firstTo != null) {
                all.add(firstTo);
            }
            if (secondTo != null) {
                all.add(secondTo);
            }
            return all;
        }
    }
}
