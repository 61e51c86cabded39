package org.juratest.core.share;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.IntStream;
import org.juratest.core.plan.Readiness;
import org.juratest.core.plan.Readiness.Needs;

/**
 * Jobs on the days of people, and how far that breaks a rule: kept up as jobs come and go, so that each costs little.
 * What people have fixed lies on it from the start. Where that breaks a rule by itself, it may go on as it is, and
 * nothing may be added to it.
 */
final class Board {

    /** Tenths of a minute that one missing item, part or person weighs as much as. */
    private static final int MISSING = 600;

    final ShareProblem problem;
    /** Along the line. */
    final List<ShareProblem.Site> sites;

    private final int days;
    private final Map<String, Integer> siteOf = new HashMap<>();
    private final Map<String, Integer> personOf = new HashMap<>();
    private final List<String> roles;
    private final List<String> parts;
    private final Placed[] jobs;
    /** Minutes of work, of each person and day. */
    private final int[] work;
    /** Jobs at each site, of each person and day. */
    private final int[][] at;
    /** Jobs that need each role, of each person and day. */
    private final int[][] using;
    /** Tenths of a minute, of each person and day. */
    private final int[] travel;

    private final int[] limit;
    private final int[][] present;
    private final int[][] users;
    private final int[][] usersLimit;
    private final int[][] siteWeek;
    private final int[][] siteLimit;
    private final int[][] demand;
    private final int[][] supply;
    /** Jobs by the number of people they need, of each day and site; null where none needs more than one. */
    private final int[][][] needing;

    private final int most;

    private long broken;
    private long travelled;
    private final long[] load;

    /** A job with what it is counted by. */
    private record Placed(int site, int minutes, int people, int[] roles, int[] parts, int[] counts) {}

    Board(ShareProblem problem) {
        this.problem = problem;
        days = problem.days();
        sites = problem.sites().stream()
                .sorted(Comparator.comparing(ShareProblem.Site::km).thenComparing(ShareProblem.Site::code))
                .toList();
        IntStream.range(0, sites.size()).forEach(i -> siteOf.put(sites.get(i).code(), i));
        IntStream.range(0, problem.people().size())
                .forEach(i -> personOf.put(problem.people().get(i).id(), i));
        Set<String> allRoles = new TreeSet<>();
        Set<String> allParts = new TreeSet<>();
        problem.jobs().forEach(j -> {
            allRoles.addAll(j.gear());
            allParts.addAll(j.needs().parts().keySet());
        });
        roles = List.copyOf(allRoles);
        parts = List.copyOf(allParts);
        most = problem.jobs().stream().mapToInt(j -> j.needs().people()).max().orElse(1);
        jobs = problem.jobs().stream().map(this::counted).toArray(Placed[]::new);
        int slots = problem.people().size() * days;
        work = new int[slots];
        at = new int[slots][sites.size()];
        using = new int[slots][roles.size()];
        travel = new int[slots];
        limit = new int[slots];
        present = new int[days][sites.size()];
        users = new int[days][roles.size()];
        usersLimit = new int[days][roles.size()];
        int weeks = problem.week(days - 1) + 1;
        siteWeek = new int[sites.size()][weeks];
        siteLimit = new int[sites.size()][weeks];
        demand = new int[parts.size()][days];
        supply = new int[parts.size()][days];
        needing = new int[days][sites.size()][];
        load = new long[problem.people().size()];
        unbounded();
        IntStream.range(0, jobs.length)
                .filter(i -> problem.jobs().get(i).fixed())
                .forEach(i -> fixed(problem.jobs().get(i), i));
        bounded();
    }

    private Placed counted(ShareProblem.Job job) {
        return new Placed(
                siteOf.get(job.site()),
                job.minutes(),
                job.fixed() ? 1 : job.needs().people(),
                job.gear().stream().mapToInt(roles::indexOf).toArray(),
                job.needs().parts().keySet().stream().mapToInt(parts::indexOf).toArray(),
                job.needs().parts().values().stream().mapToInt(c -> c).toArray());
    }

    private void unbounded() {
        java.util.Arrays.fill(limit, Integer.MAX_VALUE);
        for (int[][] limits : List.of(usersLimit, siteLimit, supply)) {
            for (int[] row : limits) {
                java.util.Arrays.fill(row, Integer.MAX_VALUE);
            }
        }
    }

    private void fixed(ShareProblem.Job job, int index) {
        ShareProblem.PersonDay now = java.util.Objects.requireNonNull(job.now());
        if (known(now)) {
            add(index, slot(now));
        }
    }

    /** Whether a day is one of those that are shared out, of one of the people. */
    boolean known(ShareProblem.PersonDay at) {
        return personOf.containsKey(at.person())
                && !at.day().isBefore(problem.first())
                && !at.day().isAfter(problem.last());
    }

    int slot(ShareProblem.PersonDay at) {
        return slot(java.util.Objects.requireNonNull(personOf.get(at.person())), (int)
                java.time.temporal.ChronoUnit.DAYS.between(problem.first(), at.day()));
    }

