package org.juratest.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.juratest.server.command.ApiClient;
import tools.jackson.databind.JsonNode;

/**
 * Whatever dies during an injection, the output goes off: the client that holds the lease, the server, the gear. Real
 * processes; the gear's own log is the witness.
 */
class LiveLossTest {

    private static final int LONGEST_MILLIS = 3000;

    @TempDir
    private Path folder;

    private Installation installation;
    private String run;

    @Test
    void theOutputGoesOffWhateverDiesAndTheRunGoesOn() throws Exception {
        try (Installation it = Installation.laid(folder, Path.of(".."))) {
            installation = it;
            it.startSimulators(1);
            it.startServer();
            ApiClient first = signedIn();
            prepared(first);

            energised(first);
            first.fallSilent();
            JsonNode lost = off(first, "the client falls silent");
            JsonNode attempt = last(lost);
            assertEquals("aborted", attempt.path("outcome").asString());
            assertTrue(attempt.path("words").asString().contains("was not heard"), attempt.toString());

            // Another server process on the same database: whoever watches there may stop what this one drives.
            it.startOtherServer();
            ApiClient watcher = signedIn(it.otherAddress(), "oster", "penstock-42");
            ApiClient second = signedIn();
            second.drive(run);
            energised(second);
            watcher.post("/api/runs/" + run + "/stop", Map.of(), null);
            assertEquals(
                    "stopped by oster",
                    last(off(watcher, "a stop from elsewhere")).path("words").asString());

            energised(second);
            it.killServer();
            Installation.until("the gear goes off by its watchdog", () -> offTime() >= 0);
            assertTrue(offTime() <= LONGEST_MILLIS, offTime() + " ms from the last feed to off");
            second.fallSilent();
            Installation.until("the other process finds the run interrupted", () -> watcher.get("/api/runs/" + run)
                    .hasNonNull("interrupted"));
            it.startServer();
            ApiClient third = signedIn();
            JsonNode interrupted = third.drive(run);
            assertTrue(
                    interrupted.path("interrupted").asString().contains("confirms that its output is off"),
                    interrupted.path("interrupted").asString());
            assertEquals("aborted", last(interrupted).path("outcome").asString());
            third.act(interrupted, "resumed", Map.of());

            energised(third);
            it.killSimulators();
            JsonNode gone = off(third, "the gear dies");
            assertEquals("instrumentError", last(gone).path("outcome").asString());
            assertTrue(gone.path("gearLost").has("inj-2"), gone.path("gearLost").toString());

            it.startSimulators(100);
            for (String manners : List.of("rubbish", "late:3000", "silent")) {
                JsonNode confused = misbehaving(third, manners);
                assertEquals(
                        "instrumentError", last(confused).path("outcome").asString(), manners + ": " + last(confused));
                assertTrue(
                        confused.path("gearLost")
                                .path("inj-2")
                                .asString()
                                .matches(".*(cannot be read|did not answer).*"),
                        confused.path("gearLost").toString());
                it.control("line injection good");
            }

            // Everything back: the same pole is measured, and the record holds.
            energised(third);
            Installation.until(
                    "the pole trips", () -> last(third.get("/api/runs/" + run)).hasNonNull("outcome"));
            JsonNode done = third.get("/api/runs/" + run);
            assertEquals(
                    "valid", last(done).path("outcome").asString(), last(done).toString());
            assertEquals("pass", point(done, "longTime/time/A").path("verdict").asString());
            assertFalse(done.path("gearLost").has("inj-2"));
            third.close();
            assertEquals(0, it.run("verify"), it.output());
            examples(it);
        }
    }

    /** The example of another breaker, from start to verdict, and a stopped one; then verify once more. */
    private void examples(Installation it) throws Exception {
        String first = firstJob();
        it.control("slow " + first + ":C 2.2");
        assertEquals(0, it.run(example(it, first)), it.output());
        String printed = it.output();
        assertTrue(
                printed.matches("(?s).*Long-time trip, pole C +[0-9.]+ s +FAIL.*adjusted: .*Long-time trip, pole C "
                        + "+[0-9.]+ s +(pass|marginal).*Record .*"),
                printed);
        String second = firstJob();
        it.control("open " + second + ":B on");
        assertNotEquals(0, it.run(example(it, second)));
        assertTrue(it.output().contains("the circuit is open"), it.output());
        assertNotEquals(0, it.run(example(it, "NOWHERE-1")));
        assertTrue(it.output().contains("No job is open at NOWHERE-1"), it.output());
        assertEquals(0, it.run("verify"), it.output());
    }

    private static String[] example(Installation it, String position) {
        return new String[] {
            "example", "--server", it.address(), "--control-port", "" + it.controlPort(), "--position", position
        };
    }

    private String firstJob() {
        return signedIn()
                .get("/api/jobs?limit=200")
                .path("jobs")
                .valueStream()
                .filter(j -> j.path("procedure").asString().equals("CBK-YEARLY"))
                .map(j -> j.path("position").asString())
                .filter(p -> !p.equals("MFR-CBK-07"))
                .findFirst()
                .orElseThrow();
    }

