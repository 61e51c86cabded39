package org.juratest.server;

import java.util.List;
import java.util.Map;
import org.juratest.server.command.ApiClient;
import tools.jackson.databind.JsonNode;

/** A run of the insulation part of the star's procedure, by entries only, as it is done over the API. */
public final class InsulationRun {

    private static final String POSITION = "MFR-CBK-07";

    private final TestServer server;
    private final ApiClient tavel;

    /** @param tavel signed in, and drives the run */
    public InsulationRun(TestServer server, ApiClient tavel) {
        this.server = server;
        this.tavel = tavel;
    }

    /** Opened, taken and narrowed to its part; where no job is laid, one is. */
    public JsonNode opened() {
        JsonNode job = tavel.get("/api/jobs")
                .path("jobs")
                .valueStream()
                .filter(j -> j.path("position").asString().equals(POSITION))
                .findFirst()
                .orElse(null);
        if (job == null) {
            server.database()
                    .template()
                    .update("INSERT INTO job (asset, position, procedure, reason, opens, due, closes) VALUES "
                            + "('CBK-1', 'MFR-CBK-07', 'CBK-YEARLY', 'after repair', current_date, "
                            + "current_date, current_date)");
            return opened();
        }
        JsonNode run = tavel.post("/api/jobs/" + job.path("id").asLong() + "/run", Map.of("gear", Map.of()), null);
        run = tavel.drive(run.path("id").asString());
        return tavel.act(
                run,
                "scopeSet",
                Map.of(
                        "scope",
                        Map.of(
                                "withoutSteps",
                                List.of("contact", "defeat", "longTime", "contactAgain", "contactChange"))));
    }

    /** With everything confirmed, answered, entered and put back; not finished yet. */
    public JsonNode measured(JsonNode opened, double megaohms) {
        JsonNode run = opened;
        for (String step : List.of("isolate", "prepare", "putBack")) {
            for (JsonNode c : step(run, step).path("confirmations")) {
                run = tavel.act(
                        run,
                        "holdReleased",
                        Map.of("step", step, "confirmation", c.path("id").asString()));
            }
            if (step.equals("prepare")) {
                for (String point : List.of("plate", "case", "counter")) {
                    run = tavel.act(
                            run,
                            "answerGiven",
                            Map.of("step", "look", "point", point, "lane", "-", "answer", "inOrder"));
                }
                run = tavel.act(
                        run,
                        "conditionEntered",
                        Map.of("what", "equipmentTemperature", "value", Map.of("value", 14, "unit", "Cel")));
                for (JsonNode lane : step(run, "insulation").path("lanes")) {
                    run = tavel.post(
                            "/api/runs/" + run.path("id").asString() + "/entries",
                            Map.of(
                                    "step",
                                    "insulation",
                                    "point",
                                    "r",
                                    "lane",
                                    lane.path("id").asString(),
                                    "value",
                                    megaohms,
                                    "unit",
                                    "MOhm"),
                            run.path("personEvents").asLong());
                }
            }
        }
        for (String step : List.of("isolate", "prepare")) {
            for (JsonNode c : step(run, step).path("confirmations")) {
                if (c.hasNonNull("back")) {
                    run = tavel.act(
                            run,
                            "restored",
                            Map.of("step", step, "confirmation", c.path("id").asString()));
                }
            }
        }
        return run;
    }

    /** Finished; gives its record's number. */
    public String finished(JsonNode run) {
        JsonNode done = tavel.post(
                "/api/runs/" + run.path("id").asString() + "/finish",
                Map.of(),
                run.path("personEvents").asLong());
        tavel.fallSilent();
        return done.path("record").asString();
    }

    private static JsonNode step(JsonNode run, String id) {
        return run.path("steps")
                .valueStream()
                .filter(s -> s.path("id").asString().equals(id))
                .findFirst()
                .orElseThrow();
    }
}
