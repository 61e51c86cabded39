package org.juratest.server.condition;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.juratest.core.run.Refusal;

/**
 * Which devices of the fleet. What is absent or empty does not narrow.
 *
 * @param model maker and model, as "Orvex M160"
 * @param minAge years since it was first installed, at least
 * @param maxAge years since then, at most
 * @param marginFrom margin used by its worst test point, at least
 * @param marginTo likewise, at most
 * @param driftFrom margin used up in a year by that point, at least; who asks for a drift gets those that have one
 * @param driftTo likewise, at most
 */
record ConditionFilter(
        @Nullable String family,
        @Nullable String site,
        @Nullable String model,
        @Nullable String standing,
        @Nullable Double minAge,
        @Nullable Double maxAge,
        @Nullable Double marginFrom,
        @Nullable Double marginTo,
        @Nullable Double driftFrom,
        @Nullable Double driftTo) {

    /** The whole fleet. */
    static final ConditionFilter NONE = new ConditionFilter(null, null, null, null, null, null, null, null, null, null);

    private static final List<String> STANDINGS = List.of("act", "watch", "sound", "unknown");
    private static final double OLDEST = 1000;
    /** Of a year of 365.25 days. */
    private static final double YEAR_MILLIS = 31_557_600_000.0;

    /** @throws Refusal naming what is no standing, no age, or no figure */
    ConditionFilter checked() {
        if (standing != null && !standing.isEmpty() && !STANDINGS.contains(standing)) {
            throw new Refusal(
                    "unknown-standing",
                    "There is no standing \"" + standing + "\"; there are " + String.join(", ", STANDINGS) + ".",
                    "standing");
        }
        age("minAge", minAge);
        age("maxAge", maxAge);
        figure("marginFrom", marginFrom);
        figure("marginTo", marginTo);
        figure("driftFrom", driftFrom);
        figure("driftTo", driftTo);
        return this;
    }

    private static void age(String field, @Nullable Double years) {
        if (years != null && !(years >= 0 && years <= OLDEST)) {
            throw new Refusal("out-of-range", "An age is 0 to " + (int) OLDEST + " years.", field);
        }
    }

    private static void figure(String field, @Nullable Double value) {
        if (value != null && value.isNaN()) {
            throw new Refusal("out-of-range", "A side of a region is a number.", field);
        }
    }

    /** The same, whatever the standing. */
    ConditionFilter ofAnyStanding() {
        return new ConditionFilter(family, site, model, null, minAge, maxAge, marginFrom, marginTo, driftFrom, driftTo);
    }

    /** The same without a region: what the map shows. */
    ConditionFilter everywhere() {
        return new ConditionFilter(family, site, model, standing, minAge, maxAge, null, null, null, null);
    }

    /** Whether a device is one of them at a time. */
    boolean chooses(Fleet.Device d, Instant now) {
        return equal(family, d.family())
                && equal(site, d.site())
                && equal(model, d.model())
                && equal(standing, d.standing())
                && aged(d.since(), now)
                && within(marginFrom, marginTo, d.margin())
                && within(driftFrom, driftTo, d.drift());
    }

    private static boolean equal(@Nullable String wanted, String value) {
        return wanted == null || wanted.isEmpty() || wanted.equals(value);
    }

    private boolean aged(@Nullable Instant since, Instant now) {
        return minAge == null && maxAge == null
                || since != null
                        && within(minAge, maxAge, Duration.between(since, now).toMillis() / YEAR_MILLIS);
    }

    private static boolean within(@Nullable Double from, @Nullable Double to, @Nullable Double value) {
        return from == null && to == null
                || value != null && (from == null || value >= from) && (to == null || value <= to);
    }
}
