package org.juratest.server;

import static org.awaitility.Awaitility.await;
import static org.junit.jupiter.api.Assertions.assertDoesNotThrow;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.concurrent.CompletableFuture;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.function.Executable;
import org.juratest.core.curve.BandElement;
import org.juratest.core.curve.CurveModel;
import org.juratest.core.curve.TimeCurrentBand;
import org.juratest.core.curve.TimeWindow;
import org.juratest.core.run.Actor;
import org.juratest.core.run.RunState;
import org.juratest.core.run.StepEvents;
import org.juratest.formats.curve.CurveJson;
import org.juratest.formats.json.CoreJson;
import org.juratest.formats.procedure.ProcedureJson;
import org.juratest.server.command.ApiClient;
import org.juratest.server.command.ApiClient.ProblemException;
import org.juratest.server.run.RunStore;
import org.juratest.server.run.Verifier;
import org.springframework.context.ConfigurableApplicationContext;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;
import tools.jackson.databind.JsonNode;

/** The server over HTTP on a real PostgreSQL, with gear that nobody listens for. */
class ServerTest {

    private static final TestServer SERVER = TestServer.start();
    private static final TestDatabase DATABASE = SERVER.database();
    private static final ConfigurableApplicationContext CONTEXT = SERVER.context();
    private static final int PORT = SERVER.port();

    private ApiClient api;

    @AfterAll
    static void stop() {
        SERVER.close();
    }

    @BeforeEach
    void signIn() {
        api = client("tavel", "rack-rail-16");
    }

    private ApiClient client(String person, String password) {
        return SERVER.client(person, password);
    }

    private static ProblemException problem(int status, String type, Executable action) {
        return TestServer.problem(status, type, action);
    }

    private JsonNode job(String position) {
        return api.get("/api/jobs")
                .path("jobs")
                .valueStream()
                .filter(j -> j.path("position").asString().equals(position))
                .findFirst()
                .orElseThrow();
    }

    /** The open run of a position's job, driven by this client; a new one if there is none. */
    private JsonNode run(ApiClient client, String position) {
        JsonNode job = job(position);
        String id = job.hasNonNull("run")
                ? job.path("run").asString()
                : client.post("/api/jobs/" + job.path("id").asLong() + "/run", Map.of("gear", Map.of()), null)
                        .path("id")
                        .asString();
        return client.drive(id);
    }

    private JsonNode fresh(String position) {
        JsonNode job = job(position);
        if (job.hasNonNull("run")) {
            JsonNode old = api.drive(job.path("run").asString());
            api.post(
                    "/api/runs/" + old.path("id").asString() + "/abort",
                    Map.of("reason", "test over"),
                    old.path("personEvents").asLong());
        }
        return run(api, position);
    }

    private JsonNode confirm(JsonNode view, String step) {
        JsonNode now = view;
        for (JsonNode s : view.path("steps")) {
            for (JsonNode c : s.path("confirmations")) {
                if (s.path("id").asString().equals(step)) {
                    now = api.act(
                            now,
                            "holdReleased",
                            Map.of("step", step, "confirmation", c.path("id").asString()));
                }
            }
        }
        return now;
    }

    @Test
    void theDescriptionOfTheInterfaceIsTheCommittedOne() throws IOException {
        JsonNode made = api.get("/api/openapi");
        Path committed = Path.of("openapi.json");
        if (Boolean.getBoolean("juratest.openapi.write")) {
            Files.writeString(
                    committed,
                    CoreJson.mapper().writerWithDefaultPrettyPrinter().writeValueAsString(made) + "\n");
        }
        assertEquals(
                CoreJson.mapper().readTree(Files.readString(committed)),
                made,
                "server/openapi.json is not what the code gives; write it anew with -Djuratest.openapi.write=true");
        List<String> required = made.at("/components/schemas/Job/required")
                .valueStream()
                .map(JsonNode::asString)
                .toList();
        assertTrue(required.contains("due") && !required.contains("run"), required.toString());
    }

    @Test
    void onlyWhoIsSignedInGetsIn() {
        ApiClient stranger = new ApiClient("http://127.0.0.1:" + PORT);
        assertTrue(stranger.get("/api/status").path("demo").asBoolean());
        problem(401, "not-signed-in", () -> stranger.get("/api/jobs"));
        problem(
                401,
                "sign-in-failed",
                () -> stranger.post("/api/session", Map.of("person", "tavel", "password", "wrong"), null));
        problem(
                401,
                "sign-in-failed",
                () -> stranger.post("/api/session", Map.of("person", "nobody", "password", "wrong"), null));
        ApiClient noToken = new ApiClient("http://127.0.0.1:" + PORT);
        problem(
                403,
                "not-allowed",
                () -> noToken.post("/api/session", Map.of("person", "tavel", "password", "rack-rail-16"), null));
        assertEquals("A. Tavel", api.get("/api/session").path("name").asString());
        assertFalse(DATABASE.template().queryForList("SELECT password_hash FROM person", String.class).stream()
                .anyMatch(h -> h.contains("rail")));
        assertTrue(DATABASE.template()
                        .queryForObject(
                                "SELECT count(*) FROM spring_session WHERE principal_name = 'tavel'", Long.class)
                > 0);
    }

    @Test
    void jobsPageByCursor() {
        JsonNode first = api.get("/api/jobs?limit=1");
        assertEquals(1, first.path("jobs").size());
        JsonNode second =
                api.get("/api/jobs?limit=1&after=" + first.path("next").asString());
        assertNotEquals(
                first.path("jobs").get(0).path("id"), second.path("jobs").get(0).path("id"));
        assertEquals(
                "after",
                problem(409, "bad-cursor", () -> api.get("/api/jobs?after=nonsense"))
                        .field());
        assertEquals(
                "limit",
                problem(409, "out-of-range", () -> api.get("/api/jobs?limit=0")).field());
    }

    @Test
    void unknownIdsAreNamed() {
        String nobody = "01990000-0000-7000-8000-000000000000";
        problem(404, "unknown-run", () -> api.get("/api/runs/" + nobody));
        problem(404, "unknown-run", () -> api.get("/api/runs/not-an-id"));
        problem(404, "unknown-run", () -> api.post("/api/runs/" + nobody + "/stop", Map.of(), null));
        problem(404, "unknown-job", () -> api.post("/api/jobs/999999/run", Map.of("gear", Map.of()), null));
        problem(404, "unknown-blob", () -> api.get("/api/blobs/" + "ab".repeat(32)));
        problem(404, "unknown-procedure", () -> api.get("/api/procedures/NONE/1"));
    }

