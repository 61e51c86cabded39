package org.juratest.core.share;

import java.time.LocalDate;
import java.time.MonthDay;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import org.juratest.core.plan.DayRoute;
import org.juratest.core.plan.Readiness;
import org.juratest.core.plan.Season;
import org.juratest.core.share.ShareProblem.Job;
import org.juratest.core.share.ShareProblem.PersonDay;
import org.juratest.core.share.ShareProblem.Worker;

/** Things to share out, made from a seed so that every rule has something to refuse. */
final class Problems {

    /** A Monday. */
    static final LocalDate FIRST = LocalDate.parse("2026-11-30");

    static final DayRoute LINE = new DayRoute(0, 18, 4, 480);
    static final Readiness.Needs NOTHING = new Readiness.Needs(false, null, 1, null, Map.of());

    private Problems() {}

    static Worker worker(String id, Readiness.Authorisation... held) {
        return new Worker(id, 480, Set.of(), List.of(held));
    }

    static Job job(long id, String site, int minutes, LocalDate opens, LocalDate closes, Readiness.Needs needs) {
        return new Job(
                id,
                site + "-" + id,
                site,
                minutes,
                opens,
                closes,
                closes,
                null,
                needs,
                Set.of(),
                List.of(),
                null,
                null,
                false);
    }

    static Job fixed(Job job, String person, LocalDate day) {
        return new Job(
                job.id(),
                job.position(),
                job.site(),
                job.minutes(),
                job.opens(),
                job.due(),
                job.closes(),
                job.until(),
                job.needs(),
                job.gear(),
                job.outages(),
                job.barred(),
                new PersonDay(person, day),
                true);
    }

    static ShareProblem of(int days, List<Worker> people, Job... jobs) {
        return new ShareProblem(
                FIRST.minusDays(1),
                FIRST,
                days,
                LINE,
                List.of(
                        new ShareProblem.Site("A", 0, null),
                        new ShareProblem.Site("B", 6, null),
                        new ShareProblem.Site("C", 15, null)),
                people,
                List.of(jobs),
                Map.of(),
                Map.of(),
                Set.of());
    }

    /** Something of everything. */
    static ShareProblem random(long seed, int days, int people, int jobs) {
        Random random = new Random(seed);
        List<ShareProblem.Site> sites = new ArrayList<>();
        for (int s = 0; s < 6; s++) {
            sites.add(new ShareProblem.Site("S" + s, s * 3.5, s == 2 ? 300 : null));
        }
        List<Worker> workers = new ArrayList<>();
        for (int p = 0; p < people; p++) {
            Set<LocalDate> away = new HashSet<>();
            for (int n = 0; n < 2; n++) {
                away.add(FIRST.plusDays(random.nextInt(days)));
            }
            List<Readiness.Authorisation> held = p % 2 == 0
                    ? List.of(new Readiness.Authorisation(
                            "p" + p,
                            "height",
                            FIRST.minusYears(1),
                            p == 0 ? null : FIRST.plusDays(random.nextInt(days))))
                    : List.of();
            workers.add(new Worker("p" + p, 300 + 60 * random.nextInt(4), away, held));
        }
        List<Job> all = new ArrayList<>();
        for (int j = 0; j < jobs; j++) {
            all.add(any(j, random, sites, workers, days));
        }
        return new ShareProblem(
                FIRST.minusDays(1),
                FIRST,
                days,
                LINE,
                sites,
                workers,
                all,
                Map.of("meter", List.of(FIRST.plusDays(days), FIRST.plusDays(3)), "set", List.of(FIRST.plusDays(4))),
                Map.of("kit", List.of(new ShareProblem.Lot(3, FIRST.plusDays(2)), new ShareProblem.Lot(4, null))),
                Set.of(new PersonDay("p0", FIRST), new PersonDay("p1", FIRST.plusDays(1))));
    }

    private static Job any(long id, Random random, List<ShareProblem.Site> sites, List<Worker> workers, int days) {
        LocalDate due = FIRST.plusDays(random.nextInt(days + 20) - 10L);
        LocalDate opens = due.minusDays(random.nextInt(20));
        LocalDate closes = due.plusDays(random.nextInt(10));
        boolean outage = random.nextInt(5) == 0;
        Readiness.Needs needs = new Readiness.Needs(
                outage,
                random.nextInt(5) == 0 ? "height" : null,
                random.nextInt(8) == 0 ? 2 : 1,
                random.nextInt(8) == 0 ? new Season(MonthDay.of(5, 1), MonthDay.of(12, 4)) : null,
                random.nextInt(6) == 0 ? Map.of("kit", 1 + random.nextInt(2)) : Map.of());
        LocalDate from = FIRST.plusDays(random.nextInt(days));
        boolean fixed = random.nextInt(8) == 0;
        Worker who = workers.get(random.nextInt(workers.size()));
        boolean now = fixed || random.nextInt(6) == 0;
        return new Job(
                id,
                "P" + id,
                sites.get(random.nextInt(sites.size())).code(),
                20 + 10 * random.nextInt(10),
                opens,
                due,
                closes,
                random.nextInt(10) == 0 ? FIRST.plusDays(random.nextInt(days)) : null,
                needs,
                random.nextInt(4) == 0 ? Set.of("meter") : random.nextInt(6) == 0 ? Set.of("set") : Set.of(),
                outage
                        ? List.of(new ShareProblem.Span(
                                from,
                                from.plusDays(random.nextInt(3)),
                                random.nextInt(3) == 0 ? Readiness.Outage.ASKED : Readiness.Outage.GRANTED))
                        : List.of(),
                random.nextInt(20) == 0 ? "not to be used" : null,
                now ? new PersonDay(who.id(), FIRST.plusDays(random.nextInt(days))) : null,
                fixed);
    }
}
