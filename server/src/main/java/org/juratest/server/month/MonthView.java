package org.juratest.server.month;

import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.juratest.server.condition.Attention;

/**
 * A month of the fleet on one page.
 *
 * @param month as 2026-11
 * @param name as "November 2026"
 * @param today day of asking
 * @param own its figures
 * @param year the figures of the twelve months that end with it, oldest first
 * @param failed devices that failed at a test in the month, the latest first
 * @param repaired what was found and put right in it, the latest first
 * @param inService failures between tests in it, the latest first
 * @param coming devices that meet a limit within 12 months from today, the soonest first
 * @param moved jobs that were deferred or could not be done, the latest first
 * @param steps what fails most often in the twelve months, the most often first
 */
record MonthView(
        String month,
        String name,
        LocalDate today,
        MonthFigures own,
        List<MonthFigures> year,
        List<FailedTest> failed,
        List<PutRight> repaired,
        List<ServiceFailure> inService,
        List<Attention.Coming> coming,
        List<MovedJob> moved,
        List<FailingPoint> steps) {

    /**
     * Figures of a month.
     *
     * @param due jobs whose day lies in it
     * @param inWindow done in their window
     * @param late done after it
     * @param missed went by undone
     * @param over open still, their window closed
     * @param ahead open still
     * @param tested records of it
     * @param first of these passed at once: complete, and nothing was adjusted to get there
     * @param failed records that failed
     * @param putRight devices that were adjusted at a test, or repaired
     * @param inService failures between tests
     */
    record MonthFigures(
            String month,
            String name,
            int due,
            int inWindow,
            int late,
            int missed,
            int over,
            int ahead,
            int tested,
            int first,
            int failed,
            int putRight,
            int inService) {}

    /**
     * A device that failed at a test.
     *
     * @param what the point that was farthest past its limit, with its figure
     * @param since what became of it, in words
     */
    record FailedTest(
            String record, String asset, String position, String model, Instant at, String what, String since) {}

    /** Something put right; {@code record} is absent where it was not in the course of a test. */
    record PutRight(String position, Instant at, String what, @Nullable String record) {}

    record ServiceFailure(String position, Instant at, String what) {}

    /**
     * A job that did not stay where it was.
     *
     * @param until day it was deferred to; absent where it could not be done
     */
    record MovedJob(
            String position,
            String title,
            LocalDate due,
            @Nullable LocalDate until,
            String why,
            String by,
            Instant at) {}

    /**
     * A test point by how often it fails.
     *
     * @param failed records in which it did
     * @param of records in which it was judged
     */
    record FailingPoint(String title, String label, int failed, int of) {}
}