    @Test
    void openingTwiceWithOneKeyOpensOneRunAndWithoutItIsRefused() {
        JsonNode old = fresh("MFR-CBK-07");
        api.post(
                "/api/runs/" + old.path("id").asString() + "/abort",
                Map.of("reason", "test over"),
                old.path("personEvents").asLong());
        long job = job("MFR-CBK-07").path("id").asLong();
        Map<String, Object> body = Map.of("gear", Map.of());
        JsonNode opened = api.post("/api/jobs/" + job + "/run", body, null);
        problem(409, "run-open", () -> api.post("/api/jobs/" + job + "/run", body, null));
        assertEquals(
                2,
                opened.path("priors")
                                .valueStream()
                                .filter(p -> p.path("series").asString().equals("breaker.longTime@3Ir")
                                        && p.path("lane").asString().equals("B"))
                                .map(p -> p.path("value").asDouble())
                                .peek(v -> assertEquals(24.3, v))
                                .count()
                        + 1);
        assertEquals(
                "wrong-gear",
                problem(409, "wrong-gear", () -> {
                            JsonNode now = run(api, "MFR-CBK-07");
                            api.post(
                                    "/api/runs/" + now.path("id").asString() + "/abort",
                                    Map.of("reason", "test"),
                                    now.path("personEvents").asLong());
                            api.post("/api/jobs/" + job + "/run", Map.of("gear", Map.of("injection", "mic-1")), null);
                        })
                        .type());
    }

    @Test
    void aUsedKeyIsRefusedForAnythingElseAndOnceItsRunIsOver() throws Exception {
        JsonNode old = fresh("MFR-CBK-07");
        api.post(
                "/api/runs/" + old.path("id").asString() + "/abort",
                Map.of("reason", "test over"),
                old.path("personEvents").asLong());
        long job = job("MFR-CBK-07").path("id").asLong();
        String key = "key-" + java.util.UUID.randomUUID();
        JsonNode first = keyed(job, key, "{\"gear\":{}}");
        String run = first.path("id").asString();
        assertEquals(run, keyed(job, key, "{\"gear\":{}}").path("id").asString(), "sent twice, opened once");
        assertEquals(
                "/problems/key-used",
                keyed(job, key, "{\"gear\":{\"micro\":\"mic-1\"}}").path("type").asString(),
                "the same job with other gear is another request");
        assertEquals(
                "/problems/key-used",
                keyed(job("MFR-CBK-08").path("id").asLong(), key, "{\"gear\":{}}")
                        .path("type")
                        .asString());
        api.drive(run);
        JsonNode now = api.get("/api/runs/" + run);
        api.post(
                "/api/runs/" + run + "/abort",
                Map.of("reason", "test over"),
                now.path("personEvents").asLong());
        JsonNode over = keyed(job, key, "{\"gear\":{}}");
        assertEquals("/problems/key-used", over.path("type").asString());
        assertEquals("Idempotency-Key", over.path("field").asString());
        assertTrue(over.path("detail").asString().contains("aborted"), over.toString());
        assertEquals(
                "/problems/key-invalid",
                keyed(job, "k".repeat(101), "{\"gear\":{}}").path("type").asString());
    }

    private JsonNode keyed(long job, String key, String body) throws Exception {
        java.net.http.HttpRequest.Builder request = java.net.http.HttpRequest.newBuilder(
                        java.net.URI.create("http://127.0.0.1:" + PORT + "/api/jobs/" + job + "/run"))
                .header("Content-Type", "application/json")
                .header("Idempotency-Key", key)
                .header("Cookie", api.cookies());
        java.util.regex.Matcher token =
                java.util.regex.Pattern.compile("XSRF-TOKEN=([^;]+)").matcher(api.cookies());
        if (token.find()) {
            request.header("X-XSRF-TOKEN", token.group(1));
        }
        return CoreJson.mapper()
                .readTree(java.net.http.HttpClient.newHttpClient()
                        .send(
                                request.POST(java.net.http.HttpRequest.BodyPublishers.ofString(body))
                                        .build(),
                                java.net.http.HttpResponse.BodyHandlers.ofString())
                        .body());
    }

    @Test
    void actingNeedsTheStateOneHasSeenAndTheScreenThatDrives() {
        JsonNode view = fresh("MFR-CBK-07");
        String path = "/api/runs/" + view.path("id").asString();
        Map<String, Object> note = Map.of("type", "note", "data", Map.of("text", "hello"));
        long seen = view.path("personEvents").asLong();
        problem(428, "if-match-missing", () -> api.post(path + "/events", note, null));
        api.post(path + "/events", note, seen);
        problem(412, "run-moved-on", () -> api.post(path + "/events", note, seen));
        ApiClient other = client("oster", "penstock-42");
        problem(409, "not-driving", () -> other.post(path + "/events", note, seen + 1));
        JsonNode taken = other.drive(view.path("id").asString());
        problem(
                409,
                "not-driving",
                () -> api.post(
                        path + "/events", note, taken.path("personEvents").asLong()));
        assertEquals(
                taken.path("personEvents").asLong() + 1,
                other.act(taken, "note", Map.of("text", "mine now"))
                        .path("personEvents")
                        .asLong());
        other.close();
    }

    @Test
    void twoClientsWhoActAtOnceLoseNothing() {
        JsonNode view = fresh("MFR-CBK-08");
        String path = "/api/runs/" + view.path("id").asString();
        long before = view.path("n").asLong();
        List<CompletableFuture<Integer>> tries = IntStream.range(0, 24)
                .mapToObj(i -> CompletableFuture.supplyAsync(() -> {
                    for (int attempt = 1; ; attempt++) {
                        long seen = api.get(path).path("personEvents").asLong();
                        try {
                            api.post(
                                    path + "/events",
                                    Map.of("type", "note", "data", Map.of("text", "note " + i)),
                                    seen);
                            return attempt;
                        } catch (ProblemException e) {
                            assertEquals("run-moved-on", e.type());
                        }
                    }
                }))
                .toList();
        tries.forEach(CompletableFuture::join);
        JsonNode after = api.get(path);
        assertEquals(before + 24, after.path("n").asLong());
        assertEquals(
                24,
                after.path("remarks")
                        .valueStream()
                        .map(r -> r.path("data").path("text").asString())
                        .distinct()
                        .count());
        assertEquals(List.of(), verify());
    }