    private ApiClient signedIn() {
        return signedIn(installation.address(), "tavel", "rack-rail-16");
    }

    private static ApiClient signedIn(String address, String person, String password) {
        ApiClient client = new ApiClient(address);
        client.signIn(person, password);
        return client;
    }

    private void prepared(ApiClient api) {
        JsonNode job = api.get("/api/jobs?limit=200")
                .path("jobs")
                .valueStream()
                .filter(j -> j.path("position").asString().equals("MFR-CBK-07"))
                .findFirst()
                .orElseThrow();
        run = api.post("/api/jobs/" + job.path("id").asLong() + "/run", Map.of("gear", Map.of()), null)
                .path("id")
                .asString();
        JsonNode now = api.drive(run);
        for (JsonNode step : now.path("steps")) {
            for (JsonNode c : step.path("inScope").asBoolean() ? step.path("confirmations") : List.<JsonNode>of()) {
                now = api.act(
                        now,
                        "holdReleased",
                        Map.of(
                                "step",
                                step.path("id").asString(),
                                "confirmation",
                                c.path("id").asString()));
            }
        }
        for (String c : List.of("plug", "control")) {
            now = api.act(now, "restored", Map.of("step", "prepare", "confirmation", c));
        }
        api.act(now, "stepSkipped", Map.of("step", "insulation", "reason", "not what this is about"));
    }

    /** Energises gear that does not behave; the run when the attempt is over. */
    private JsonNode misbehaving(ApiClient api, String manners) throws Exception {
        // What is lost is asked again when it is armed, so it behaves until then.
        String token = armed(api);
        installation.control("line injection " + manners);
        int before = api.get("/api/runs/" + run).path("attempts").size();
        api.post("/api/runs/" + run + "/energise", Map.of("token", token), null);
        Installation.until("the attempt is over", () -> {
            JsonNode now = api.get("/api/runs/" + run);
            return now.path("attempts").size() > before && last(now).hasNonNull("outcome");
        });
        return api.get("/api/runs/" + run);
    }

    private String armed(ApiClient api) {
        JsonNode now = api.get("/api/runs/" + run);
        if (now.path("steps").valueStream().anyMatch(s -> s.path("cooling").asDouble() > 0)) {
            now = api.act(now, "coolingOverruled", Map.of("reason", "only a trial of the safety of the bench"));
        }
        return api.post(
                        "/api/runs/" + run + "/arm",
                        Map.of("step", "longTime", "lane", "A"),
                        now.path("personEvents").asLong())
                .path("token")
                .asString();
    }

    private void energised(ApiClient api) throws InterruptedException {
        long before = ons();
        String began = java.time.Instant.now().toString();
        api.post("/api/runs/" + run + "/energise", Map.of("token", armed(api)), null);
        // The check, then the injection. An attempt that ended before says why.
        Installation.until("the injection flows", () -> {
            JsonNode now = api.get("/api/runs/" + run);
            boolean over = !now.path("attempts").isEmpty()
                    && last(now).hasNonNull("outcome")
                    && now.path("output").path("mode").asString().equals("safe");
            return ons() >= before + 2
                    || over && last(now).path("at").asString().compareTo(began) > 0;
        });
        assertTrue(ons() >= before + 2, () -> "no current: " + last(api.get("/api/runs/" + run)));
    }

    private long ons() {
        return installation.injectionLog().stream()
                .filter(l -> l[1].startsWith("ON"))
                .count();
    }

    private JsonNode off(ApiClient api, String why) throws InterruptedException {
        Installation.until("the run is safe after " + why, () -> api.get("/api/runs/" + run)
                .path("output")
                .path("mode")
                .asString()
                .equals("safe"));
        if (!why.equals("the gear dies")) {
            assertTrue(
                    offTime() >= 0 && offTime() <= LONGEST_MILLIS,
                    why + ": " + offTime() + " ms from the last feed to off");
        }
        return api.get("/api/runs/" + run);
    }

    /**
     * Milliseconds from the last feed to the last time the output went off, by the gear's own log; -1 while it is on.
     */
    private long offTime() {
        long fed = 0;
        long off = -1;
        for (String[] line : installation.injectionLog()) {
            if (line[1].equals("FED")) {
                fed = Long.parseLong(line[0]);
            } else if (line[1].startsWith("ON")) {
                off = -1;
            } else if (line[1].startsWith("OFF")) {
                off = Long.parseLong(line[0]);
            }
        }
        return off < 0 ? -1 : off - fed;
    }

    private static JsonNode last(JsonNode view) {
        JsonNode attempts = view.path("attempts");
        return attempts.get(attempts.size() - 1);
    }

    private static JsonNode point(JsonNode view, String key) {
        return view.path("judgement")
                .path("points")
                .valueStream()
                .filter(p -> p.path("key").asString().equals(key))
                .findFirst()
                .orElseThrow();
    }
}
