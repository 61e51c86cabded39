package org.juratest.server.share;

import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A proposal, as it stands now beside today's plan.
 *
 * @param status {@code working}, {@code ready}, {@code failed} or {@code thrown away}
 * @param why it failed; absent where it did not
 * @param placed jobs that have a day, so far
 * @param asked jobs there are to place
 * @param travel minutes of everybody's travel on all days, so far; {@code travelNow} as planned today
 * @param seconds it took so far
 * @param most seconds it takes
 * @param lines what is placed and what people fixed, by day, person and place along the line; empty while it works
 */
record ProposalView(
        long id,
        String status,
        @Nullable String why,
        String by,
        String byName,
        Instant at,
        LocalDate today,
        LocalDate first,
        LocalDate last,
        int placed,
        int asked,
        int travel,
        int travelNow,
        double seconds,
        double most,
        List<ProposalLine> lines,
        List<ProposalLeft> left,
        List<ProposalPerson> people) {

    /**
     * A job on its proposed day.
     *
     * @param state {@code open} to be taken up, {@code taken} where it stands there now, {@code fixed} where a person
     *     put it, {@code changed} where somebody decided otherwise since
     * @param wasDay its day in today's plan; absent for none
     * @param reasons why there, in words
     */
    record ProposalLine(
            long job,
            String position,
            String asset,
            String siteName,
            String title,
            LocalDate due,
            int minutes,
            LocalDate day,
            String person,
            @Nullable LocalDate wasDay,
            @Nullable String wasPerson,
            List<String> reasons,
            String state) {}

    /**
     * A job that has no day.
     *
     * @param words why not
     */
    record ProposalLeft(
            long job, String position, String siteName, String title, LocalDate due, int minutes, List<String> words) {}

    /** Somebody among whom it is shared. */
    record ProposalPerson(String id, String name, int minutesADay) {}
}
