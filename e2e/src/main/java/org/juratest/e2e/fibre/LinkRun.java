package org.juratest.e2e.fibre;

import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.juratest.e2e.Installation;
import org.juratest.server.command.ApiClient;
import tools.jackson.databind.JsonNode;

/** Raises and opens the acceptance of a link of the demo, of one fibre only. */
public final class LinkRun {

    private LinkRun() {}

    /** Opens one on what stands at a position, for A. Tavel, who takes it over at a screen; gives the run's id. */
    public static String opened(Installation installation, ApiClient tavel, String position, Map<String, String> of) {
        ApiClient oster = new ApiClient(installation.address());
        oster.signIn("oster", "penstock-42");
        String asset = oster.get("/api/register/positions/" + position)
                .at("/place/asset/id")
                .asString();
        Map<String, Object> form = new TreeMap<>(of);
        form.put("asset", asset);
        form.put("occasion", "acceptance");
        form.put("due", LocalDate.now().toString());
        long job = oster.post("/api/jobs", form, null).path("id").asLong();
        String run = tavel.post("/api/jobs/" + job + "/run", Map.of("gear", Map.of()), null)
                .path("id")
                .asString();
        tavel.drive(run);
        return run;
    }

    /** Opens it for A. Tavel, who takes it over at a screen; gives the run's id. */
    public static String opened(Installation installation, String position, String fibre) {
        ApiClient tavel = new ApiClient(installation.address());
        tavel.signIn("tavel", "rack-rail-16");
        String run = opened(
                installation,
                tavel,
                position,
                Map.of("procedure", "FIB-ACCEPT", "why", "fibre " + fibre + " goes into service"));
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
