package org.juratest.core.share;

import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.temporal.TemporalAdjusters;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.juratest.core.plan.DayRoute;
import org.juratest.core.plan.Readiness;
import org.juratest.core.share.ShareProblem.Job;
import org.juratest.core.share.ShareProblem.PersonDay;

/** Looks for broken rules job by job and day by day, slowly, and without the counting that the solver lives on. */
final class RulesBroken {

    private final ShareProblem problem;
    private final Map<PersonDay, List<Job>> days = new HashMap<>();
    private final Map<PersonDay, List<Job>> fixed = new HashMap<>();
    private final List<String> broken = new ArrayList<>();

    private RulesBroken(ShareProblem problem) {
        this.problem = problem;
    }

    /** What a way to share out breaks, in words; empty where it breaks nothing. */
    static List<String> in(ShareProblem problem, Share share) {
        RulesBroken rules = new RulesBroken(problem);
        problem.jobs().stream().filter(Job::fixed).forEach(j -> {
            rules.days
                    .computeIfAbsent(Objects.requireNonNull(j.now()), d -> new ArrayList<>())
                    .add(j);
            rules.fixed.computeIfAbsent(j.now(), d -> new ArrayList<>()).add(j);
        });
        Set<Long> seen = new HashSet<>();
        for (Share.Placed p : share.placed()) {
            if (p.job().fixed()) {
                rules.broken.add(p.job().id() + " is fixed, and was placed");
            }
            if (!seen.add(p.job().id())) {
                rules.broken.add(p.job().id() + " is placed twice");
            }
            rules.days.computeIfAbsent(p.at(), d -> new ArrayList<>()).add(p.job());
        }
        share.placed().forEach(p -> rules.alone(p.job(), p.at()));
        share.placed().forEach(p -> rules.crowd(p.job(), p.at()));
        rules.stores();
        return rules.broken;
    }

    private ShareProblem.Worker worker(String id) {
        return problem.people().stream()
                .filter(w -> w.id().equals(id))
                .findFirst()
                .orElseThrow();
    }

    private double km(String site) {
        return problem.sites().stream()
                .filter(s -> s.code().equals(site))
                .findFirst()
                .orElseThrow()
                .km();
    }

    /** What concerns one job and its day. */
    private void alone(Job job, PersonDay at) {
        LocalDate day = at.day();
        ShareProblem.Worker who = worker(at.person());
        boolean over = job.closes().isBefore(problem.today());
        if (day.isBefore(problem.first())
                || !day.isBefore(problem.first().plusDays(problem.days()))
                || day.isBefore(job.opens())) {
            broken.add(job.id() + " on " + day + " is before its window, or not of these days");
        }
        if (job.until() != null && day.isBefore(job.until())) {
            broken.add(job.id() + " is deferred until " + job.until());
        }
        if (!over && day.isAfter(job.closes()) && !day.equals(job.until())) {
            broken.add(job.id() + " on " + day + " is after its window");
        }
        if (day.getDayOfWeek() == DayOfWeek.SATURDAY
                || day.getDayOfWeek() == DayOfWeek.SUNDAY
                || who.away().contains(day)) {
            broken.add(who.id() + " does not work on " + day);
        }
        if (job.barred() != null) {
            broken.add(job.id() + " cannot be done");
        }
        String kind = job.needs().authorisation();
        if (kind != null
                && who.authorisations().stream().noneMatch(a -> a.kind().equals(kind) && a.holds(day))) {
            broken.add(who.id() + " is not authorised for " + job.id());
        }
        if (job.needs().season() != null && !job.needs().season().holds(day)) {
            broken.add(job.id() + " is out of season on " + day);
        }
        if (job.needs().outage()
                && job.outages().stream()
                        .noneMatch(o -> o.state() == Readiness.Outage.GRANTED
                                && !day.isBefore(o.from())
                                && !day.isAfter(o.to()))) {
            broken.add(job.id() + " has no outage on " + day);
        }
        if (problem.byHand().contains(at)
                && fixed.getOrDefault(at, List.of()).stream()
                        .noneMatch(f -> f.site().equals(job.site()))) {
            broken.add(job.id() + " is at no stop of a day that was ordered by hand");
        }
    }