    @Test
    void whatWasRolledBackIsNowhere() {
        JsonNode view = fresh("MFR-CBK-08");
        UUID run = UUID.fromString(view.path("id").asString());
        RunStore store = CONTEXT.getBean(RunStore.class);
        RunState before = store.state(run);
        new TransactionTemplate(CONTEXT.getBean(PlatformTransactionManager.class)).executeWithoutResult(status -> {
            store.append(run, Actor.person("tavel"), s -> List.of(new StepEvents.Note("never happened")));
            status.setRollbackOnly();
        });
        assertEquals(before.n(), store.state(run).n());
        // The same number again, as another process would use it: what was kept in memory must not be taken for the
        // beginning.
        RunState after = store.append(run, Actor.person("tavel"), s -> List.of(new StepEvents.Note("happened")));
        assertEquals(
                List.of("happened"),
                after.remarks().stream()
                        .map(e -> ((StepEvents.Note) e.data()).text())
                        .toList());
        assertEquals(before.n() + 1, store.state(run).n());
        assertEquals(List.of(), verify());
    }

    @Test
    void anArmedStepThatIsNotStartedFallsBackToSafe() throws InterruptedException {
        JsonNode view = confirm(confirm(fresh("MFR-CBK-07"), "isolate"), "prepare");
        String path = "/api/runs/" + view.path("id").asString();
        JsonNode armed = api.post(
                path + "/arm",
                Map.of("step", "contact", "lane", "B"),
                view.path("personEvents").asLong());
        problem(
                409,
                "output-not-safe",
                () -> api.post(
                        path + "/arm",
                        Map.of("step", "contact", "lane", "B"),
                        armed.path("run").path("personEvents").asLong()));
        // Fifteen seconds later. The token first: as soon as the run says so too, the sweep may disarm it.
        DATABASE.template()
                .update(
                        "UPDATE arm_token SET until = now() - interval '1 second' WHERE run = ?::uuid",
                        view.path("id").asString());
        problem(
                409,
                "token-spent",
                () -> api.post(
                        path + "/energise", Map.of("token", armed.path("token").asString()), null));
        DATABASE.template()
                .update(
                        "UPDATE run SET armed_until = now() - interval '1 second' WHERE id = ?::uuid",
                        view.path("id").asString());
        JsonNode now = await().atMost(Duration.ofMinutes(2))
                .until(
                        () -> api.get(path),
                        v -> v.path("output").path("mode").asString().equals("safe"));
        assertEquals("safe", now.path("output").path("mode").asString());
        assertEquals(0, now.path("attempts").size());
        assertEquals(List.of(), verify());
    }

    @Test
    void aStopByAnyoneWhoWatchesDisarms() {
        JsonNode view = confirm(confirm(fresh("MFR-CBK-07"), "isolate"), "prepare");
        String path = "/api/runs/" + view.path("id").asString();
        JsonNode armed = api.post(
                path + "/arm",
                Map.of("step", "contact", "lane", "B"),
                view.path("personEvents").asLong());
        ApiClient watcher = client("oster", "penstock-42");
        assertEquals(
                "safe",
                watcher.post(path + "/stop", Map.of(), null)
                        .path("output")
                        .path("mode")
                        .asString());
        problem(
                409,
                "not-armed",
                () -> api.post(
                        path + "/energise", Map.of("token", armed.path("token").asString()), null));
        assertEquals(
                "disarmed",
                watcher.get(path + "/events?after="
                                + (armed.path("run").path("n").asLong()))
                        .get(0)
                        .path("type")
                        .asString());
    }

    @Test
    void onlyAScreenThatIsHeardMayArm() throws InterruptedException {
        JsonNode view = confirm(confirm(fresh("MFR-CBK-07"), "isolate"), "prepare");
        api.fallSilent();
        DATABASE.template().update("UPDATE run_lease SET until = now() - interval '1 second'");
        problem(
                409,
                "screen-not-heard",
                () -> api.post(
                        "/api/runs/" + view.path("id").asString() + "/arm",
                        Map.of("step", "contact", "lane", "A"),
                        view.path("personEvents").asLong()));
    }

    private List<String> verify() {
        return new Verifier(DATABASE.template())
                .run(false).findings().stream().map(Object::toString).toList();
    }

    @Test
    void whatAPersonCannotDoIsRefusedWithTheField() {
        JsonNode view = fresh("MFR-CBK-07");
        assertEquals(
                "type",
                problem(409, "unknown-action", () -> api.act(view, "finished", Map.of("record", "x")))
                        .field());
        assertEquals(
                "type",
                problem(409, "unknown-action", () -> api.act(view, "inventedEvent", Map.of()))
                        .field());
        assertEquals(
                "step",
                problem(409, "unknown-step", () -> api.act(view, "stepBegun", Map.of("step", "nowhere")))
                        .field());
        assertEquals(
                "answer",
                problem(
                                422,
                                "data-invalid",
                                () -> api.act(
                                        view,
                                        "answerGiven",
                                        Map.of("step", "look", "point", "case", "lane", "-", "answer", "splendid")))
                        .field());
        Map<String, Object> limit = Map.of(
                "kind",
                "formula",
                "high",
                "2 * (x",
                "inputs",
                Map.of("x", "nameplate:ratedCurrent"),
                "source",
                "trial");
        ProblemException e = problem(
                409,
                "formula-invalid",
                () -> api.act(
                        view,
                        "limitChanged",
                        Map.of("step", "longTime", "point", "time", "limit", limit, "reason", "trial")));
        assertEquals("limit.high", e.field());
        assertTrue(e.getMessage().contains("character 5"), e.getMessage());
        problem(
                400,
                "cannot-be-read",
                () -> api.post(
                        "/api/runs/" + view.path("id").asString() + "/events",
                        "{\"type\": ".getBytes(StandardCharsets.UTF_8),
                        1L));
        problem(
                409,
                "hold-open",
                () -> api.post(
                        "/api/runs/" + view.path("id").asString() + "/arm",
                        Map.of("step", "contact", "lane", "A"),
                        view.path("personEvents").asLong()));
        problem(
                409,
                "hold-open",
                () -> api.post(
                        "/api/runs/" + view.path("id").asString() + "/finish",
                        Map.of(),
                        view.path("personEvents").asLong()));
    }

