package org.juratest.core.plan;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;

/**
 * What is due on one asset from today on, over all plans that apply to it.
 *
 * @param coverage which procedures contain which
 * @param today day at the site
 * @param until last due date that is looked ahead to
 */
public record Forecast(Coverage coverage, LocalDate today, LocalDate until) {

    /** More than a plan can be due in any horizon, daily over ten years: whatever runs longer does not move on. */
    private static final int MOST = 4000;

    /**
     * A plan as it applies to the asset.
     *
     * @param starts first day on which it asks for anything: what fell due before is nobody's omission
     */
    public record Applied(long plan, String procedure, Timing timing, LocalDate starts) {}

    /**
     * What is known of the asset.
     *
     * @param done days on which procedures were done, by code
     * @param missed due dates that went by, by plan
     */
    public record Past(
            Map<String, List<LocalDate>> done,
            Map<Long, List<LocalDate>> missed,
            Counter counter,
            List<Happening> happened) {}

    /**
     * What comes of one plan.
     *
     * @param missed what went by undone: its window is closed, and that of the next is open
     * @param open what is to be done, first due first
     */
    public record Due(long plan, List<Occurrence> missed, List<Occurrence> open) {}

    /**
     * Looks ahead. What is open is taken as done on its day, or today where that is past, to tell what follows it.
     * Extra tests come first, then longer procedures before those they contain, so that what they cover is left out.
     *
     * @param plans at most one of a procedure and occasion
     */
    public List<Due> of(List<Applied> plans, Past past) {
        Map<String, TreeSet<LocalDate>> assumed = new HashMap<>();
        List<Due> all = new ArrayList<>();
        List<Applied> order = new ArrayList<>(plans);
        order.sort(Comparator.comparing((Applied p) -> p.timing instanceof Recurrence)
                .thenComparing(p -> -coverage.within(p.procedure).size())
                .thenComparing(Applied::plan));
        for (Applied plan : order) {
            List<LocalDate> done = coverage.done(plan.procedure, past.done);
            TreeSet<LocalDate> covering = new TreeSet<>();
            assumed.forEach((code, days) -> {
                if (code.equals(plan.procedure) || coverage.within(code).contains(plan.procedure)) {
                    covering.addAll(days);
                }
            });
            Due due = plan.timing instanceof Recurrence recurrence
                    ? again(plan, recurrence, done, past, covering)
                    : once(plan, (Once) plan.timing, done, past, covering);
            due.open.forEach(o -> assumed.computeIfAbsent(plan.procedure, c -> new TreeSet<>())
                    .add(assumed(o)));
            all.add(due);
        }
        return all;
    }

    private LocalDate assumed(Occurrence open) {
        return open.due().isBefore(today) ? today : open.due();
    }

    private Due once(Applied plan, Once once, List<LocalDate> done, Past past, TreeSet<LocalDate> covering) {
        Occurrence due = once.due(
                past.happened.stream()
                        .filter(h -> !h.day().isBefore(plan.starts))
                        .toList(),
                done);
        boolean covered =
                due == null || due.due().isAfter(until) || covering.stream().anyMatch(due::holds);
        return new Due(plan.plan, List.of(), due == null || covered ? List.of() : List.of(due));
    }

    private Due again(
            Applied plan, Recurrence recurrence, List<LocalDate> doneSoFar, Past past, TreeSet<LocalDate> covering) {
        TreeSet<LocalDate> done = new TreeSet<>(doneSoFar);
        done.addAll(past.missed.getOrDefault(plan.plan, List.of()));
        List<Occurrence> missed = new ArrayList<>();
        List<Occurrence> open = new ArrayList<>();
        for (int i = 0; i < MOST; i++) {
            Occurrence next = recurrence.next(List.copyOf(done), past.counter);
            if (next == null || next.due().isAfter(until)) {
                break;
            }
            LocalDate cover = covering.isEmpty() ? null : covering.first();
            if (cover != null && !cover.isAfter(next.closes())) {
                done.add(covering.pollFirst());
            } else if (next.closes().isBefore(plan.starts)) {
                if (recurrence.counting() == Recurrence.Counting.DUE) {
                    done.add(next.due());
                } else {
                    open.add(new Occurrence(plan.starts, plan.starts, plan.starts.plus(recurrence.after())));
                    done.add(assumed(open.get(open.size() - 1)));
                }
            } else if (recurrence.counting() == Recurrence.Counting.DUE
                    && open.isEmpty()
                    && lapsed(recurrence, done, next, past.counter)) {
                missed.add(next);
                done.add(next.due());
            } else {
                open.add(next);
                LocalDate last = done.isEmpty() ? null : done.last();
                LocalDate on = assumed(next);
                // Done today although something of it is assumed later: it moves on by its own date.
                done.add(last != null && !on.isAfter(last) ? last.plusDays(1) : on);
            }
        }
        return new Due(plan.plan, missed, open);
    }

    /** Over, and the next of it may be done by now: nothing is due twice, so the older one is given up. */
    private boolean lapsed(Recurrence recurrence, TreeSet<LocalDate> done, Occurrence next, Counter counter) {
        if (!next.closes().isBefore(today)) {
            return false;
        }
        TreeSet<LocalDate> after = new TreeSet<>(done);
        after.add(next.due());
        Occurrence following = recurrence.next(List.copyOf(after), counter);
        return following != null && !following.opens().isAfter(today);
    }
}
