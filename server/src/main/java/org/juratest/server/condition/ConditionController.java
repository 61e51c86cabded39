package org.juratest.server.condition;

import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** The condition of the fleet. */
@RestController
@RequestMapping("/api/condition")
class ConditionController {

    private final FleetRows fleet;
    private final Clock clock;

    ConditionController(FleetRows fleet, Clock clock) {
        this.fleet = fleet;
        this.clock = clock;
    }

    /**
     * The fleet, or a part of it.
     *
     * @param counts of the part, whatever standing is asked for
     * @param needs what needs attention in it, the gravest and soonest first
     * @param choices what can be filtered by, by its name, over the whole fleet
     */
    record ConditionView(
            Instant at,
            FleetRows.FleetCounts counts,
            FleetRows.FleetMarks marks,
            List<FleetRows.FleetNeed> needs,
            Map<String, List<FleetRows.FilterChoice>> choices) {}

    @GetMapping
    @Transactional(readOnly = true)
    ConditionView fleet(
            @RequestParam(required = false) @Nullable String family,
            @RequestParam(required = false) @Nullable String site,
            @RequestParam(required = false) @Nullable String model,
            @RequestParam(required = false) @Nullable String standing,
            @RequestParam(required = false) @Nullable Double minAge,
            @RequestParam(required = false) @Nullable Double maxAge) {
        ConditionFilter part = new ConditionFilter(family, site, model, standing, minAge, maxAge);
        Instant now = clock.instant();
        return new ConditionView(
                now,
                fleet.counts(new ConditionFilter(family, site, model, null, minAge, maxAge)),
                fleet.marks(part),
                fleet.needs(part, now),
                fleet.choices());
    }
}
