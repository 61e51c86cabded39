package org.juratest.server.plan;

import java.time.LocalDate;
import java.time.MonthDay;
import java.time.Period;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.juratest.core.plan.Interval;
import org.juratest.core.plan.Occasion;
import org.juratest.core.plan.Once;
import org.juratest.core.plan.Readiness;
import org.juratest.core.plan.Recurrence;
import org.juratest.core.plan.Season;
import org.juratest.core.plan.Timing;

/**
 * That a procedure is due.
 *
 * @param id 0 for one that is not stored yet
 * @param revision counts its changes; what a change is made against
 * @param occasion {@code interval}, or what asks for it once
 * @param assetClass it applies to; absent where it names positions
 * @param model "Maker Model" it is narrowed to; absent for all of the class
 * @param positions codes it applies to; empty where it names a class
 * @param every {@code months}, {@code days}, {@code hours}, {@code operations} or {@code between}; absent where it is
 *     due once
 * @param amount of the interval; the days within which it is due after what asks for it, where it is due once
 * @param amountTo last day of a regime that gives its window itself
 * @param counting {@code due} or {@code done}: what the next date counts from
 * @param before ISO 8601 period before its day from which on it may be done
 * @param after ISO 8601 period after its day until which it may be done
 * @param anchor day the first interval counts from; absent for the day the device was installed
 * @param starts first day on which it asks for anything
 * @param reason {@code law}, {@code standard}, {@code maker} or {@code risk}
 * @param basis what says so, in words
 * @param leadDays days before its day from which on arrangements are made
 * @param minutes it takes; absent for as long as the procedure says
 * @param authorisation kind that whoever does it holds; absent for none
 * @param seasonFrom first day of the year on which it can be done, {@code --05-01}; absent for all year
 * @param seasonTo last one
 * @param parts how many of each part it needs, by code
 * @param covers procedures that its own contains
 * @param ended lays no more jobs
 */
public record Plan(
        long id,
        int revision,
        String title,
        String procedure,
        String occasion,
        @Nullable String assetClass,
        @Nullable String model,
        List<String> positions,
        @Nullable String every,
        double amount,
        @Nullable Double amountTo,
        String counting,
        String before,
        String after,
        @Nullable LocalDate anchor,
        LocalDate starts,
        String reason,
        String basis,
        int leadDays,
        @Nullable Integer minutes,
        int people,
        boolean outage,
        @Nullable String authorisation,
        @Nullable String seasonFrom,
        @Nullable String seasonTo,
        Map<String, Integer> parts,
        List<String> covers,
        boolean ended) {

    static final String INTERVAL = "interval";

    /**
     * When it is due on a device.
     *
     * @param installed day the device came to where it stands
     * @throws IllegalArgumentException telling what is wrong with the interval
     */
    public Timing timing(LocalDate installed) {
        if (every == null) {
            return new Once(
                    Occasion.valueOf(occasion.toUpperCase(Locale.ROOT)),
                    Period.ofDays(whole(amount, "days")),
                    Period.parse(after));
        }
        Interval interval =
                switch (every) {
                    case "months" -> new Interval.Months(whole(amount, "months"));
                    case "days" -> new Interval.Days(whole(amount, "days"));
                    case "hours" -> new Interval.RunningHours(amount);
                    case "operations" -> new Interval.Operations(whole(amount, "operations"));
                    default ->
                        new Interval.Between(whole(amount, "days"), whole(amountTo == null ? 0 : amountTo, "days"));
                };
        return new Recurrence(
                interval,
                Recurrence.Counting.valueOf(counting.toUpperCase(Locale.ROOT)),
                Period.parse(before),
                Period.parse(after),
                anchor == null ? installed : anchor);
    }

    private static int whole(double value, String what) {
        if (value != Math.rint(value) || Math.abs(value) > 1e9) {
            throw new IllegalArgumentException("the number of " + what + " is whole, not " + value);
        }
        return (int) value;
    }

    boolean counted() {
        return "hours".equals(every) || "operations".equals(every);
    }

    /**
     * Narrower ones come first where two say the same procedure of one asset: positions before a model, a model before
     * a class.
     */
    int narrowness() {
        return assetClass == null ? 2 : model == null ? 0 : 1;
    }

    boolean appliesTo(String ofClass, String ofModel, String position) {
        return assetClass == null
                ? positions.contains(position)
                : assetClass.equals(ofClass) && (model == null || model.equals(ofModel));
    }

    public Readiness.Needs needs() {
        return new Readiness.Needs(
                outage,
                authorisation,
                people,
                seasonFrom == null || seasonTo == null
                        ? null
                        : new Season(MonthDay.parse(seasonFrom), MonthDay.parse(seasonTo)),
                parts);
    }

    /** Why a job of it is due, in words: yearly, every 250 running hours, after an exchange. */
    public String why() {
        int n = (int) amount;
        if (every == null) {
            return switch (occasion) {
                case "acceptance" -> "acceptance";
                case "exchange" -> "after an exchange";
                case "repair" -> "after a repair";
                case "firmware" -> "after new firmware";
                case "setting" -> "after a changed setting";
                default -> "watch list";
            };
        }
        return switch (every) {
            case "months" ->
                n == 1
                        ? "monthly"
                        : n == 3
                                ? "quarterly"
                                : n == 6
                                        ? "half-yearly"
                                        : n == 12
                                                ? "yearly"
                                                : n % 12 == 0 ? "every " + n / 12 + " years" : "every " + n + " months";
            case "days" ->
                n == 1
                        ? "daily"
                        : n == 7 ? "weekly" : n % 7 == 0 ? "every " + n / 7 + " weeks" : "every " + n + " days";
            case "hours" -> "every " + n + " running hours";
            case "operations" -> "every " + n + " operations";
            default -> n + " to " + (amountTo == null ? n : amountTo.intValue()) + " days after the last";
        };
    }
}
