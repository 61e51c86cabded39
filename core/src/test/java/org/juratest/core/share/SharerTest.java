package org.juratest.core.share;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.juratest.core.share.Problems.FIRST;
import static org.juratest.core.share.Problems.NOTHING;
import static org.juratest.core.share.Problems.job;
import static org.juratest.core.share.Problems.worker;

import java.time.Duration;
import java.time.LocalDate;
import java.time.MonthDay;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.juratest.core.plan.Readiness;
import org.juratest.core.plan.Readiness.Authorisation;
import org.juratest.core.plan.Season;
import org.juratest.core.share.Share.Obstacle;
import org.juratest.core.share.Share.Reason;
import org.juratest.core.share.ShareProblem.Job;
import org.juratest.core.share.ShareProblem.PersonDay;

class SharerTest {

    private static final LocalDate FRIDAY = FIRST.plusDays(4);

    /** Ends after so many moves, whatever the machine's pace. */
    private static Share solved(ShareProblem problem, long moves) {
        return new Sharer(problem, new Sharer.Limits(Duration.ofMinutes(2), Duration.ofMinutes(2), moves))
                .share(() -> {});
    }

    private static Share solved(ShareProblem problem) {
        return solved(problem, 3000);
    }

    private static List<Obstacle> obstacles(ShareProblem problem, long job) {
        return solved(problem).unplaced().stream()
                .filter(u -> u.job().id() == job)
                .findFirst()
                .orElseThrow()
                .obstacles();
    }

