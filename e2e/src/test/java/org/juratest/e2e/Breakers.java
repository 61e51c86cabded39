package org.juratest.e2e;

import java.util.List;
import java.util.Map;
import java.util.function.Predicate;
import org.juratest.server.command.ApiClient;
import tools.jackson.databind.JsonNode;

/** Jobs on breakers for journeys, whatever the plans happen to lay on the day the tests run. */
final class Breakers {

    private static final String STAR = "MFR-CBK-07";
    private static final Predicate<JsonNode> ON_A_BREAKER =
            j -> j.path("position").asString().contains("-CBK-")
                    && !j.path("position").asString().equals(STAR);

    private Breakers() {}

    /**
     * A job on a breaker that nobody has begun, and that is not the star's, on the technician's round; laid there if
     * there is none.
     */
    static JsonNode job(ApiClient technician) {
        return onTheRound(technician).stream().findFirst().orElseGet(() -> laid(technician));
    }

    private static List<JsonNode> onTheRound(ApiClient technician) {
        return technician.roundJobs().stream()
                .filter(ON_A_BREAKER)
                .filter(j -> j.path("status").asString().equals("open") && !j.hasNonNull("run"))
                .toList();
    }

    private static JsonNode laid(ApiClient technician) {
        JsonNode round = technician.get("/api/round");
        String day = "/api/rounds/" + round.path("person").asString() + "/"
                + round.path("day").asString();
        JsonNode free = technician
                .get(day + "/free")
                .valueStream()
                .filter(ON_A_BREAKER)
                .findFirst()
                .orElseThrow(
                        () -> new IllegalStateException("no breaker is due at all: " + technician.get(day + "/free")));
        technician.post(day + "/jobs", Map.of("jobs", List.of(free.path("id").asLong())), null);
        return onTheRound(technician).stream()
                .filter(j -> j.path("id").asLong() == free.path("id").asLong())
                .findFirst()
                .orElseThrow();
    }
}
