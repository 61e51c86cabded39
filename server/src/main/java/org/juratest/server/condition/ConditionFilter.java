package org.juratest.server.condition;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.juratest.core.run.Refusal;
import org.springframework.jdbc.core.namedparam.MapSqlParameterSource;

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

    /** Conditions on a row {@code v} of {@link FleetRows}, joined by AND; true where nothing is asked. */
    String where(MapSqlParameterSource values) {
        List<String> all = new ArrayList<>();
        equal(all, values, "family", family);
        equal(all, values, "site", site);
        equal(all, values, "model", model);
        equal(all, values, "standing", standing);
        bound(all, values, "minAge", minAge, "v.since <= now() - make_interval(secs => :minAge * 31557600)");
        bound(all, values, "maxAge", maxAge, "v.since >= now() - make_interval(secs => :maxAge * 31557600)");
        bound(all, values, "marginFrom", marginFrom, "v.margin >= :marginFrom");
        bound(all, values, "marginTo", marginTo, "v.margin <= :marginTo");
        bound(all, values, "driftFrom", driftFrom, "v.drift >= :driftFrom");
        bound(all, values, "driftTo", driftTo, "v.drift <= :driftTo");
        return all.isEmpty() ? "true" : String.join(" AND ", all);
    }

    private static void equal(List<String> all, MapSqlParameterSource values, String column, @Nullable String wanted) {
        if (wanted != null && !wanted.isEmpty()) {
            all.add("v." + column + " = :" + column);
            values.addValue(column, wanted);
        }
    }

    private static void bound(
            List<String> all, MapSqlParameterSource values, String name, @Nullable Double bound, String condition) {
        if (bound != null) {
            all.add(condition);
            values.addValue(name, bound);
        }
    }
}