    /** Nothing a client can send is our own fault, and every answer says what is wrong. */
    @Test
    void hostileBodiesAreAlwaysRefusedInWords() {
        JsonNode view = fresh("MFR-CBK-07");
        String run = "/api/runs/" + view.path("id").asString();
        List<String> bodies = List.of(
                "null",
                "[]",
                "{}",
                "\"x\"",
                "{\"type\":",
                "{\"type\":\"note\"}",
                "{\"type\":\"note\",\"data\":null}",
                "{\"type\":\"note\",\"data\":[]}",
                "{\"type\":\"note\",\"data\":{\"text\":null}}",
                "{\"type\":\"note\",\"data\":{\"text\":\"\"},\"more\":1}",
                "{\"type\":\"scopeSet\",\"data\":{\"scope\":{\"withoutSteps\":[null]}}}",
                "{\"type\":\"limitChanged\",\"data\":{\"step\":\"longTime\",\"point\":\"time\",\"reason\":\"x\"}}",
                "{\"type\":\"limitChanged\",\"data\":{\"step\":\"longTime\",\"point\":\"time\","
                        + "\"limit\":{\"kind\":\"atMost\"},\"reason\":\"x\"}}",
                "{\"type\":\"adjustmentMade\",\"data\":{\"points\":[\"a\"],\"what\":\"x\"}}",
                "{\"type\":\"attemptVoided\",\"data\":{\"attempt\":\"x\",\"reason\":\"lead\",\"words\":\"w\"}}",
                "{\"type\":\"conditionEntered\",\"data\":{\"what\":\"humidity\",\"value\":{\"value\":\"NaN\","
                        + "\"unit\":\"%\"}}}",
                "{\"type\":\"answerGiven\",\"data\":{}}",
                "{\"step\":\"insulation\",\"point\":\"r\",\"lane\":\"A/E\",\"value\":1,\"unit\":\"MOhm\"}",
                "{\"step\":null,\"point\":\"r\",\"lane\":\"A\",\"value\":1,\"unit\":\"MOhm\"}",
                "{\"token\":null}",
                "{\"screen\":null}",
                "{\"reason\":null}",
                "{\"gear\":{\"micro\":null}}",
                "{\"person\":null,\"password\":null}");
        for (String path : List.of(
                run + "/events",
                run + "/entries",
                run + "/arm",
                run + "/energise",
                run + "/screen",
                run + "/beat",
                run + "/abort",
                "/api/session",
                "/api/blobs")) {
            for (String body : bodies) {
                ProblemException e = assertThrows(
                        ProblemException.class,
                        () -> api.post(
                                path,
                                body.getBytes(StandardCharsets.UTF_8),
                                view.path("personEvents").asLong()),
                        path + " took " + body);
                assertTrue(
                        e.status() >= 400 && e.status() < 500 && !e.getMessage().startsWith("the server answered"),
                        path + " " + body + ": " + e.status() + " " + e.getMessage());
            }
        }
        assertEquals(view.path("n"), api.get(run).path("n"));
    }

    private JsonNode band(String position) {
        return api.get("/api/runs/" + fresh(position).path("id").asString() + "/curve");
    }

    @Test
    void aNameplateWithoutTheRatingIsNotJudgedAndWithoutTheSettingCannotBeInjected() {
        assertTrue(band("MFR-CBK-08").path("source").asString().startsWith("generic field limits"));
        JsonNode view = fresh("MFR-CBK-09");
        problem(
                404,
                "unknown-curve",
                () -> api.get("/api/runs/" + run(api, "MFR-CBK-09").path("id").asString() + "/curve"));
        JsonNode insulation = view.path("judgement")
                .path("points")
                .valueStream()
                .filter(p -> p.path("key").asString().equals("insulation/r/A-E"))
                .findFirst()
                .orElseThrow();
        assertEquals("notJudged", insulation.path("verdict").asString());
        assertEquals(
                "the nameplate has no \"Rated voltage Ue\"",
                insulation.path("limit").path("unresolved").asString());
        for (String step : List.of("isolate", "prepare", "defeat", "longTime")) {
            view = confirm(view, step);
        }
        for (String path : List.of("A-B", "C-A", "A-E", "A-LL")) {
            view = api.post(
                    "/api/runs/" + view.path("id").asString() + "/entries",
                    Map.of("step", "insulation", "point", "r", "lane", path, "value", 2, "unit", "GOhm"),
                    view.path("personEvents").asLong());
        }
        for (String c : List.of("plug", "control")) {
            view = api.act(view, "restored", Map.of("step", "prepare", "confirmation", c));
        }
        JsonNode last = view;
        ProblemException e = problem(
                409,
                "parameter-unknown",
                () -> api.post(
                        "/api/runs/" + last.path("id").asString() + "/arm",
                        Map.of("step", "longTime", "lane", "A"),
                        last.path("personEvents").asLong()));
        assertTrue(e.getMessage().contains("the nameplate has no \"Long-time setting Ir\""), e.getMessage());
    }

    @Test
    void gearThatIsNotThereEndsInAnAttemptThatSaysSoAndNothingIsLost() throws InterruptedException {
        JsonNode view = confirm(fresh("MFR-CBK-07"), "isolate");
        view = confirm(view, "prepare");
        String path = "/api/runs/" + view.path("id").asString();
        JsonNode armed = api.post(
                path + "/arm",
                Map.of("step", "contact", "lane", "A"),
                view.path("personEvents").asLong());
        assertTrue(armed.path("what").asString().contains("10.00 A DC through pole A of MFR-CBK-07"), armed.toString());
        assertEquals("armed", armed.path("run").path("output").path("mode").asString());
        problem(409, "token-spent", () -> api.post(path + "/energise", Map.of("token", "guess"), null));
        api.post(path + "/energise", Map.of("token", armed.path("token").asString()), null);
        JsonNode now = await().atMost(Duration.ofMinutes(2))
                .until(() -> api.get(path), v -> v.at("/attempts/0").hasNonNull("outcome"));
        JsonNode attempt = now.path("attempts").get(0);
        assertEquals("instrumentError", attempt.path("outcome").asString());
        assertTrue(attempt.path("words").asString().contains("nothing listens"), attempt.toString());
        assertTrue(now.path("gearLost").has("mic-1"));
        assertEquals("safe", now.path("output").path("mode").asString());
        JsonNode last = now;
        problem(
                409,
                "gear-lost",
                () -> api.post(
                        path + "/arm",
                        Map.of("step", "contact", "lane", "A"),
                        last.path("personEvents").asLong()));
        problem(
                409,
                "not-armed",
                () -> api.post(
                        path + "/energise", Map.of("token", armed.path("token").asString()), null));
        assertEquals(List.of(), verify());
    }

