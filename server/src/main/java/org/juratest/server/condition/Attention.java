package org.juratest.server.condition;

import java.time.Clock;
import java.time.LocalDate;
import java.util.Collection;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Service;

/** What needs attention, for whoever is going there. */
@Service
public class Attention {

    private final FleetRows fleet;
    private final Clock clock;

    Attention(FleetRows fleet, Clock clock) {
        this.fleet = fleet;
        this.clock = clock;
    }

    /**
     * A device that needs attention.
     *
     * @param standing {@code act} or {@code watch}
     * @param reason in a sentence's words
     * @param series the test point that the reason is of; absent where it is of none
     * @param lane likewise
     */
    public record SiteNeed(
            String asset,
            String position,
            String site,
            String model,
            String standing,
            String reason,
            @Nullable String series,
            @Nullable String lane) {}

    /**
     * A device that drifts towards a limit.
     *
     * @param label of the test point that meets it first, and its lane
     * @param meets in which range of time, in words
     * @param from first day of that range
     * @param to last day of it; absent where it is open
     */
    public record Coming(
            String asset,
            String position,
            String siteName,
            String model,
            String standing,
            String label,
            String meets,
            LocalDate crossing,
            @Nullable LocalDate from,
            @Nullable LocalDate to,
            String series,
            String lane) {}

    /** Devices in service whose line meets a limit within some months from now, the soonest first. */
    public List<Coming> coming(int months) {
        return fleet.coming(clock.instant(), months);
    }

    /** At some sites, the gravest and soonest first. */
    public List<SiteNeed> at(Collection<String> sites) {
        return fleet.needsAt(sites, clock.instant()).stream()
                .map(d -> new SiteNeed(
                        d.asset(), d.position(), d.site(), d.model(), d.standing(), d.reason(), d.series(), d.lane()))
                .toList();
    }
}