    /** What there is, and at least what fixed jobs take of it. */
    private void bounded() {
        for (int person = 0; person < load.length; person++) {
            for (int day = 0; day < days; day++) {
                int slot = slot(person, day);
                limit[slot] = Math.max(problem.people().get(person).minutesADay() * 10, work[slot] * 10 + travel[slot]);
            }
        }
        for (int day = 0; day < days; day++) {
            LocalDate date = problem.day(day);
            for (int r = 0; r < roles.size(); r++) {
                usersLimit[day][r] = Math.max(users[day][r], items(roles.get(r), date));
            }
            for (int p = 0; p < parts.size(); p++) {
                supply[p][day] = Math.max(from(demand[p], day), usable(parts.get(p), date));
            }
        }
        for (int s = 0; s < sites.size(); s++) {
            Integer access = sites.get(s).accessMinutes();
            for (int w = 0; w < siteWeek[s].length; w++) {
                siteLimit[s][w] = access == null ? Integer.MAX_VALUE : Math.max(siteWeek[s][w], access);
            }
        }
    }

    int items(String role, LocalDate day) {
        return (int) problem.gear().getOrDefault(role, List.of()).stream()
                .filter(to -> !to.isBefore(day))
                .count();
    }

    int usable(String part, LocalDate day) {
        return problem.lots().getOrDefault(part, List.of()).stream()
                .filter(l -> l.expires() == null || !l.expires().isBefore(day))
                .mapToInt(ShareProblem.Lot::count)
                .sum();
    }

    int slot(int person, int day) {
        return person * days + day;
    }

    int person(int slot) {
        return slot / days;
    }

    int day(int slot) {
        return slot % days;
    }

    int site(int job) {
        return jobs[job].site;
    }

    ShareProblem.PersonDay personDay(int slot) {
        return new ShareProblem.PersonDay(problem.people().get(person(slot)).id(), problem.day(day(slot)));
    }

    /** Jobs of a person's day at a site. */
    int count(int slot, int site) {
        return at[slot][site];
    }

    /** How far the rules are broken; 0 where none is. */
    long broken() {
        return broken;
    }

    /** Tenths of a minute that everybody travels. */
    long travelled() {
        return travelled;
    }

    long worked() {
        long sum = 0;
        for (long l : load) {
            sum += l;
        }
        return sum;
    }

    /** How unequally people are loaded: the sum of squared minutes over the minutes each has. */
    long imbalance() {
        long sum = 0;
        for (int p = 0; p < load.length; p++) {
            sum += load[p]
                    * load[p]
                    / Math.max(1, (long) problem.people().get(p).minutesADay() * days * 5 / 7);
        }
        return sum;
    }

    void add(int job, int slot) {
        change(job, slot, 1);
    }

    void remove(int job, int slot) {
        change(job, slot, -1);
    }

    /** Tenths of a minute of travel that a job would add, or save by going. */
    int detour(int job, int slot) {
        int[] row = at[slot];
        int site = jobs[job].site;
        if (row[site] > 0) {
            return 0;
        }
        row[site]++;
        int with = way(row);
        row[site]--;
        return with - travel[slot];
    }

    /** Whether a job can be put on a day without breaking a rule that is not broken. */
    boolean fits(int job, int slot) {
        long before = broken;
        add(job, slot);
        boolean fits = broken <= before;
        remove(job, slot);
        return fits;
    }

    /** The rules that a job would break on a day, one by one. */
    List<Share.Obstacle> refusals(int index, int slot) {
        ShareProblem.Job job = problem.jobs().get(index);
        int day = day(slot);
        int site = jobs[index].site;
        int week = problem.week(day);
        List<Share.Obstacle> all = new ArrayList<>();
        if ((work[slot] + job.minutes()) * 10L + travel[slot] + detour(index, slot) > limit[slot]) {
            all.add(new Share.Obstacle.NoTime(job.minutes()));
        }
        for (int role : jobs[index].roles) {
            if (using[slot][role] == 0 && users[day][role] >= usersLimit[day][role]) {
                all.add(new Share.Obstacle.NoGear(roles.get(role)));
            }
        }
        if (siteWeek[site][week] + (long) job.minutes() > siteLimit[site][week]) {
            all.add(new Share.Obstacle.NoAccess());
        }
        if (present[day][site] + (at[slot][site] == 0 ? 1 : 0) < jobs[index].people) {
            all.add(new Share.Obstacle.TooFewPeople(jobs[index].people));
        }
        for (int i = 0; i < jobs[index].parts.length; i++) {
            int part = jobs[index].parts[i];
            demand[part][day] += jobs[index].counts[i];
            if (lacking(part) > 0) {
                all.add(new Share.Obstacle.NoParts(parts.get(part)));
            }
            demand[part][day] -= jobs[index].counts[i];
        }
        return all;
    }

