package org.juratest.e2e.fibre;

import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import org.juratest.e2e.Installation;
import org.juratest.server.command.ApiClient;
import tools.jackson.databind.JsonNode;

/** Raises and opens the acceptance of a link of the demo, of one fibre only. */
public final class LinkRun {

    private LinkRun() {}

    /** Opens it for A. Tavel, who takes it over at a screen; gives the run's id. */
    public static String opened(Installation installation, String position, String fibre) {
        ApiClient oster = new ApiClient(installation.address());
        oster.signIn("oster", "penstock-42");
        String asset = oster.get("/api/register/positions/" + position)
                .at("/place/asset/id")
                .asString();
        long job = oster.post(
                        "/api/jobs",
                        Map.of(
                                "asset",
                                asset,
                                "procedure",
                                "FIB-ACCEPT",
                                "occasion",
                                "acceptance",
                                "due",
                                LocalDate.now().toString(),
                                "why",
                                "fibre " + fibre + " goes into service"),
                        null)
                .path("id")
                .asLong();
        ApiClient tavel = new ApiClient(installation.address());
        tavel.signIn("tavel", "rack-rail-16");
        String run = tavel.post("/api/jobs/" + job + "/run", Map.of("gear", Map.of()), null)
                .path("id")
                .asString();
        tavel.drive(run);
        JsonNode view = tavel.get("/api/runs/" + run);
        List<String> others = view.path("steps")
                .valueStream()
                .filter(s -> s.path("id").asString().equals("face"))
                .flatMap(s -> s.path("lanes").valueStream())
                .map(l -> l.path("id").asString())
                .filter(l -> !l.equals(fibre))
                .toList();
        tavel.act(
                view,
                "scopeSet",
                Map.of(
                        "scope",
                        Map.of(
                                "withoutSteps",
                                List.of(),
                                "withoutLanes",
                                Map.of("fibre", others),
                                "withoutPairs",
                                List.of())));
        return run;
    }
}
