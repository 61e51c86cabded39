package org.juratest.e2e.bench;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import org.juratest.core.plan.DayRoute;
import org.juratest.core.plan.Readiness;
import org.juratest.core.share.NearestFirst;
import org.juratest.core.share.Share;
import org.juratest.core.share.ShareProblem;
import org.juratest.core.share.Sharer;

/** A thousand jobs shared out over eight weeks and eight people, beside the plain way to fill days. */
final class ShareBench {

    private static final LocalDate FIRST = LocalDate.parse("2026-11-30");
    private static final int JOBS = 1000;
    private static final int PEOPLE = 8;
    private static final int DAYS = 56;

    private ShareBench() {}

    static void run() {
        System.out.printf(Locale.ROOT, "Sharing out %d jobs over %d weeks and %d people%n", JOBS, DAYS / 7, PEOPLE);
        ShareProblem problem = problem();
        long begin = System.nanoTime();
        Share plain = NearestFirst.share(problem);
        double plainSeconds = (System.nanoTime() - begin) / 1e9;
        begin = System.nanoTime();
        Share share = new Sharer(problem, Sharer.Limits.of(JOBS)).share(() -> {});
        double seconds = (System.nanoTime() - begin) / 1e9;
        Bench.line(
                "solver, from facts to reasons",
                String.format(Locale.ROOT, "%.1f s, %.2f of 30 s", seconds, seconds / 30));
        Bench.line(
                "jobs that have a day",
                String.format(
                        Locale.ROOT,
                        "%d of %d due; nearest first %d in %.1f s",
                        share.placed().size(),
                        share.placed().size() + share.unplaced().size(),
                        plain.placed().size(),
                        plainSeconds));
        Bench.line(
                "travel",
                String.format(
                        Locale.ROOT,
                        "%.2f of nearest first (%d min, %d min); a job %.2f",
                        share.travel() / (double) plain.travel(),
                        share.travel(),
                        plain.travel(),
                        share.travel()
                                / (double) share.placed().size()
                                / (plain.travel() / (double) plain.placed().size())));
    }

    /** Windows, absences, outages, authorisations, gear and parts as a fleet of a thousand jobs has them. */
    private static ShareProblem problem() {
        Random random = new Random(1670);
        List<ShareProblem.Site> sites = new ArrayList<>();
        double[] km = {0, 3.1, 5.4, 7.9, 10.2, 12.6, 14.8, 16.7};
        for (int s = 0; s < km.length; s++) {
            sites.add(new ShareProblem.Site("S" + s, km[s], s == 4 ? 1800 : null));
        }
        List<ShareProblem.Worker> people = new ArrayList<>();
        for (int p = 0; p < PEOPLE; p++) {
            String id = "p" + p;
            Set<LocalDate> away = new HashSet<>();
            LocalDate from = FIRST.plusDays(random.nextInt(DAYS));
            for (int d = 0; d < 5; d++) {
                away.add(from.plusDays(d));
            }
            people.add(new ShareProblem.Worker(
                    id,
                    420,
                    away,
                    p < 3 ? List.of(new Readiness.Authorisation(id, "mv", FIRST.minusYears(1), null)) : List.of()));
        }
        List<ShareProblem.Job> jobs = new ArrayList<>();
        for (int j = 0; j < JOBS; j++) {
            LocalDate due = FIRST.plusDays(random.nextInt(DAYS + 10) - 10L);
            boolean outage = random.nextInt(12) == 0;
            LocalDate window = FIRST.plusDays(random.nextInt(DAYS));
            jobs.add(new ShareProblem.Job(
                    j,
                    "P" + j,
                    "S" + random.nextInt(km.length),
                    20 + 5 * random.nextInt(17),
                    due.minusDays(14 + random.nextInt(20)),
                    due,
                    due.plusDays(random.nextInt(14)),
                    null,
                    new Readiness.Needs(
                            outage,
                            random.nextInt(8) == 0 ? "mv" : null,
                            random.nextInt(20) == 0 ? 2 : 1,
                            null,
                            random.nextInt(10) == 0 ? Map.of("kit", 1) : Map.of()),
                    random.nextInt(3) == 0 ? Set.of("meter") : random.nextInt(4) == 0 ? Set.of("set") : Set.of(),
                    outage
                            ? List.of(new ShareProblem.Span(window, window.plusDays(4), Readiness.Outage.GRANTED))
                            : List.of(),
                    null,
                    null,
                    false));
        }
        LocalDate holds = FIRST.plusDays(200);
        return new ShareProblem(
                FIRST.minusDays(1),
                FIRST,
                DAYS,
                new DayRoute(0, 18, 4, 480),
                sites,
                people,
                jobs,
                Map.of("meter", List.of(holds, holds, FIRST.plusDays(20)), "set", List.of(holds, holds)),
                Map.of("kit", List.of(new ShareProblem.Lot(60, FIRST.plusDays(30)), new ShareProblem.Lot(60, null))),
                Set.of());
    }
}