    private void change(int index, int slot, int sign) {
        Placed job = jobs[index];
        int day = day(slot);
        int week = problem.week(day);
        int site = job.site;
        // The work.
        broken -= over(work[slot] * 10L + travel[slot], limit[slot]);
        work[slot] += sign * job.minutes;
        load[person(slot)] += (long) sign * job.minutes;
        int before = at[slot][site];
        at[slot][site] += sign;
        boolean turns = before == 0 || at[slot][site] == 0;
        if (turns) {
            travelled -= travel[slot];
            travel[slot] = way(at[slot]);
            travelled += travel[slot];
        }
        broken += over(work[slot] * 10L + travel[slot], limit[slot]);
        // The people at the site.
        if (turns || job.people > 1) {
            broken -= alone(day, site);
            present[day][site] += turns ? sign : 0;
            if (job.people > 1) {
                if (needing[day][site] == null) {
                    needing[day][site] = new int[most + 1];
                }
                needing[day][site][job.people] += sign;
            }
            broken += alone(day, site);
        }
        // What the site admits.
        broken -= over(siteWeek[site][week] * 10L, siteLimit[site][week] * 10L);
        siteWeek[site][week] += sign * job.minutes;
        broken += over(siteWeek[site][week] * 10L, siteLimit[site][week] * 10L);
        // Gear and parts.
        for (int role : job.roles) {
            int uses = using[slot][role];
            using[slot][role] += sign;
            if (uses == 0 || using[slot][role] == 0) {
                broken -= MISSING * over(users[day][role], usersLimit[day][role]);
                users[day][role] += sign;
                broken += MISSING * over(users[day][role], usersLimit[day][role]);
            }
        }
        for (int i = 0; i < job.parts.length; i++) {
            int part = job.parts[i];
            broken -= MISSING * lacking(part);
            demand[part][day] += sign * job.counts[i];
            broken += MISSING * lacking(part);
        }
    }

    private static long over(long value, long limit) {
        return Math.max(0, value - limit);
    }

    /** How many people the jobs of a day at a site lack. */
    private long alone(int day, int site) {
        int[] need = needing[day][site];
        if (need == null) {
            return 0;
        }
        long sum = 0;
        for (int n = 2; n < need.length; n++) {
            sum += (long) need[n] * Math.max(0, n - present[day][site]);
        }
        return MISSING * sum;
    }

    /** A part runs short if from some day on more are needed than are usable then: those that expire are used first. */
    private long lacking(int part) {
        long lacks = 0;
        int needed = 0;
        for (int day = days - 1; day >= 0; day--) {
            needed += demand[part][day];
            lacks = Math.max(lacks, over(needed, supply[part][day]));
        }
        return lacks;
    }

    private static int from(int[] demand, int day) {
        return IntStream.range(day, demand.length).map(d -> demand[d]).sum();
    }

    /** Tenths of a minute of a day's travel: along the line, and back. */
    private int way(int[] counts) {
        double minutes = 0;
        double km = problem.line().baseKm();
        boolean gone = false;
        for (int s = 0; s < counts.length; s++) {
            if (counts[s] > 0) {
                double to = sites.get(s).km();
                minutes += problem.line().leg(km, to);
                km = to;
                gone = true;
            }
        }
        return gone
                ? (int) Math.round(
                        (minutes + problem.line().leg(km, problem.line().baseKm())) * 10)
                : 0;
    }

    /** Days of people on which a job could be done if nothing else were there. */
    List<Integer> possible(int index) {
        ShareProblem.Job job = problem.jobs().get(index);
        List<Integer> slots = new ArrayList<>();
        if (job.barred() != null) {
            return slots;
        }
        for (int day = 0; day < days; day++) {
            LocalDate date = problem.day(day);
            if (job.admits(date, problem.today()) && lacks(job, date).isEmpty() && geared(job, date)) {
                for (int person = 0; person < problem.people().size(); person++) {
                    ShareProblem.Worker who = problem.people().get(person);
                    int slot = slot(person, day);
                    if (who.works(date) && authorised(job, who, date) && stops(jobs[index].site, slot)) {
                        slots.add(slot);
                    }
                }
            }
        }
        return slots;
    }

    /** What a job lacks on a day whoever does it, people and authorisation aside. */
    List<Readiness.Lack> lacks(ShareProblem.Job job, LocalDate day) {
        Needs needs = job.needs();
        Map<String, Integer> there = new TreeMap<>();
        needs.parts().keySet().forEach(p -> there.put(p, usable(p, day)));
        return Readiness.lacks(
                new Needs(needs.outage(), null, 1, needs.season(), needs.parts()),
                new Readiness.There(job.outage(day), List.of(), List.of(), there),
                day);
    }

    boolean geared(ShareProblem.Job job, LocalDate day) {
        return job.gear().stream().allMatch(role -> items(role, day) > 0);
    }

    static boolean authorised(ShareProblem.Job job, ShareProblem.Worker who, LocalDate day) {
        String kind = job.needs().authorisation();
        return kind == null
                || who.authorisations().stream().anyMatch(a -> a.kind().equals(kind) && a.holds(day));
    }

    /** A day that was ordered by hand takes nothing at another stop. */
    boolean stops(int site, int slot) {
        return at[slot][site] > 0 || !problem.byHand().contains(personDay(slot));
    }
}
