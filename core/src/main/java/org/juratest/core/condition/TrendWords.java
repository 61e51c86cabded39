package org.juratest.core.condition;

import java.time.LocalDate;
import java.time.ZoneOffset;

/** A trend in words: what drifts, and when it meets its limit. */
public final class TrendWords {

    /** Beyond, a range is told in years. */
    private static final int SEASONS_WITHIN = 5;

    /** Beyond, a date says nothing. */
    private static final int YEARS_TOLD = 20;

    /** What is said where the line has met the limit already. */
    static final String NOW = "at its limit now";

    private TrendWords() {}

    /**
     * What its last segment says.
     *
     * @param today years since 1970
     */
    public static String of(Trend trend, double today) {
        Trend.Segment last = trend.last();
        if (last == null) {
            return "no readings";
        }
        return switch (last.outlook()) {
            case TOO_FEW ->
                (last.n() == 1 ? "1 reading" : last.n() + " readings") + ", too few for a forecast: it takes "
                        + Trend.FEWEST;
            case NO_DRIFT -> "no drift found";
            case NO_LIMIT -> "drifts, and has no limit to meet";
            case AWAY -> "drifts away from its limit";
            case PAST -> "past the limit";
            case TOWARDS -> meets(last, today);
        };
    }

    private static String meets(Trend.Segment last, double today) {
        Line.Range range = last.range();
        if (range == null || last.crossing().isEmpty()) {
            throw new IllegalStateException("a way to a limit without its range");
        }
        return meets(range, last.crossing().getAsDouble(), today);
    }

    /**
     * A range of time in which a limit is met.
     *
     * @param crossing when the line meets it, years since 1970
     * @param today years since 1970
     */
    public static String meets(Line.Range range, double crossing, double today) {
        if (crossing <= today) {
            return NOW;
        }
        if (range.from() - today > YEARS_TOLD) {
            return "not at its limit within " + YEARS_TOLD + " years";
        }
        boolean open = range.to() - today > YEARS_TOLD;
        if (range.from() <= today) {
            return open
                    ? "not known when it meets its limit: perhaps soon, perhaps never"
                    : "at its limit between now and " + season(range.to(), today);
        }
        String from = season(range.from(), today);
        if (open) {
            return "at its limit not before " + from;
        }
        String to = season(range.to(), today);
        return from.equals(to) ? "at its limit in " + from : "at its limit between " + from + " and " + to;
    }

    /** A season as it is said: "spring 2028", "winter 2028/29"; a year where it is far away. */
    static String season(double years, double today) {
        LocalDate day = LocalDate.ofInstant(Timed.instant(years), ZoneOffset.UTC);
        if (years - today > SEASONS_WITHIN) {
            return String.valueOf(day.getYear());
        }
        return switch (day.getMonthValue()) {
            case 3, 4, 5 -> "spring " + day.getYear();
            case 6, 7, 8 -> "summer " + day.getYear();
            case 9, 10, 11 -> "autumn " + day.getYear();
            default -> {
                int first = day.getMonthValue() == 12 ? day.getYear() : day.getYear() - 1;
                yield "winter " + first + "/" + String.format("%02d", (first + 1) % 100);
            }
        };
    }
}
