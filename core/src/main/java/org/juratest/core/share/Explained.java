package org.juratest.core.share;

import java.time.LocalDate;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.juratest.core.plan.Readiness;
import org.juratest.core.plan.Season;
import org.juratest.core.share.Share.Obstacle;
import org.juratest.core.share.Share.Reason;

/** Says of a way to share out why each job stands where it does, or nowhere. */
final class Explained {

    /** A season that ends within so many days is a reason. */
    private static final int SEASON_DAYS = 21;
    /** A due date within so many days is one. */
    private static final int DUE_DAYS = 7;

    private final ShareProblem problem;
    private final Board board;
    private final Map<Integer, Integer> slots = new TreeMap<>();

    Explained(ShareProblem problem, List<Placing> placings) {
        this.problem = problem;
        board = new Board(problem);
        placings.forEach(p -> {
            Placing.Slot at = p.getAt();
            if (at != null) {
                board.add(p.job(), at.index());
                slots.put(p.job(), at.index());
            }
        });
        kept();
    }

    /** Today's plan as it is, whatever it breaks. */
    static Share today(ShareProblem problem) {
        Board board = new Board(problem);
        List<Share.Placed> placed = new ArrayList<>();
        for (int i = 0; i < problem.jobs().size(); i++) {
            ShareProblem.Job job = problem.jobs().get(i);
            ShareProblem.PersonDay now = job.now();
            if (now != null && !job.fixed() && board.known(now)) {
                board.add(i, board.slot(now));
                placed.add(new Share.Placed(job, now, List.of(new Reason.Stays())));
            }
        }
        return new Share(placed, List.of(), (int) Math.round(board.travelled() / 10.0), (int) board.worked());
    }

    /** What was stopped half-way may break a rule still: what breaks it goes, the lightest first. */
    private void kept() {
        while (board.broken() > 0) {
            List<Integer> lightest = slots.keySet().stream()
                    .sorted(Comparator.comparing((Integer i) ->
                            ShareScore.weight(problem, problem.jobs().get(i))))
                    .toList();
            int goes = lightest.stream().filter(this::helps).findFirst().orElse(lightest.get(0));
            board.remove(goes, Objects.requireNonNull(slots.remove(goes)));
        }
    }

    private boolean helps(int job) {
        int slot = Objects.requireNonNull(slots.get(job));
        long before = board.broken();
        board.remove(job, slot);
        boolean helps = board.broken() < before;
        board.add(job, slot);
        return helps;
    }

    Share share() {
        List<Share.Placed> placed = new ArrayList<>();
        List<Share.Unplaced> unplaced = new ArrayList<>();
        for (int i = 0; i < problem.jobs().size(); i++) {
            ShareProblem.Job job = problem.jobs().get(i);
            Integer slot = slots.get(i);
            if (slot != null) {
                placed.add(new Share.Placed(job, board.personDay(slot), reasons(i, slot)));
            } else if (!job.fixed() && (job.now() != null || ShareScore.weight(problem, job) > 0)) {
                unplaced.add(new Share.Unplaced(job, obstacles(i)));
            }
        }
        Map<String, Double> km = new TreeMap<>();
        problem.sites().forEach(s -> km.put(s.code(), s.km()));
        placed.sort(Comparator.comparing((Share.Placed p) -> p.at().day())
                .thenComparing(p -> p.at().person())
                .thenComparing(p -> Objects.requireNonNull(km.get(p.job().site())))
                .thenComparing(p -> p.job().position())
                .thenComparing(p -> p.job().id()));
        return new Share(placed, unplaced, (int) Math.round(board.travelled() / 10.0), (int) board.worked());
    }

    private List<Reason> reasons(int index, int slot) {
        ShareProblem.Job job = problem.jobs().get(index);
        LocalDate day = problem.day(board.day(slot));
        List<Reason> reasons = new ArrayList<>();
        if (job.over(problem.today())) {
            reasons.add(new Reason.Over(ChronoUnit.DAYS.between(job.due(), problem.today())));
        }
        if (job.needs().outage()) {
            job.outages().stream()
                    .filter(o -> o.state() == Readiness.Outage.GRANTED && o.holds(day))
                    .findFirst()
                    .ifPresent(o -> reasons.add(new Reason.WithOutage(o.from(), o.to())));
        }
        String beside = beside(index, slot);
        if (beside != null) {
            reasons.add(new Reason.Beside(beside));
        }
        if (job.needs().people() > 1) {
            IntStream.range(0, problem.people().size())
                    .filter(p -> p != board.person(slot)
                            && board.count(board.slot(p, board.day(slot)), board.site(index)) > 0)
                    .findFirst()
                    .ifPresent(p -> reasons.add(
                            new Reason.Together(problem.people().get(p).id())));
        }
        String kind = job.needs().authorisation();
        if (kind != null && authorised(job).size() == 1) {
            reasons.add(new Reason.OnlyAuthorised(kind));
        }
        Season season = job.needs().season();
        if (season != null && IntStream.rangeClosed(1, SEASON_DAYS).anyMatch(n -> !season.holds(day.plusDays(n)))) {
            reasons.add(new Reason.SeasonEnds(IntStream.rangeClosed(0, SEASON_DAYS)
                    .mapToObj(day::plusDays)
                    .filter(d -> !season.holds(d.plusDays(1)))
                    .findFirst()
                    .orElseThrow()));
        }
        if (!job.over(problem.today()) && Math.abs(ChronoUnit.DAYS.between(job.due(), day)) <= DUE_DAYS) {
            reasons.add(new Reason.Due(job.due()));
        }
        if (board.personDay(slot).equals(job.now())) {
            reasons.add(new Reason.Stays());
        }
        return reasons.isEmpty() ? List.of(new Reason.Due(job.due())) : reasons;
    }

