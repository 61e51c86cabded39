package org.juratest.server.condition;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.juratest.core.run.Refusal;
import org.springframework.jdbc.core.namedparam.MapSqlParameterSource;

/**
 * Which devices of the fleet.
 *
 * @param model maker and model, as "Orvex M160"
 * @param minAge years since it was first installed, at least
 * @param maxAge years since then, at most
 */
record ConditionFilter(
        @Nullable String family,
        @Nullable String site,
        @Nullable String model,
        @Nullable String standing,
        @Nullable Double minAge,
        @Nullable Double maxAge) {

    private static final List<String> STANDINGS = List.of("act", "watch", "sound", "unknown");
    private static final double OLDEST = 1000;

    /** @throws Refusal naming what is no standing or no age */
    ConditionFilter {
        if (standing != null && !STANDINGS.contains(standing)) {
            throw new Refusal(
                    "unknown-standing",
                    "There is no standing \"" + standing + "\"; there are " + String.join(", ", STANDINGS) + ".",
                    "standing");
        }
        age("minAge", minAge);
        age("maxAge", maxAge);
    }

    private static void age(String field, @Nullable Double years) {
        if (years != null && !(years >= 0 && years <= OLDEST)) {
            throw new Refusal("out-of-range", "An age is 0 to " + (int) OLDEST + " years.", field);
        }
    }

    /** Conditions on a row {@code v} of {@link FleetRows}, joined by AND; true where nothing is asked. */
    String where(MapSqlParameterSource values) {
        List<String> all = new ArrayList<>();
        equal(all, values, "family", family);
        equal(all, values, "site", site);
        equal(all, values, "model", model);
        equal(all, values, "standing", standing);
        if (minAge != null) {
            all.add("v.since <= now() - make_interval(secs => :minAge * 31557600)");
            values.addValue("minAge", minAge);
        }
        if (maxAge != null) {
            all.add("v.since >= now() - make_interval(secs => :maxAge * 31557600)");
            values.addValue("maxAge", maxAge);
        }
        return all.isEmpty() ? "true" : String.join(" AND ", all);
    }

    private static void equal(List<String> all, MapSqlParameterSource values, String column, @Nullable String wanted) {
        if (wanted != null && !wanted.isEmpty()) {
            all.add("v." + column + " = :" + column);
            values.addValue(column, wanted);
        }
    }
}
