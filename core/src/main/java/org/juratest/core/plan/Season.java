package org.juratest.core.plan;

import java.time.LocalDate;
import java.time.MonthDay;

/**
 * The part of the year in which something can be done; may reach over the new year.
 *
 * @param from first day
 * @param to last day
 */
public record Season(MonthDay from, MonthDay to) {

    public boolean holds(LocalDate day) {
        MonthDay on = MonthDay.from(day);
        boolean afterFrom = !on.isBefore(from);
        boolean beforeTo = !on.isAfter(to);
        return from.isAfter(to) ? afterFrom || beforeTo : afterFrom && beforeTo;
    }
}
