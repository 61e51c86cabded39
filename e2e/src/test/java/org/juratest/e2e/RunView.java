package org.juratest.e2e;

import java.util.List;
import tools.jackson.databind.JsonNode;

/** What journeys look for in a run as the server tells it. */
final class RunView {

    private RunView() {}

    static List<String> attempts(JsonNode run, String step, String lane) {
        return run.path("attempts")
                .valueStream()
                .filter(a -> a.path("step").asString().equals(step)
                        && a.path("lane").asString().equals(lane))
                // A browser that gets no processor for 2 s is not heard: its output goes off, and it measures again.
                .filter(a -> !a.path("words").asString("").contains("was not heard for 2 s"))
                .map(a -> a.path("outcome").asString())
                .toList();
    }

    static JsonNode point(JsonNode view, String key) {
        return view.path("points")
                .valueStream()
                .filter(p -> p.path("key").asString().equals(key))
                .findFirst()
                .orElseThrow(() -> new AssertionError(key));
    }
}