    @Test
    void aRunIsFollowedFromWhereAScreenLeftOff() throws Exception {
        JsonNode view = fresh("MFR-CBK-07");
        String path = "/api/runs/" + view.path("id").asString();
        JsonNode events = api.get(path + "/events?after=" + (view.path("n").asLong() - 1));
        assertEquals(1, events.size());
        assertEquals("screenTaken", events.get(0).path("type").asString());
        try (java.net.Socket socket = new java.net.Socket("127.0.0.1", PORT)) {
            socket.setSoTimeout(5000);
            // Straight over a socket: a client that says what it saw last, as a browser does after a lost link.
            String cookie = DATABASE.template()
                    .queryForObject(
                            "SELECT session_id FROM spring_session WHERE principal_name = 'tavel' ORDER BY "
                                    + "last_access_time DESC LIMIT 1",
                            String.class);
            String encoded = java.util.Base64.getEncoder()
                    .encodeToString(String.valueOf(cookie).trim().getBytes(StandardCharsets.UTF_8));
            socket.getOutputStream()
                    .write(("GET " + path
                                    + "/stream HTTP/1.1\r\nHost: x\r\nAccept: "
                                    + "text/event-stream\r\nLast-Event-ID: 0\r\nCookie: juratest="
                                    + encoded + "\r\n\r\n")
                            .getBytes(StandardCharsets.UTF_8));
            java.io.BufferedReader in = new java.io.BufferedReader(
                    new java.io.InputStreamReader(socket.getInputStream(), StandardCharsets.UTF_8));
            assertTrue(until(in, "\"screenTaken\"").contains("\"n\":1,"));
            api.act(view, "note", Map.of("text", "seen live"));
            assertTrue(until(in, "seen live").contains("\"n\":2,"));
        }
    }

    private static String until(java.io.BufferedReader in, String word) throws IOException {
        for (String line = in.readLine(); line != null; line = in.readLine()) {
            if (line.contains(word)) {
                return line;
            }
        }
        throw new IOException("the stream ended before \"" + word + "\"");
    }

    @Test
    void proceduresAndCurvesAreExportedAndImportedBySupervisorsAndNeverChangeOnceUsed() {
        JsonNode exported = api.get("/api/procedures/CBK-YEARLY/1");
        byte[] document = CoreJson.mapper().writeValueAsBytes(exported);
        problem(403, "not-allowed", () -> api.post("/api/procedures", document, null));
        ApiClient supervisor = client("oster", "penstock-42");
        SERVER.database()
                .template()
                .update("UPDATE procedure_version SET frozen_at = now() WHERE code = 'CBK-YEARLY' AND version = 1");
        assertTrue(supervisor
                .post("/api/procedures", document, null)
                .path("frozen")
                .asBoolean());
        assertEquals(
                ProcedureJson.hash(ProcedureJson.read(document)),
                api.get("/api/procedures")
                        .valueStream()
                        .filter(p -> p.path("code").asString().equals("CBK-YEARLY")
                                && p.path("version").asInt() == 1)
                        .findFirst()
                        .orElseThrow()
                        .path("hash")
                        .asString());
        byte[] changed = new String(document, StandardCharsets.UTF_8)
                .replace("Look over", "Look closely")
                .getBytes(StandardCharsets.UTF_8);
        assertEquals(
                "version",
                problem(409, "version-frozen", () -> supervisor.post("/api/procedures", changed, null))
                        .field());
        byte[] broken = new String(document, StandardCharsets.UTF_8)
                .replace("(after - before) / before * 100", "(after - before / before * 100")
                .getBytes(StandardCharsets.UTF_8);
        ProblemException e = problem(422, "procedure-invalid", () -> supervisor.post("/api/procedures", broken, null));
        assertEquals("steps[8].points[0].formula", e.field());
        assertThrows(org.springframework.dao.DataAccessException.class, () -> DATABASE.template()
                .update("UPDATE procedure_version SET hash = 'x' WHERE version = 1"));
        JsonNode curves = api.get("/api/curves");
        assertTrue(curves.path("models")
                        .valueStream()
                        .filter(m -> m.hasNonNull("maker"))
                        .count()
                >= 4);
        byte[] one = new String(
                        CoreJson.mapper().writeValueAsBytes(api.get("/api/curves?id=orvex-m160")),
                        StandardCharsets.UTF_8)
                .replace("orvex-m160", "house-m160")
                .getBytes(StandardCharsets.UTF_8);
        supervisor.post("/api/curves", one, null);
        assertEquals(
                CurveJson.read(one),
                CurveJson.read(CoreJson.mapper().writeValueAsBytes(api.get("/api/curves?id=house-m160"))));
    }

    @Test
    void aPhotoIsToldByItsBytes() {
        byte[] png = {(byte) 0x89, 'P', 'N', 'G', '\r', '\n', 0x1A, '\n', 1, 2, 3};
        String hash = api.post("/api/blobs", png, null).path("sha256").asString();
        JsonNode view = fresh("MFR-CBK-07");
        JsonNode after = api.act(view, "photo", Map.of("blob", hash, "mediaType", "image/png"));
        assertEquals(
                hash, after.path("remarks").get(0).path("data").path("blob").asString());
        problem(
                404,
                "unknown-blob",
                () -> api.act(after, "photo", Map.of("blob", "cd".repeat(32), "mediaType", "image/png")));
        problem(409, "wrong-type", () -> api.post("/api/blobs", "<script>".getBytes(StandardCharsets.UTF_8), null));
    }

