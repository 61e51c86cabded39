package org.juratest.core.share;

import java.time.LocalDate;
import java.util.List;

/**
 * A way to share jobs out.
 *
 * @param placed the jobs that were placed or left where they stand, fixed ones not among them, by day, person and place
 *     along the line
 * @param unplaced those for which no day was found
 * @param travel minutes of everybody's travel on all days, with fixed jobs
 * @param work minutes of everybody's work on all days, with fixed jobs
 */
public record Share(List<Placed> placed, List<Unplaced> unplaced, int travel, int work) {

    public Share {
        placed = List.copyOf(placed);
        unplaced = List.copyOf(unplaced);
    }

    /** What stands in today's plan, with its travel; nothing is explained. */
    public static Share ofToday(ShareProblem problem) {
        return Explained.today(problem);
    }

    /** A job on somebody's day, and why there. */
    public record Placed(ShareProblem.Job job, ShareProblem.PersonDay at, List<Reason> reasons) {}

    /** A job that has no day, and why not. */
    public record Unplaced(ShareProblem.Job job, List<Obstacle> obstacles) {}

    /** What speaks for a day. */
    public sealed interface Reason {

        /** The window was over before the first day: the sooner the better. */
        record Over(long days) implements Reason {}

        /** An outage that is granted. */
        record WithOutage(LocalDate from, LocalDate to) implements Reason {}

        /** Another job at the same site on the same day, of the same person. */
        record Beside(String position) implements Reason {}

        /** Somebody else at the site, without whom it could not be done. */
        record Together(String person) implements Reason {}

        /** Nobody else is authorised on the days it could be done. */
        record OnlyAuthorised(String kind) implements Reason {}

        /** The season ends soon after. */
        record SeasonEnds(LocalDate last) implements Reason {}

        /** It is due on that day or within days of it. */
        record Due(LocalDate due) implements Reason {}

        /** It stands there in today's plan. */
        record Stays() implements Reason {}
    }

    /** What stood against every day. */
    public sealed interface Obstacle {

        /** Said by a person, or by a mark on the device. */
        record Barred(String why) implements Obstacle {}

        /** Its window, or its deferral, leaves no day of those that are shared out. */
        record NoDay(LocalDate from) implements Obstacle {}

        /** No outage is granted on any of its days; how one stands that would do. */
        record NoOutage(org.juratest.core.plan.Readiness.Outage how) implements Obstacle {}

        /** Nobody who works on one of its days holds the authorisation. */
        record NobodyAuthorised(String kind) implements Obstacle {}

        /** Nobody works on any of its days. */
        record NobodyThere() implements Obstacle {}

        /** Its season leaves no day. */
        record OutOfSeason() implements Obstacle {}

        /** Too few parts are usable, or others take them. */
        record NoParts(String part) implements Obstacle {}

        /** No gear of the role is in calibration and free. */
        record NoGear(String role) implements Obstacle {}

        /** It needs others at the site, and nobody else has work there. */
        record TooFewPeople(int needed) implements Obstacle {}

        /** The site admits no more work in its weeks. */
        record NoAccess() implements Obstacle {}

        /** The only days left are ordered by hand and do not stop there. */
        record OrderedByHand() implements Obstacle {}

        /** Nobody has so many minutes left, with the way there. */
        record NoTime(int minutes) implements Obstacle {}
    }
}
