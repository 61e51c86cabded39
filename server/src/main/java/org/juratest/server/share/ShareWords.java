package org.juratest.server.share;

import java.time.LocalDate;
import java.time.MonthDay;
import java.time.format.DateTimeFormatter;
import java.util.Locale;
import java.util.Map;
import org.juratest.core.share.Share.Obstacle;
import org.juratest.core.share.Share.Reason;
import org.juratest.server.family.Families;

/** Reasons and obstacles of a proposal, in words. */
final class ShareWords {

    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("d MMM yyyy", Locale.UK);
    private static final DateTimeFormatter OF_YEAR = DateTimeFormatter.ofPattern("d MMM", Locale.UK);

    private final Map<String, String> people;
    private final Map<String, String> parts;

    /**
     * @param people names by id
     * @param parts names by code
     */
    ShareWords(Map<String, String> people, Map<String, String> parts) {
        this.people = people;
        this.parts = parts;
    }

    /** What speaks for a day. */
    String of(Reason reason) {
        if (reason instanceof Reason.Over over) {
            return over.days() + (over.days() == 1 ? " day over" : " days over");
        } else if (reason instanceof Reason.WithOutage outage) {
            return "with the outage of " + span(outage.from(), outage.to());
        } else if (reason instanceof Reason.Beside beside) {
            return "beside " + beside.position();
        } else if (reason instanceof Reason.Together together) {
            return "with " + people.getOrDefault(together.person(), together.person()) + " at the site";
        } else if (reason instanceof Reason.OnlyAuthorised only) {
            return "nobody else is authorised for " + only.kind();
        } else if (reason instanceof Reason.SeasonEnds season) {
            return "its season ends on " + OF_YEAR.format(MonthDay.from(season.last()));
        } else if (reason instanceof Reason.Due due) {
            return "due " + DAY.format(due.due());
        }
        return "stays where it is";
    }

    private static String span(LocalDate from, LocalDate to) {
        return from.equals(to) ? DAY.format(from) : OF_YEAR.format(from) + " to " + DAY.format(to);
    }

    /** What stands against every day. */
    String of(Obstacle obstacle) {
        if (obstacle instanceof Obstacle.Barred barred) {
            return "cannot be done as things are: " + barred.why();
        } else if (obstacle instanceof Obstacle.NoDay day) {
            return "no working day of these weeks is left for it from " + DAY.format(day.from()) + " on";
        } else if (obstacle instanceof Obstacle.NoOutage outage) {
            return switch (outage.how()) {
                case REFUSED -> "the outage was refused";
                case ASKED -> "the outage is asked for, not granted yet";
                case GRANTED -> "the outage that is granted leaves no day";
                case NOT_ASKED -> "no outage is asked for on its days";
            };
        } else if (obstacle instanceof Obstacle.NobodyAuthorised kind) {
            return "nobody who works then is authorised for " + kind.kind();
        } else if (obstacle instanceof Obstacle.NobodyThere) {
            return "nobody works on its days";
        } else if (obstacle instanceof Obstacle.OutOfSeason) {
            return "out of season";
        } else if (obstacle instanceof Obstacle.NoParts part) {
            return "too few " + parts.getOrDefault(part.part(), part.part()) + " are usable and free";
        } else if (obstacle instanceof Obstacle.NoGear gear) {
            return "no " + Families.gearWord(gear.role()) + " is in calibration and free";
        } else if (obstacle instanceof Obstacle.TooFewPeople few) {
            return "needs " + few.needed() + " people, and nobody else has work at the site";
        } else if (obstacle instanceof Obstacle.NoAccess) {
            return "the site admits no more work in its weeks";
        } else if (obstacle instanceof Obstacle.OrderedByHand) {
            return "the days left are ordered by hand and do not stop there";
        }
        return "nobody has " + ((Obstacle.NoTime) obstacle).minutes() + " min and the way there left on its days";
    }
}
