package org.juratest.server.series;

import java.util.Map;
import org.juratest.server.TestServer;
import org.juratest.server.command.ApiClient;

/** Places where cables are tested, and the gear for it. */
public final class CablePlace {

    private CablePlace() {}

    /** Two loss sets, a polarity unit and a camera. */
    public static void gear(TestServer server) {
        server.database()
                .template()
                .execute("INSERT INTO gear SELECT * FROM jsonb_populate_recordset(NULL::gear, (SELECT jsonb_agg("
                        + "to_jsonb(g) || jsonb_build_object('id', n.id, 'role', n.role, 'serial', n.id)) FROM gear g, "
                        + "(VALUES ('olt-1', 'loss-tester'), ('olt-2', 'loss-tester'), ('pol-1', 'polarity-unit'), "
                        + "('cam-9', 'array-camera')) n (id, role) WHERE g.id = 'mic-1'))");
    }

    /** A place with its first cable; the address of its series. */
    public static String made(ApiClient tavel, String position, String serial) {
        tavel.post("/api/register/positions", Map.of("code", position, "site", "MFR", "family", "fibre"), null);
        tavel.post(
                "/api/register/assets",
                Map.of(
                        "id",
                        "C-" + position,
                        "assetClass",
                        "fibre-cable",
                        "maker",
                        "Ulmeric",
                        "model",
                        "MP-8",
                        "serial",
                        serial,
                        "plate",
                        Map.of(
                                "fibres",
                                "8",
                                "kind",
                                "single-mode",
                                "connectors",
                                "angled",
                                "layout",
                                "1x8",
                                "live",
                                "all",
                                "polarity",
                                "B",
                                "insertionLoss",
                                "0.75",
                                "returnLoss",
                                "50",
                                "gender",
                                "pins at the near end")),
                null);
        tavel.post(
                "/api/register/exchanges",
                Map.of("position", position, "in", "C-" + position, "at", "2024-01-05T08:00:00Z"),
                null);
        return "/api/series/" + position;
    }
}
