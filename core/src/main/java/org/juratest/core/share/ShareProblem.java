package org.juratest.core.share;

import java.time.DayOfWeek;
import java.time.LocalDate;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.juratest.core.plan.DayRoute;
import org.juratest.core.plan.Readiness;

/**
 * What is to be shared out, and what it has to keep to.
 *
 * @param today a job whose window closed before it is over, and may be done on any day
 * @param first day that may be used
 * @param days how many, weekends counted: 1 to 400
 * @param line how people travel; the hour at which they leave is of no account
 * @param sites where jobs are, in any order
 * @param people who may be given jobs
 * @param jobs what is to be placed, and what people have fixed: that takes time and gear, and stays
 * @param gear last days of calibration of the items there are, by role; a role that is not named has none
 * @param lots usable parts, by code
 * @param byHand days whose stops were ordered by hand: they take nothing at other stops
 */
public record ShareProblem(
        LocalDate today,
        LocalDate first,
        int days,
        DayRoute line,
        List<Site> sites,
        List<Worker> people,
        List<Job> jobs,
        Map<String, List<LocalDate>> gear,
        Map<String, List<Lot>> lots,
        Set<PersonDay> byHand) {

    /** Days of a week on which people work. */
    private static final int WORKING_DAYS = 5;

    public ShareProblem {
        sites = List.copyOf(sites);
        people = List.copyOf(people);
        jobs = List.copyOf(jobs);
        gear = Map.copyOf(gear);
        lots = Map.copyOf(lots);
        byHand = Set.copyOf(byHand);
        if (days < 1 || days > 400) {
            throw new IllegalArgumentException("1 to 400 days are shared out, not " + days);
        }
        Set<String> known = new HashSet<>();
        sites.forEach(s -> known.add(s.code));
        if (known.size() < sites.size()) {
            throw new IllegalArgumentException("a site is named twice");
        }
        jobs.forEach(j -> {
            if (!known.contains(j.site)) {
                throw new IllegalArgumentException("job " + j.id + " is at \"" + j.site + "\", which is no site");
            }
        });
    }

    /**
     * A site.
     *
     * @param km along the line
     * @param accessMinutes of work a week that the site admits; absent where nobody said
     */
    public record Site(String code, double km, @Nullable Integer accessMinutes) {}

    /**
     * Somebody who can be given jobs.
     *
     * @param minutesADay of work and travel
     * @param away days of absence; weekends need not be named
     */
    public record Worker(
            String id, int minutesADay, Set<LocalDate> away, List<Readiness.Authorisation> authorisations) {

        public Worker {
            away = Set.copyOf(away);
            authorisations = List.copyOf(authorisations);
        }

        boolean works(LocalDate day) {
            return day.getDayOfWeek().getValue() <= WORKING_DAYS && !away.contains(day);
        }
    }

    /** Somebody on a day. */
    public record PersonDay(String person, LocalDate day) {}

    /**
     * A lot of a part.
     *
     * @param expires last day it is usable; absent for one that does not expire
     */
    public record Lot(int count, @Nullable LocalDate expires) {}

    /** An outage or permit that a job can use: first and last day, and how it stands. */
    public record Span(LocalDate from, LocalDate to, Readiness.Outage state) {

        boolean holds(LocalDate day) {
            return !day.isBefore(from) && !day.isAfter(to);
        }
    }

    /**
     * A job.
     *
     * @param minutes of work
     * @param opens first day of its window
     * @param due day it counts for
     * @param closes last day of its window
     * @param until first day it may be done, as somebody deferred it, past its window if need be; absent for no
     *     deferral
     * @param needs of its plan
     * @param gear roles of the gear it needs
     * @param outages that cover its position
     * @param barred why it cannot be done as things are; absent where nothing bars it
     * @param now where it stands in today's plan; absent while it is on nobody's day
     * @param fixed whether a person put it there: it stays
     */
    public record Job(
            long id,
            String position,
            String site,
            int minutes,
            LocalDate opens,
            LocalDate due,
            LocalDate closes,
            @Nullable LocalDate until,
            Readiness.Needs needs,
            Set<String> gear,
            List<Span> outages,
            @Nullable String barred,
            @Nullable PersonDay now,
            boolean fixed) {

        public Job {
            gear = Set.copyOf(gear);
            outages = List.copyOf(outages);
            if (minutes < 0) {
                throw new IllegalArgumentException("job " + id + " takes " + minutes + " min");
            }
            if (fixed && now == null) {
                throw new IllegalArgumentException("job " + id + " is fixed to no day");
            }
        }

        /** Whether its window was over before a day. */
        boolean over(LocalDate today) {
            return closes.isBefore(today);
        }

        /** Whether its window, or what a deferral made of it, holds a day. */
        boolean admits(LocalDate day, LocalDate today) {
            LocalDate end = until != null && until.isAfter(closes) ? until : closes;
            return !day.isBefore(until != null && until.isAfter(opens) ? until : opens)
                    && (over(today) || !day.isAfter(end));
        }

        /** How the outage stands that it would use on a day. */
        Readiness.Outage outage(LocalDate day) {
            return Readiness.outage(
                    outages.stream().filter(o -> o.holds(day)).map(Span::state).toList());
        }
    }

    LocalDate day(int index) {
        return first.plusDays(index);
    }

    /** Weeks of the calendar that the days lie in, the first being 0. */
    int week(int day) {
        return (day + first.getDayOfWeek().getValue() - DayOfWeek.MONDAY.getValue()) / 7;
    }

    LocalDate last() {
        return first.plusDays(days - 1L);
    }
}