    private double minutes(List<Job> jobs) {
        Map<Double, Double> stops = new TreeMap<>();
        jobs.forEach(j -> stops.merge(km(j.site()), (double) j.minutes(), Double::sum));
        DayRoute.Timetable table = problem.line()
                .of(stops.entrySet().stream()
                        .map(e -> new DayRoute.Stop(e.getKey(), e.getValue()))
                        .toList());
        return table.work() + table.travel();
    }

    /** What a day can hold, and its site, and its gear. */
    private void crowd(Job job, PersonDay at) {
        List<Job> mine = Objects.requireNonNull(days.get(at));
        double allowed = Math.max(worker(at.person()).minutesADay(), minutes(fixed.getOrDefault(at, List.of())));
        // Travel is counted in tenths of a minute.
        if (minutes(mine) > allowed + 0.06) {
            broken.add(at + " takes " + minutes(mine) + " min");
        }
        Set<String> there = days.entrySet().stream()
                .filter(e -> e.getKey().day().equals(at.day())
                        && e.getValue().stream().anyMatch(j -> j.site().equals(job.site())))
                .map(e -> e.getKey().person())
                .collect(Collectors.toSet());
        if (there.size() < job.needs().people()) {
            broken.add(job.id() + " needs " + job.needs().people() + " people, there are " + there);
        }
        for (String role : job.gear()) {
            long users = users(days, at.day(), role);
            long items = problem.gear().getOrDefault(role, List.of()).stream()
                    .filter(to -> !to.isBefore(at.day()))
                    .count();
            if (items == 0 || users > Math.max(items, users(fixed, at.day(), role))) {
                broken.add(users + " people take a " + role + " on " + at.day() + ", there are " + items);
            }
        }
        LocalDate monday = at.day().with(TemporalAdjusters.previousOrSame(DayOfWeek.MONDAY));
        Integer access = problem.sites().stream()
                .filter(s -> s.code().equals(job.site()))
                .findFirst()
                .orElseThrow()
                .accessMinutes();
        if (access != null && week(days, job.site(), monday) > Math.max(access, week(fixed, job.site(), monday))) {
            broken.add(job.site() + " admits " + access + " min a week");
        }
    }

    private static long users(Map<PersonDay, List<Job>> days, LocalDate day, String role) {
        return days.entrySet().stream()
                .filter(e -> e.getKey().day().equals(day)
                        && e.getValue().stream().anyMatch(j -> j.gear().contains(role)))
                .count();
    }

    private static int week(Map<PersonDay, List<Job>> days, String site, LocalDate monday) {
        return days.entrySet().stream()
                .filter(e -> e.getKey()
                        .day()
                        .with(TemporalAdjusters.previousOrSame(DayOfWeek.MONDAY))
                        .equals(monday))
                .flatMap(e -> e.getValue().stream())
                .filter(j -> j.site().equals(site))
                .mapToInt(Job::minutes)
                .sum();
    }

    /** Takes parts out of the stores day after day, those first that expire first. */
    private void stores() {
        Map<String, List<int[]>> left = new HashMap<>();
        problem.lots()
                .forEach((part, lots) -> left.put(
                        part,
                        lots.stream()
                                .sorted(Comparator.comparing(l -> l.expires() == null ? LocalDate.MAX : l.expires()))
                                .map(l -> new int[] {
                                    l.count(),
                                    l.expires() == null
                                            ? Integer.MAX_VALUE
                                            : (int) l.expires().toEpochDay()
                                })
                                .toList()));
        days.entrySet().stream()
                .sorted(Comparator.comparing(e -> e.getKey().day()))
                .forEach(e -> e.getValue().forEach(job -> job.needs().parts().forEach((part, count) -> {
                    int wanted = count;
                    for (int[] lot : left.getOrDefault(part, List.of())) {
                        int take = lot[1] < e.getKey().day().toEpochDay() ? 0 : Math.min(wanted, lot[0]);
                        lot[0] -= take;
                        wanted -= take;
                    }
                    if (wanted > 0 && !job.fixed()) {
                        broken.add(job.id() + " lacks " + wanted + " of " + part);
                    }
                })));
    }
}