    private static Share.Placed placed(Share share, long job) {
        return share.placed().stream()
                .filter(p -> p.job().id() == job)
                .findFirst()
                .orElseThrow();
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8})
    void noRuleIsBrokenAndEveryJobIsAccountedFor(long seed) {
        ShareProblem problem = Problems.random(seed, 14, 4, 70);
        Share share = solved(problem, 40_000);
        assertEquals(List.of(), RulesBroken.in(problem, share));
        assertTrue(share.placed().size() > 15, "placed: " + share.placed().size());
        assertTrue(share.unplaced().stream().noneMatch(u -> u.obstacles().isEmpty()), "each says why");
        Set<Long> told = Stream.concat(
                        share.placed().stream().map(p -> p.job().id()),
                        share.unplaced().stream().map(u -> u.job().id()))
                .collect(Collectors.toSet());
        assertEquals(share.placed().size() + share.unplaced().size(), told.size(), "none is told twice");
        problem.jobs().stream()
                .filter(j -> !j.fixed() && !j.closes().isAfter(problem.last()))
                .forEach(j -> assertTrue(told.contains(j.id()), "job " + j.id() + " is neither placed nor explained"));
        assertTrue(share.placed().stream().noneMatch(p -> p.reasons().isEmpty()), "each says why there");
    }

    @ParameterizedTest
    @ValueSource(longs = {11, 12, 13, 14})
    void nearestFirstBreaksNoRuleEitherAndIsNotBetter(long seed) {
        ShareProblem problem = Problems.random(seed, 14, 4, 60);
        Share plain = NearestFirst.share(problem);
        assertEquals(List.of(), RulesBroken.in(problem, plain));
        Share solved = solved(problem, 60_000);
        long weightPlain = weight(problem, plain);
        long weightSolved = weight(problem, solved);
        assertTrue(weightSolved >= weightPlain, weightSolved + " is placed, plainly " + weightPlain);
    }

    private static long weight(ShareProblem problem, Share share) {
        return share.placed().stream()
                .mapToLong(p -> ShareScore.weight(problem, p.job()))
                .sum();
    }

    /** One day far out on the line for all that is there beats a day for each. */
    @Test
    void whatLiesTogetherIsDoneTogether() {
        List<Job> jobs = new ArrayList<>();
        for (int i = 0; i < 6; i++) {
            jobs.add(job(i, i % 2 == 0 ? "B" : "C", 60, FIRST, FRIDAY, NOTHING));
        }
        ShareProblem problem = Problems.of(5, List.of(worker("p0"), worker("p1")), jobs.toArray(Job[]::new));
        Share share = solved(problem, 20_000);
        assertEquals(6, share.placed().size());
        // All six on one way: 360 min of work, and 4 + 20, 4 + 30, 4 + 50 min of travel are more than the 480 there
        // are together only if somebody goes out twice.
        assertEquals(112, share.travel());
        assertEquals(1, share.placed().stream().map(Share.Placed::at).distinct().count());
    }

    @Test
    void whatPeopleFixedStaysAndIsJoined() {
        Job fixed = Problems.fixed(job(1, "C", 60, FIRST, FRIDAY, NOTHING), "p1", FIRST.plusDays(2));
        ShareProblem problem =
                Problems.of(5, List.of(worker("p0"), worker("p1")), fixed, job(2, "C", 60, FIRST, FRIDAY, NOTHING));
        Share share = solved(problem);
        assertEquals(List.of(2L), share.placed().stream().map(p -> p.job().id()).toList());
        assertEquals(new PersonDay("p1", FIRST.plusDays(2)), placed(share, 2).at());
        assertTrue(placed(share, 2).reasons().contains(new Reason.Beside("C-1")));
    }

    @Test
    void anOutageIsUsedAndSaid() {
        Readiness.Needs needs = new Readiness.Needs(true, null, 1, null, Map.of());
        Job job = new Job(
                1,
                "B-1",
                "B",
                60,
                FIRST,
                FRIDAY,
                FRIDAY,
                null,
                needs,
                Set.of(),
                List.of(
                        new ShareProblem.Span(FIRST, FIRST, Readiness.Outage.REFUSED),
                        new ShareProblem.Span(FIRST.plusDays(2), FIRST.plusDays(2), Readiness.Outage.GRANTED)),
                null,
                null,
                false);
        Share share = solved(Problems.of(5, List.of(worker("p0")), job));
        assertEquals(FIRST.plusDays(2), placed(share, 1).at().day());
        assertTrue(placed(share, 1).reasons().contains(new Reason.WithOutage(FIRST.plusDays(2), FIRST.plusDays(2))));
    }

    @Test
    void whatIsOverComesFirstAndADueDateIsNotPassed() {
        Job over = job(1, "B", 60, FIRST.minusDays(30), FIRST.minusDays(10), NOTHING);
        Job later = new Job(
                2,
                "C-2",
                "C",
                60,
                FIRST,
                FIRST.plusDays(2),
                FRIDAY,
                null,
                NOTHING,
                Set.of(),
                List.of(),
                null,
                null,
                false);
        Share share = solved(Problems.of(5, List.of(worker("p0")), over, later));
        assertEquals(FIRST, placed(share, 1).at().day());
        assertTrue(
                placed(share, 1).reasons().contains(new Reason.Over(9)),
                placed(share, 1).reasons().toString());
        assertTrue(!placed(share, 2).at().day().isAfter(FIRST.plusDays(2)));
    }

    @Test
    void twoPeopleMeetWhereTwoAreNeeded() {
        Job pair = job(1, "C", 60, FIRST, FRIDAY, new Readiness.Needs(false, null, 2, null, Map.of()));
        Job beside = job(2, "C", 400, FIRST, FRIDAY, NOTHING);
        ShareProblem problem = Problems.of(5, List.of(worker("p0"), worker("p1")), pair, beside);
        // 400 min and the way to C and back, 108 min, are more than a day.
        assertEquals(List.of(new Obstacle.TooFewPeople(2)), obstacles(problem, 1));
        Job shorter = job(2, "C", 360, FIRST, FRIDAY, NOTHING);
        Share share = solved(Problems.of(5, List.of(worker("p0"), worker("p1")), pair, shorter));
        assertEquals(placed(share, 1).at().day(), placed(share, 2).at().day());
        assertTrue(!placed(share, 1).at().person().equals(placed(share, 2).at().person()));
        assertTrue(placed(share, 1)
                .reasons()
                .contains(new Reason.Together(placed(share, 2).at().person())));
    }

    @Test
    void whatCannotBePlacedSaysWhy() {
        Readiness.Needs outage = new Readiness.Needs(true, null, 1, null, Map.of());
        Readiness.Needs height = new Readiness.Needs(false, "height", 1, null, Map.of());
        Readiness.Needs summer =
                new Readiness.Needs(false, null, 1, new Season(MonthDay.of(5, 1), MonthDay.of(10, 31)), Map.of());
        Readiness.Needs kit = new Readiness.Needs(false, null, 1, null, Map.of("kit", 2));
        Job barred = new Job(
                6, "B-6", "B", 60, FIRST, FRIDAY, FRIDAY, null, NOTHING, Set.of(), List.of(), "no access", null, false);
        Job geared = new Job(
                7, "B-7", "B", 60, FIRST, FRIDAY, FRIDAY, null, NOTHING, Set.of("meter"), List.of(), null, null, false);
        ShareProblem problem = Problems.of(
                5,
                List.of(worker("p0", new Authorisation("p0", "height", FIRST.minusYears(2), FIRST.minusDays(1)))),
                job(1, "B", 60, FIRST, FRIDAY, outage),
                job(2, "B", 60, FIRST, FRIDAY, height),
                job(3, "B", 60, FIRST, FRIDAY, summer),
                job(4, "B", 60, FIRST, FRIDAY, kit),
                job(5, "C", 420, FIRST, FRIDAY, NOTHING),
                barred,
                geared,
                job(8, "B", 60, FIRST.minusDays(3), FIRST.minusDays(1), NOTHING));
        Share share = solved(problem);
        assertEquals(List.of(), share.placed());
        Map<Long, List<Obstacle>> why =
                share.unplaced().stream().collect(Collectors.toMap(u -> u.job().id(), Share.Unplaced::obstacles));
        assertEquals(List.of(new Obstacle.NoOutage(Readiness.Outage.NOT_ASKED)), why.get(1L));
        assertEquals(List.of(new Obstacle.NobodyAuthorised("height")), why.get(2L));
        assertEquals(List.of(new Obstacle.OutOfSeason()), why.get(3L));
        assertEquals(List.of(new Obstacle.NoParts("kit")), why.get(4L));
        assertEquals(List.of(new Obstacle.NoTime(420)), why.get(5L));
        assertEquals(List.of(new Obstacle.Barred("no access")), why.get(6L));
        assertEquals(List.of(new Obstacle.NoGear("meter")), why.get(7L));
        // Its window closes today: it is not over yet, and no day of it is left.
        assertEquals(List.of(new Obstacle.NoDay(FIRST.minusDays(3))), why.get(8L));
    }

    @Test
    void aSecondPersonFindsTheGearTaken() {
        List<Job> jobs = new ArrayList<>();
        for (int i = 0; i < 2; i++) {
            jobs.add(new Job(
                    i,
                    "C-" + i,
                    "C",
                    300,
                    FIRST,
                    FIRST,
                    FIRST,
                    null,
                    NOTHING,
                    Set.of("meter"),
                    List.of(),
                    null,
                    null,
                    false));
        }
        ShareProblem one = Problems.of(1, List.of(worker("p0"), worker("p1")), jobs.toArray(Job[]::new));
        ShareProblem problem = new ShareProblem(
                one.today(),
                one.first(),
                1,
                one.line(),
                one.sites(),
                one.people(),
                one.jobs(),
                Map.of("meter", List.of(FIRST)),
                Map.of(),
                Set.of());
        Share share = solved(problem);
        assertEquals(1, share.placed().size());
        assertEquals(
                Set.of(new Obstacle.NoGear("meter"), new Obstacle.NoTime(300)),
                Set.copyOf(share.unplaced().get(0).obstacles()));
    }

    @Test
    void whatIsNotAskedForYetIsTakenAlongOnlyWhereItCostsNothing() {
        LocalDate far = FIRST.plusDays(18);
        Job needed = job(1, "C", 60, FIRST, FRIDAY, NOTHING);
        Job near = new Job(2, "C-2", "C", 30, FIRST, far, far, null, NOTHING, Set.of(), List.of(), null, null, false);
        Job away = new Job(
                3,
                "B-3",
                "A",
                30,
                FIRST,
                far.plusDays(60),
                far.plusDays(60),
                null,
                NOTHING,
                Set.of(),
                List.of(),
                null,
                null,
                false);
        Share share = solved(Problems.of(5, List.of(worker("p0")), needed, near, away));
        assertEquals(
                List.of(1L, 2L),
                share.placed().stream().map(p -> p.job().id()).sorted().toList());
        assertEquals(List.of(), share.unplaced(), "what may wait is no failure");
    }

    /** Stopped before anything was looked at, and after the first news: what there is breaks no rule. */
    @Test
    void itIsStoppedWithTheBestSoFar() {
        ShareProblem problem = Problems.random(5, 28, 5, 150);
        Sharer never = new Sharer(problem, new Sharer.Limits(Duration.ofMinutes(5), Duration.ofMinutes(5), null));
        never.stop();
        assertEquals(List.of(), never.share(() -> {}).placed());
        Sharer sharer = new Sharer(problem, new Sharer.Limits(Duration.ofMinutes(5), Duration.ofMinutes(5), null));
        Share share = sharer.share(() -> {
            if (sharer.progress().placed() > 40) {
                sharer.stop();
            }
        });
        assertTrue(share.placed().size() > 40, "placed: " + share.placed().size());
        assertEquals(List.of(), RulesBroken.in(problem, share));
        assertTrue(sharer.progress().of() >= sharer.progress().placed());
    }

    @Test
    void whatMakesNoSenseIsRefused() {
        assertThrows(IllegalArgumentException.class, () -> Problems.of(0, List.of()));
        assertThrows(
                IllegalArgumentException.class,
                () -> Problems.of(5, List.of(), job(1, "X", 60, FIRST, FRIDAY, NOTHING)));
        assertThrows(IllegalArgumentException.class, () -> job(1, "A", -1, FIRST, FRIDAY, NOTHING));
    }
}