    @Test
    void verifyFindsAnyTamperingAndRebuildMakesTheTablesAnew() {
        var database = DATABASE.template();
        assertEquals(List.of(), verify());
        String record = "MFR-CBK-07/2025/1";
        String run = database.queryForObject("SELECT id FROM run WHERE record = ?", String.class, record);
        Map<String, String> harm = new HashMap<>(Map.of(
                "UPDATE event SET body = set_byte(body, 40, get_byte(body, 40) # 1) WHERE n = 30 AND run = '%s'",
                        "event 30",
                "UPDATE event SET type = 'note' WHERE n = 31 AND run = '%s'", "columns beside event 31",
                "UPDATE event SET at = at + interval '1 microsecond' WHERE n = 32 AND run = '%s'",
                        "columns beside event 32",
                "DELETE FROM event WHERE n = (SELECT max(n) FROM event WHERE run = '%1$s') AND run = '%1$s'",
                        "its row counts",
                "DELETE FROM event WHERE n = 12 AND run = '%s'", "event 12",
                "UPDATE run SET verdict = 'fail' WHERE id = '%s'", "the run's row is",
                "UPDATE reading SET value = value * 1.01 WHERE run = '%s' AND lane = 'C'", "reading",
                "DELETE FROM run_point WHERE run = '%s' AND lane = 'B'", "point"));
        harm.put("UPDATE last_value SET value = 1 WHERE run = '%s' AND lane = 'A'", "last value of CBK-1");
        harm.put("UPDATE run SET job = (SELECT max(id) FROM job) WHERE id = '%s'", "it was opened for job");
        harm.put("UPDATE run SET position = 'MFR-CBK-08' WHERE id = '%s'", "it was opened for CBK-1 at MFR-CBK-07");
        harm.put(
                "DELETE FROM blob WHERE sha256 IN (SELECT convert_from(body, 'UTF8')::jsonb #>> '{data,sha256}' "
                        + "FROM event WHERE run = '%s' AND type = 'captured')",
                "is gone");
        harm.put(
                "UPDATE blob SET bytes = bytes || 'x'::bytea WHERE sha256 IN (SELECT convert_from(body, "
                        + "'UTF8')::jsonb #>> '{data,sha256}' FROM event WHERE run = '%s' AND type = 'captured')",
                "does not hash to its name");
        harm.put("UPDATE person SET role = 'supervisor' WHERE id = 'tavel' AND '%s' <> ''", "person tavel");
        harm.put("UPDATE person SET active = false WHERE id = 'oster' AND '%s' <> ''", "person oster");
        harm.put(
                "ALTER TABLE procedure_version DISABLE TRIGGER procedure_version_frozen; UPDATE "
                        + "procedure_version SET body = body || ' '::bytea WHERE '%s' <> ''",
                "does not hash to what it was frozen with");
        harm.put(
                "ALTER TABLE procedure_version DISABLE TRIGGER procedure_version_frozen; UPDATE "
                        + "procedure_version SET body = body || ' '::bytea, hash = encode(sha256(body || ' "
                        + "'::bytea), 'hex') WHERE '%s' <> ''",
                "is not the one by which it was carried out");
        harm.put(
                "ALTER TABLE procedure_version DISABLE TRIGGER procedure_version_frozen; DELETE FROM "
                        + "procedure_version WHERE '%s' <> ''",
                "by which it was carried out, is gone");
        harm.put("UPDATE run_point SET run = gen_random_uuid() WHERE run = '%s' AND lane = 'B'", "belongs to no run");
        harm.put("DELETE FROM ledger WHERE run = '%s'", "lines are gone");
        harm.put("UPDATE ledger SET event = repeat('0', 64) WHERE run = '%s'", "does not hash to what it says");
        // A record taken away whole, with everything that is made from it: the ledger and the numbers still know it.
        String whole = "DELETE FROM last_value WHERE run = '%1$s'; DELETE FROM last_record WHERE run = '%1$s'; DELETE "
                + "FROM reading WHERE run = '%1$s'; DELETE FROM run_point WHERE run = '%1$s'; "
                + "DELETE FROM event WHERE run = '%1$s'; DELETE FROM run WHERE id = '%1$s'";
        harm.put(whole, "was finished by the ledger");
        harm.forEach((sql, words) -> {
            new TransactionTemplate(new org.springframework.jdbc.datasource.DataSourceTransactionManager(
                            java.util.Objects.requireNonNull(database.getDataSource())))
                    .executeWithoutResult(status -> {
                        String[] statements = sql.formatted(run, run).split("; ");
                        int touched = 0;
                        for (String statement : statements) {
                            touched += database.update(statement);
                        }
                        assertTrue(touched > 0, sql);
                        List<String> findings = verify(database);
                        assertTrue(findings.stream().anyMatch(f -> f.contains(words)), sql + " gave " + findings);
                        status.setRollbackOnly();
                    });
        });
        assertEquals(List.of(), verify());
        database.update("UPDATE reading SET value = 7 WHERE run = ?::uuid", run);
        database.update("DELETE FROM run_point WHERE run = ?::uuid", run);
        database.update("UPDATE last_value SET value = 1");
        database.update("UPDATE last_record SET standing = 'sound'");
        assertFalse(verify().isEmpty());
        assertEquals(List.of(), new Verifier(database).run(true).findings());
        assertEquals(List.of(), verify());
    }

    @Test
    void tablesOfAnEarlierVersionAreFilledWhenTheProgramStarts() throws Exception {
        var database = DATABASE.template();
        database.update("UPDATE run SET procedure = NULL, title = NULL, performed_by = NULL, sign_off = NULL");
        database.update("DELETE FROM last_record");
        database.update("INSERT INTO setting VALUES ('projection', '1')");
        assertFalse(verify().isEmpty());
        CONTEXT.getBean("projections", org.springframework.boot.ApplicationRunner.class)
                .run(null);
        assertEquals(List.of(), verify());
        assertEquals("8", database.queryForObject("SELECT value FROM setting WHERE key = 'projection'", String.class));
        assertEquals(
                "reviewed",
                database.queryForObject("SELECT sign_off FROM run WHERE record = 'MFR-CBK-07/2025/1'", String.class));
    }

    private static List<String> verify(org.springframework.jdbc.core.JdbcTemplate database) {
        return new Verifier(database)
                .run(false).findings().stream().map(Object::toString).toList();
    }

    @Test
    void everyShippedCurveGivesABandForADeviceItIsMadeFor() {
        Map<String, Double> plate = Map.of(
                "ratedVoltage",
                400.0,
                "longTimeSetting",
                100.0,
                "longTimeDelay",
                8.0,
                "shortTimePickUp",
                600.0,
                "shortTimeDelay",
                0.2,
                "instantaneousPickUp",
                1000.0,
                "pickUp",
                280.0,
                "pickUpSetting",
                0.8,
                "timeMultiplier",
                0.2);
        List<CurveModel> models = CurveJson.read(CoreJson.mapper().writeValueAsBytes(api.get("/api/curves")));
        assertTrue(models.size() >= 14, models.size() + " models");
        for (CurveModel model : models) {
            double rated = model.ratings().isEmpty() ? 63 : model.ratings().get(0);
            Map<String, Double> own = new HashMap<>(plate);
            own.put("ratedCurrent", rated);
            own.put("longTimeSetting", Math.max(100, rated));
            TimeCurrentBand band = model.bandFor(own);
            for (BandElement element : band.elements()) {
                for (double current : element.highest().x()) {
                    double lowest = element.lowest().at(current).orElse(0);
                    assertTrue(
                            lowest <= element.highest().at(current).orElseThrow(),
                            model.id() + " " + element.id() + " at " + current + " A");
                }
            }
        }
        TimeWindow window = models.stream()
                .filter(m -> m.id().equals("orvex-m160"))
                .findFirst()
                .orElseThrow()
                .bandFor(Map.of("ratedCurrent", 100.0, "longTimeSetting", 100.0))
                .at(300);
        assertEquals(14.1, window.earliest(), 1e-9);
        assertEquals(38.0, window.latest(), 1e-9);
    }