    /** Another job of the day at the site: one that is fixed if there is one, else that with the largest weight. */
    private @Nullable String beside(int index, int slot) {
        ShareProblem.PersonDay at = board.personDay(slot);
        return IntStream.range(0, problem.jobs().size())
                .filter(i -> i != index
                        && problem.jobs()
                                .get(i)
                                .site()
                                .equals(problem.jobs().get(index).site()))
                .filter(i -> {
                    ShareProblem.Job other = problem.jobs().get(i);
                    Integer its = slots.get(i);
                    return other.fixed() ? at.equals(other.now()) : its != null && its == slot;
                })
                .boxed()
                .max(Comparator.comparing((Integer i) -> problem.jobs().get(i).fixed())
                        .thenComparing(
                                i -> ShareScore.weight(problem, problem.jobs().get(i)))
                        .thenComparing(i -> -i))
                .map(i -> problem.jobs().get(i).position())
                .orElse(null);
    }

    private Set<String> authorised(ShareProblem.Job job) {
        Set<String> who = new HashSet<>();
        for (int day = 0; day < problem.days(); day++) {
            LocalDate date = problem.day(day);
            if (job.admits(date, problem.today())) {
                problem.people().stream()
                        .filter(p -> p.works(date) && Board.authorised(job, p, date))
                        .forEach(p -> who.add(p.id()));
            }
        }
        return who;
    }

    /** What stands against every day, the rule that leaves none first; several where they share it. */
    private List<Obstacle> obstacles(int index) {
        ShareProblem.Job job = problem.jobs().get(index);
        if (job.barred() != null) {
            return List.of(new Obstacle.Barred(job.barred()));
        }
        List<LocalDate> window = IntStream.range(0, problem.days())
                .mapToObj(problem::day)
                .filter(d -> job.admits(d, problem.today()))
                .toList();
        if (window.isEmpty()) {
            return List.of(new Obstacle.NoDay(job.until() != null ? job.until() : job.opens()));
        }
        List<LocalDate> worked = window.stream()
                .filter(d -> problem.people().stream().anyMatch(p -> p.works(d)))
                .toList();
        if (worked.isEmpty()) {
            return List.of(new Obstacle.NobodyThere());
        }
        List<Obstacle> lacks = lacking(job, worked);
        if (!lacks.isEmpty()) {
            return lacks;
        }
        List<LocalDate> geared =
                worked.stream().filter(d -> board.geared(job, d)).toList();
        if (geared.isEmpty()) {
            return job.gear().stream()
                    .filter(role -> worked.stream().allMatch(d -> board.items(role, d) == 0))
                    .sorted()
                    .<Obstacle>map(Obstacle.NoGear::new)
                    .toList();
        }
        String kind = job.needs().authorisation();
        if (kind != null && authorised(job).isEmpty()) {
            return List.of(new Obstacle.NobodyAuthorised(kind));
        }
        return crowded(index, job);
    }

    /** The outage, season or part without which no day will do. */
    private List<Obstacle> lacking(ShareProblem.Job job, List<LocalDate> days) {
        if (days.stream().anyMatch(d -> board.lacks(job, d).isEmpty())) {
            return List.of();
        }
        List<Obstacle> all = new ArrayList<>();
        if (job.needs().outage() && days.stream().allMatch(d -> job.outage(d) != Readiness.Outage.GRANTED)) {
            all.add(new Obstacle.NoOutage(
                    Readiness.outage(days.stream().map(job::outage).toList())));
        }
        Season season = job.needs().season();
        if (season != null && days.stream().noneMatch(season::holds)) {
            all.add(new Obstacle.OutOfSeason());
        }
        job.needs().parts().forEach((part, count) -> {
            if (days.stream().allMatch(d -> board.usable(part, d) < count)) {
                all.add(new Obstacle.NoParts(part));
            }
        });
        // Each may leave a day that the other takes: then the outage is what people can ask for.
        return all.isEmpty()
                ? List.of(
                        job.needs().outage()
                                ? new Obstacle.NoOutage(Readiness.Outage.NOT_ASKED)
                                : new Obstacle.OutOfSeason())
                : all;
    }

    /** There are days, and others have taken them: what breaks on each. */
    private List<Obstacle> crowded(int index, ShareProblem.Job job) {
        List<Integer> possible = board.possible(index);
        if (possible.isEmpty()) {
            return List.of(new Obstacle.OrderedByHand());
        }
        Set<Obstacle> all = new java.util.LinkedHashSet<>();
        for (int slot : possible) {
            all.addAll(board.refusals(index, slot));
        }
        return all.isEmpty() ? List.of(new Obstacle.NoTime(job.minutes())) : List.copyOf(all);
    }
}