    @Test
    void historyIsJudgedAsItHappened() {
        var database = DATABASE.template();
        Map<String, Object> point = database.queryForMap(
                """
        SELECT p.as_found, p.as_left, p.verdict, r.verdict AS run_verdict FROM run_point p JOIN run r ON r.id = p.run
        WHERE r.record = 'MFR-CBK-07/2025/1' AND p.point = 'longTime/time/B'""");
        assertEquals(41.6, point.get("as_found"));
        assertEquals(24.3, point.get("as_left"));
        assertEquals("pass", point.get("verdict"));
        assertEquals("marginalInside", point.get("run_verdict")); // pole C: 290 of 297 µΩ
        assertEquals(
                "notJudged",
                database.queryForObject("SELECT verdict FROM run WHERE record = 'MFR-CBK-08/2025/1'", String.class));
        assertDoesNotThrow(
                () -> database.queryForObject("SELECT 1 FROM job WHERE status = 'done' LIMIT 1", Integer.class));
    }

    @Test
    void theRoundShowsStopsAlongTheLineWithWhatIsNearestToItsLimit() {
        JsonNode empty = api.get("/api/round");
        String today = empty.path("today").asString();
        List<Long> free = api.get("/api/rounds/tavel/" + today + "/free")
                .valueStream()
                .map(j -> j.path("id").asLong())
                .toList();
        JsonNode round =
                free.isEmpty() ? empty : api.post("/api/rounds/tavel/" + today + "/jobs", Map.of("jobs", free), null);
        JsonNode stop = round.path("stops").get(0);
        assertEquals("MFR", stop.path("site").asString());
        JsonNode star = stop.path("jobs")
                .valueStream()
                .filter(j -> j.path("position").asString().equals("MFR-CBK-07"))
                .findFirst()
                .orElseThrow();
        assertTrue(star.path("minutes").asDouble() > 30);
        JsonNode nearest = star.path("last").path("nearest");
        assertTrue(
                nearest.hasNonNull("source")
                        && nearest.path("strip").path("to").asDouble()
                                > nearest.path("strip").path("from").asDouble(),
                nearest.toString());
        assertEquals(
                List.of("ins-1 true", "mic-2 false", "mic-1 true", "inj-2 true"),
                round.path("loadout")
                        .valueStream()
                        .map(g -> g.path("item").asString().substring(5) + " "
                                + g.path("holds").asBoolean())
                        .toList(),
                "what is out of calibration stands before what is to be taken instead");
    }

    @Test
    void anotherNumberOnThePlateStopsTheRunAndOtherGearTakesOver() {
        JsonNode view = api.act(fresh("MFR-CBK-07"), "assetIdentified", Map.of("serial", "11-0000"));
        assertTrue(view.path("otherDevice").asBoolean());
        JsonNode wrong = view;
        assertEquals(
                "serial",
                problem(409, "wrong-asset", () -> confirm(wrong, "isolate")).field());
        JsonNode right = api.act(
                view,
                "assetIdentified",
                Map.of("serial", view.path("asset").path("serial").asString()));
        assertFalse(confirm(right, "isolate").path("otherDevice").asBoolean());
        String path = "/api/runs/" + view.path("id").asString();
        JsonNode now = api.get(path);
        String injection = api.get("/api/gear")
                .valueStream()
                .filter(g -> g.path("role").asString().equals("current-source"))
                .map(g -> g.path("id").asString())
                .findFirst()
                .orElseThrow();
        assertEquals(
                "gear",
                problem(
                                409,
                                "wrong-gear",
                                () -> api.post(
                                        path + "/gear",
                                        Map.of("need", "micro", "gear", injection),
                                        now.path("personEvents").asLong()))
                        .field());
        problem(
                409,
                "unknown-gear",
                () -> api.post(
                        path + "/gear",
                        Map.of("need", "micro", "gear", "none"),
                        now.path("personEvents").asLong()));
        JsonNode after = api.post(
                path + "/gear",
                Map.of("need", "injection", "gear", injection),
                now.path("personEvents").asLong());
        assertTrue(after.path("gear")
                .valueStream()
                .anyMatch(g -> g.path("need").asString().equals("injection")
                        && g.path("id").asString().equals(injection)));
        assertEquals(List.of(), verify());
    }

    private static List<String> leftOut(JsonNode view) {
        return view.path("steps")
                .valueStream()
                .filter(step -> !step.path("inScope").asBoolean())
                .map(step -> step.path("id").asString())
                .toList();
    }

    @Test
    void aVariantIsSavedRevisedHandedOutTakenInAndApplied() {
        JsonNode view = fresh("MFR-CBK-07");
        String run = "/api/runs/" + view.path("id").asString();
        Map<String, Object> scope = Map.of("withoutSteps", List.of(), "withoutPairs", List.of("contact/B"));
        view = api.act(view, "scopeSet", Map.of("scope", scope));
        assertEquals(List.of("coarse", "instantaneous"), leftOut(view), "nobody gets an extra step unasked");
        JsonNode without = view;
        assertEquals(
                "scope.withSteps",
                problem(
                                409,
                                "contradiction",
                                () -> api.act(
                                        without,
                                        "scopeSet",
                                        Map.of(
                                                "scope",
                                                Map.of("withoutSteps", List.of("look"), "withSteps", List.of("look")))))
                        .field());
        view = api.act(
                view,
                "scopeSet",
                Map.of(
                        "scope",
                        Map.of(
                                "withoutSteps",
                                List.of(),
                                "withoutPairs",
                                List.of("contact/B"),
                                "withSteps",
                                List.of("coarse"))));
        assertEquals(List.of("instantaneous"), leftOut(view));
        view = api.act(
                view,
                "limitChanged",
                Map.of(
                        "step",
                        "contact",
                        "point",
                        "r",
                        "lane",
                        "A",
                        "reason",
                        "old bars",
                        "limit",
                        Map.of("kind", "fixed", "when", "start", "source", "house rule", "high", 500)));
        JsonNode first = api.post(
                run + "/variants",
                Map.of("name", "Old bars", "words", "for the old switchboard"),
                view.path("personEvents").asLong());
        String code = first.at("/variant/code").asString();
        assertEquals(1, first.at("/variant/revision").asInt());
        assertFalse(first.at("/variant/changed").asBoolean());

        // What differs from it is said, and becomes its next revision; the first stays as it was.
        JsonNode changed = api.act(first, "backToProcedure", Map.of("step", "contact", "point", "r", "lane", "A"));
        assertTrue(changed.at("/variant/changed").asBoolean());
        JsonNode second = api.post(
                run + "/variants",
                Map.of("name", "Old bars", "words", "limit as in the sheet", "code", code),
                changed.path("personEvents").asLong());
        assertEquals(2, second.at("/variant/revision").asInt());
        assertEquals(
                List.of("2 limit as in the sheet", "1 for the old switchboard"),
                api.get("/api/variants/" + code)
                        .valueStream()
                        .map(v -> v.path("revision").asInt() + " "
                                + v.path("words").asString())
                        .toList());
        assertEquals(
                1,
                api.get("/api/variants?procedure=" + view.path("procedure").asString())
                        .size(),
                "the list shows the newest of each");

        // Its file is what was kept; taken in again it changes nothing, and never replaces a revision.
        byte[] file = api.bytes("/api/variants/" + code + "/1");
        assertEquals(1, api.post("/api/variants", file, null).path("revision").asInt());
        String text = new String(file, StandardCharsets.UTF_8);
        assertEquals(
                "revision",
                problem(
                                409,
                                "revision-kept",
                                () -> api.post(
                                        "/api/variants",
                                        text.replace("Old bars", "New bars").getBytes(StandardCharsets.UTF_8),
                                        null))
                        .field());
        byte[] third = text.replace("\"revision\":1", "\"revision\":3").getBytes(StandardCharsets.UTF_8);
        assertEquals(3, api.post("/api/variants", third, null).path("revision").asInt());
        for (String[] wrong : new String[][] {
            {"\"high\":500", "\"hihg\":500", "limits[0].limit.hihg"},
            {"contact/B", "contract/B", "scope.withoutPairs"},
            {"\"point\":\"r\"", "\"point\":\"q\"", "limits[0].point"},
            {"juratest-variant/1", "juratest-variant/9", "format"}
        }) {
            assertEquals(
                    wrong[2],
                    problem(
                                    409,
                                    "bad-variant",
                                    () -> api.post(
                                            "/api/variants",
                                            text.replace(wrong[0], wrong[1])
                                                    .replace("\"revision\":1", "\"revision\":4")
                                                    .getBytes(StandardCharsets.UTF_8),
                                            null))
                            .field(),
                    wrong[1]);
        }

        // The newest is applied to another run, and taken off again.
        JsonNode other = run(api, "MFR-CBK-08");
        String path = "/api/runs/" + other.path("id").asString();
        JsonNode applied = api.post(
                path + "/variant",
                Map.of("code", code),
                other.path("personEvents").asLong());
        assertEquals(3, applied.at("/variant/revision").asInt());
        assertEquals("contact/B", applied.at("/scope/withoutPairs/0").asString());
        assertTrue(applied.path("points")
                .valueStream()
                .anyMatch(p -> p.path("key").asString().equals("contact/r/A")
                        && p.path("altered").asBoolean()));
        JsonNode bare = api.post(
                path + "/variant", Map.of(), applied.path("personEvents").asLong());
        assertTrue(
                bare.path("variant").isMissingNode()
                        && bare.at("/scope/withoutPairs").isMissingNode(),
                bare.path("scope").toString());
        problem(
                404,
                "unknown-variant",
                () -> api.post(
                        path + "/variant",
                        Map.of("code", "NONE"),
                        bare.path("personEvents").asLong()));
        assertEquals(List.of(), verify());
    }

    @Test
    void aDeviceWithoutADataPortCannotBeAsked() {
        JsonNode view = fresh("MFR-CBK-07");
        problem(
                409,
                "no-data-port",
                () -> api.post(
                        "/api/runs/" + view.path("id").asString() + "/device",
                        Map.of(),
                        view.path("personEvents").asLong()));
    }

    @Test
    void everyAddressOfThePagesIsThePageAndAWrongOneSaysSo() throws Exception {
        HttpClient browser = HttpClient.newHttpClient();
        for (Map.Entry<String, Integer> address : Map.of(
                        "/", 200, "/round", 200, "/bench/0199", 200, "/nowhere/at/all", 404)
                .entrySet()) {
            HttpResponse<String> page = browser.send(
                    HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + PORT + address.getKey()))
                            .header("Accept", "text/html")
                            .build(),
                    HttpResponse.BodyHandlers.ofString());
            assertEquals(address.getValue(), page.statusCode(), address.getKey());
            assertTrue(page.body().contains("<div id=\"root\">"), address.getKey());
        }
        HttpResponse<String> program = browser.send(
                HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + PORT + "/nowhere"))
                        .build(),
                HttpResponse.BodyHandlers.ofString());
        assertTrue(program.body().contains("/problems/unknown-address"), program.body());
    }

    @Test
    void whatIsShownOfAReadingComesReadyWithFigureSpanStripAndChange() {
        JsonNode view = confirm(confirm(fresh("MFR-CBK-07"), "isolate"), "prepare");
        JsonNode before = shown(view, "longTime/time/B");
        assertEquals("s", before.path("unit").asString());
        assertTrue(
                before.path("span").asString().matches("\\d+\\.\\d to \\d+\\.\\d"),
                "the window at the step's own current is shown before there is a reading: " + before);
        assertFalse(before.path("strip").path("past").isEmpty());
        assertTrue(view.path("steps")
                .valueStream()
                .anyMatch(st -> st.path("id").asString().equals("longTime")
                        && st.path("window").path("current").asDouble() == 300));
        view = api.act(
                view,
                "conditionEntered",
                Map.of("what", "equipmentTemperature", "value", Map.of("value", 30, "unit", "Cel")));
        view = api.post(
                "/api/runs/" + view.path("id").asString() + "/entries",
                Map.of(
                        "step",
                        "insulation",
                        "point",
                        "r",
                        "lane",
                        "A-E",
                        "value",
                        49.998,
                        "unit",
                        "MOhm",
                        "qualifier",
                        "="),
                view.path("personEvents").asLong());
        JsonNode point = shown(view, "insulation/r/A-E");
        // 49.998 MOhm at 30 degC are 99.996 at 20: a fail that must not read as 100 (R20 = R 2^((T-20)/10)).
        assertEquals("fail", point.path("verdict").asString());
        assertEquals("99.996", point.path("counting").path("figure").asString());
        assertEquals("at least 100.00", point.path("span").asString());
        assertTrue(
                point.path("change").asString().startsWith("\u2212"),
                point.path("change").asString());
        JsonNode reading = view.path("readings").get(0);
        assertEquals("50.0", reading.path("raw").asString());
        assertEquals(2, reading.path("corrections").get(0).path("amount").asDouble(), 1e-9);
        assertEquals("entered", reading.path("origin").asString());
        assertTrue(
                reading.path("strip").path("low").asDouble() == 100
                        && reading.path("strip").path("scale").asString().equals("logarithmic"),
                reading.path("strip").toString());
    }

    private static JsonNode shown(JsonNode view, String key) {
        return view.path("points")
                .valueStream()
                .filter(p -> p.path("key").asString().equals(key))
                .findFirst()
                .orElseThrow();
    }
}
