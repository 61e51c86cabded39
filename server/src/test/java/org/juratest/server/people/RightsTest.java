package org.juratest.server.people;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.juratest.server.TestServer;
import org.juratest.server.command.ApiClient;
import org.juratest.server.command.ApiClient.ProblemException;
import org.springframework.web.bind.annotation.RequestMethod;
import org.springframework.web.servlet.mvc.method.annotation.RequestMappingHandlerMapping;
import tools.jackson.databind.JsonNode;

/**
 * Who may do what, over HTTP: the table holds for every address there is, at once, and reaches no further than it says.
 */
class RightsTest {

    private static final Map<Role, String[]> PEOPLE = Map.of(
            Role.TECHNICIAN,
            new String[] {"tavel", "rack-rail-16"},
            Role.SUPERVISOR,
            new String[] {"oster", "penstock-42"},
            Role.ENGINEER,
            new String[] {"ruvane", "gantry-post-57"},
            Role.AUDITOR,
            new String[] {"corvise", "ledger-stone-12"},
            Role.ADMINISTRATOR,
            new String[] {"valdres", "signal-box-90"});
    private static TestServer server;

    @BeforeAll
    static void start() {
        server = TestServer.start();
    }

    @AfterAll
    static void stop() {
        server.close();
    }

    private static ApiClient client(Role role) {
        return server.client(PEOPLE.get(role)[0], PEOPLE.get(role)[1]);
    }

    private static ProblemException problem(int status, String type, org.junit.jupiter.api.function.Executable action) {
        return TestServer.problem(status, type, action);
    }

    private static JsonNode send(ApiClient api, String request) {
        String[] words = request.replaceAll("\\{(run|id)}", "01990000-0000-7000-8000-000000000000")
                .replaceAll("\\{(n|year|job|outage|absence|version|revision)}", "7")
                .replace("{day}", "2026-01-01")
                .replaceAll("\\{[^}]+}", "x")
                .split(" ");
        return switch (words[0]) {
            case "POST" -> api.post(words[1], Map.of(), 0L);
            case "PUT" -> api.put(words[1], Map.of(), 0L);
            case "PATCH" -> api.patch(words[1], Map.of());
            case "DELETE" -> api.delete(words[1]);
            default -> api.get(words[1]);
        };
    }

    /** The requests that handlers take, as the program itself knows them. */
    private static Set<String> handled() {
        Set<String> handled = new TreeSet<>();
        server.context()
                .getBean("requestMappingHandlerMapping", RequestMappingHandlerMapping.class)
                .getHandlerMethods()
                .keySet()
                .forEach(mapping -> {
                    for (String path : mapping.getPatternValues()) {
                        Set<RequestMethod> methods =
                                mapping.getMethodsCondition().getMethods();
                        if (path.startsWith("/api/")
                                && !path.startsWith("/api/openapi")
                                && !path.equals("/api/status")) {
                            assertFalse(methods.isEmpty(), path + " takes any method");
                            methods.forEach(m -> handled.add(m + " " + path));
                        }
                    }
                });
        handled.remove("POST /api/session");
        return handled;
    }

    @Test
    void everyAddressHasItsRowAndEveryRowItsAddress() {
        List<String> rows = Rights.all().stream()
                .flatMap(r -> r.requests().stream())
                .sorted()
                .toList();
        Set<String> exact = new TreeSet<>(handled());
        assertTrue(exact.size() > 130, exact.toString());
        // A row may name one of the values of a name in the address, to give it to others than the rest.
        List<String> narrowed = rows.stream().filter(r -> !exact.contains(r)).toList();
        assertEquals(
                List.of(
                        "PATCH /api/register/assets/{key}",
                        "PATCH /api/register/files/{key}",
                        "PATCH /api/register/measuring-installations/{key}",
                        "PATCH /api/register/positions/{key}"),
                narrowed);
        exact.removeAll(rows);
        assertEquals(Set.of(), exact, "addresses without a row in the table of rights: nobody may use them");
    }

    @ParameterizedTest
    @EnumSource(Role.class)
    void whatARoleMayNotIsRefusedWhateverIsSent(Role role) {
        ApiClient api = client(role);
        List<String> let = new ArrayList<>();
        int refused = 0;
        for (Rights.Right right : Rights.all()) {
            if (!right.roles().contains(role)) {
                for (String request : right.requests()) {
                    try {
                        send(api, request);
                        let.add(request);
                    } catch (ProblemException e) {
                        if (e.status() != 403 || !e.type().equals("not-allowed")) {
                            let.add(request + " " + e.status() + " " + e.type());
                        }
                        refused++;
                    }
                }
            } else {
                for (String request : right.requests().stream()
                        .filter(r -> r.startsWith("GET ") && !r.endsWith("/stream") && !r.endsWith("/news"))
                        .toList()) {
                    try {
                        send(api, request);
                    } catch (ProblemException e) {
                        assertTrue(
                                e.status() != 403 && e.status() < 500,
                                role + " may " + request + ", but: " + e.status() + " " + e.getMessage());
                    } catch (RuntimeException e) {
                        // What is answered with is no JSON.
                        assertFalse(e instanceof java.io.UncheckedIOException, request);
                    }
                }
            }
        }
        assertEquals(List.of(), let, role + " was let through");
        assertTrue(refused >= 5, role + " was tried");
    }

    @Test
    void anAddressInDisguiseIsTheSameAddress() throws IOException, InterruptedException {
        for (String disguise : List.of(
                "/api/peopl%65",
                "/api/%70eople",
                "/api//people",
                "/api/./people",
                "/api/people;x=y",
                "/api/people/",
                "/api/x/../people")) {
            try {
                // Refused, whichever of the gates it is that does.
                client(Role.TECHNICIAN)
                        .post(disguise, Map.of("id", "mallory", "name", "Mallory", "role", "administrator"), null);
                throw new AssertionError(disguise + " was let through");
            } catch (ProblemException e) {
                assertTrue(e.status() == 403 || e.status() == 404 || e.status() == 400, disguise + ": " + e.status());
            } catch (RuntimeException e) {
                assertFalse(e instanceof java.io.UncheckedIOException, disguise);
            }
        }
        assertTrue(client(Role.ADMINISTRATOR).get("/api/people").valueStream().noneMatch(p -> p.path("id")
                .asString()
                .equals("mallory")));
        HttpResponse<String> stranger = HttpClient.newHttpClient()
                .send(
                        HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + server.port() + "/api/peopl%65"))
                                .build(),
                        HttpResponse.BodyHandlers.ofString());
        assertEquals(401, stranger.statusCode());
    }

    // ---- accounts

    private static JsonNode added(ApiClient admin, String id, String role) {
        return admin.post("/api/people", Map.of("id", id, "name", "N. " + id, "role", role), null);
    }

    private static ApiClient withOwnPassword(JsonNode made, String password) {
        String id = made.at("/account/id").asString();
        ApiClient api = server.client(id, made.path("password").asString());
        problem(403, "password-change-needed", () -> api.get("/api/jobs"));
        problem(403, "password-change-needed", () -> api.post("/api/jobs", Map.of(), null));
        assertEquals(
                "next",
                problem(
                                422,
                                "fields-invalid",
                                () -> api.put(
                                        "/api/session/password",
                                        Map.of("now", made.path("password").asString(), "next", "short")))
                        .field());
        assertEquals(
                "next",
                problem(
                                422,
                                "fields-invalid",
                                () -> api.put(
                                        "/api/session/password",
                                        Map.of("now", made.path("password").asString(), "next", "my-name-is-" + id)))
                        .field());
        assertEquals(
                "now",
                problem(
                                409,
                                "wrong-password",
                                () -> api.put(
                                        "/api/session/password", Map.of("now", "something else", "next", password)))
                        .field());
        api.put("/api/session/password", Map.of("now", made.path("password").asString(), "next", password));
        assertTrue(api.get("/api/jobs").has("jobs"));
        return api;
    }

    @Test
    void aChangedRoleCountsAtOnceAndWhoseAccountEndsIsOutAtOnceWithAllTheirHistory() {
        ApiClient admin = client(Role.ADMINISTRATOR);
        ApiClient her = withOwnPassword(added(admin, "lirande", "technician"), "brass-lantern-77");
        problem(403, "not-allowed", () -> her.post("/api/plans", Map.of(), null));
        JsonNode before = account(admin, "lirande");
        problem(428, "if-match-missing", () -> admin.patch("/api/people/lirande", Map.of("role", "engineer")));
        problem(
                412,
                "run-moved-on",
                () -> admin.patch(
                        "/api/people/lirande",
                        Map.of("role", "engineer"),
                        before.path("revision").asLong() - 1));
        JsonNode engineer = admin.patch(
                "/api/people/lirande",
                Map.of("role", "engineer"),
                before.path("revision").asLong());
        assertEquals(
                400, problemOf(() -> her.post("/api/plans", Map.of(), null)).status(), "now she may, but sent nothing");
        admin.patch(
                "/api/people/lirande",
                Map.of("active", false),
                engineer.path("revision").asLong());
        problem(401, "not-signed-in", () -> her.get("/api/jobs"));
        problem(401, "sign-in-failed", () -> server.client("lirande", "brass-lantern-77"));
        List<String> log = admin.get("/api/people/changes")
                .valueStream()
                .filter(c -> c.path("key").asString().equals("lirande"))
                .map(c -> c.path("by").asString() + ": " + c.path("words").asString())
                .toList();
        assertEquals(
                List.of(
                        "valdres: may no longer sign in",
                        "valdres: role technician to engineer",
                        "lirande: own password changed",
                        "valdres: added N. lirande as technician"),
                log);
        assertTrue(
                admin.get("/api/people")
                        .valueStream()
                        .anyMatch(p -> p.path("id").asString().equals("lirande")
                                && !p.path("active").asBoolean()),
                "nobody disappears");
        assertEquals(
                "last-administrator",
                problemOf(() -> admin.patch(
                                "/api/people/valdres",
                                Map.of("role", "technician"),
                                account(admin, "valdres").path("revision").asLong()))
                        .type());
    }

    private static JsonNode account(ApiClient admin, String id) {
        return admin.get("/api/people")
                .valueStream()
                .filter(p -> p.path("id").asString().equals(id))
                .findFirst()
                .orElseThrow();
    }

    private static ProblemException problemOf(org.junit.jupiter.api.function.Executable action) {
        return org.junit.jupiter.api.Assertions.assertThrows(ProblemException.class, action);
    }

    @Test
    void whatCannotBeAnAccountIsRefusedByTheField() {
        ApiClient admin = client(Role.ADMINISTRATOR);
        for (String[] wrong : new String[][] {
            {"A", "N", "technician", "id"},
            {"../x", "N", "technician", "id"},
            {"oster", "N", "technician", "id"},
            {"nobody", " ", "technician", "name"},
            {"nobody", "N", "boss", "role"},
            {"nobody", "N\u0000", "technician", "name"}
        }) {
            ProblemException e = problemOf(
                    () -> admin.post("/api/people", Map.of("id", wrong[0], "name", wrong[1], "role", wrong[2]), null));
            assertTrue(
                    e.status() == (wrong[1].indexOf('\0') < 0 ? 422 : 400)
                            && e.field().equals(wrong[3]),
                    wrong[0] + "/" + wrong[1] + "/" + wrong[2] + ": " + e.status() + " " + e.field() + " "
                            + e.getMessage());
        }
    }

    @Test
    void sessionsAreListedAndEndedAndAResetSignsOutEverywhere() {
        ApiClient admin = client(Role.ADMINISTRATOR);
        JsonNode made = added(admin, "sorvan", "technician");
        ApiClient here = withOwnPassword(made, "copper-kettle-31");
        ApiClient there = server.client("sorvan", "copper-kettle-31");
        JsonNode listed = here.get("/api/session/others");
        assertEquals(2, listed.size());
        assertEquals(
                1, listed.valueStream().filter(s -> s.path("own").asBoolean()).count());
        here.delete("/api/session/others/"
                + listed.valueStream()
                        .filter(s -> !s.path("own").asBoolean())
                        .findFirst()
                        .orElseThrow()
                        .path("id")
                        .asString());
        problem(401, "not-signed-in", () -> there.get("/api/jobs"));
        assertTrue(here.get("/api/jobs").has("jobs"));
        JsonNode reset = admin.post("/api/people/sorvan/password", Map.of(), null);
        problem(401, "not-signed-in", () -> here.get("/api/jobs"));
        withOwnPassword(reset, "copper-kettle-32");
    }

    // ---- guesses

    @Test
    void whoGuessesIsSlowedAndNobodyIsLockedOutByOthersGuesses() {
        ApiClient admin = client(Role.ADMINISTRATOR);
        withOwnPassword(added(admin, "merrivo", "technician"), "granite-bell-58");
        ProblemException slowed = null;
        for (int n = 0; n < 12 && slowed == null; n++) {
            ProblemException e = problemOf(() -> server.client("nosuch", "guess"));
            slowed = e.type().equals("too-fast") ? e : null;
        }
        assertTrue(
                slowed != null && slowed.status() == 429 && slowed.getMessage().matches(".*Wait \\d+ s.*"),
                String.valueOf(slowed));
        for (int n = 0; n < 40; n++) {
            // The address as a whole is slowed for those who never signed in from it.
            server.database()
                    .template()
                    .update("UPDATE failed_proof SET count = count + 1, next_at = clock_timestamp() + interval "
                            + "'60 s' WHERE person = ''");
        }
        problem(429, "too-fast", () -> server.client("another-name", "guess"));
        server.client("merrivo", "granite-bell-58");
        server.database().template().update("DELETE FROM failed_proof");
    }

    // ---- no further than one's own

    @Test
    void aTechnicianDecidesAboutTheirOwn() {
        ApiClient tavel = client(Role.TECHNICIAN);
        ApiClient oster = client(Role.SUPERVISOR);
        String today = LocalDate.now().toString();
        List<JsonNode> jobs = tavel.get("/api/jobs?limit=50")
                .path("jobs")
                .valueStream()
                .filter(j -> j.path("status").asString().equals("open"))
                .toList();
        long mine = jobs.get(0).path("id").asLong();
        oster.put("/api/jobs/" + mine + "/day", planned(jobs.get(0), today, "oster"));
        for (Map.Entry<String, Map<String, ?>> act : Map.<String, Map<String, ?>>of(
                        "/deferral",
                        Map.of("until", LocalDate.now().plusDays(3).toString(), "why", "x"),
                        "/obstacle",
                        Map.of("kind", "other", "why", "x"),
                        "/put-back",
                        Map.of("why", "x"))
                .entrySet()) {
            problem(403, "not-allowed", () -> tavel.post("/api/jobs/" + mine + act.getKey(), act.getValue(), null));
        }
        JsonNode now = tavel.get("/api/jobs/" + mine);
        problem(403, "not-allowed", () -> tavel.put("/api/jobs/" + mine + "/day", planned(now, today, "tavel")));
        problem(403, "not-allowed", () -> tavel.put("/api/rounds/oster/" + today + "/start", Map.of("leaves", 400)));
        oster.put("/api/jobs/" + mine + "/day", planned(now, null, null));
        ProblemException years = problemOf(() -> tavel.post(
                "/api/jobs/" + mine + "/deferral",
                Map.of("until", LocalDate.now().plusYears(2).toString(), "why", "x"),
                null));
        assertTrue(years.status() == 403 && years.getMessage().contains("31 days"), years.getMessage());
        tavel.post(
                "/api/jobs/" + mine + "/deferral",
                Map.of("until", LocalDate.now().plusDays(20).toString(), "why", "no access"),
                null);
        tavel.post("/api/jobs/" + mine + "/resumption", Map.of(), null);
        oster.post(
                "/api/jobs/" + mine + "/deferral",
                Map.of("until", LocalDate.now().plusDays(200).toString(), "why", "no access"),
                null);
        problem(403, "not-allowed", () -> tavel.post("/api/jobs/" + mine + "/resumption", Map.of(), null));
        oster.post("/api/jobs/" + mine + "/resumption", Map.of(), null);
    }

    private static Map<String, Object> planned(JsonNode job, String day, String person) {
        Map<String, Object> given = new java.util.HashMap<>();
        given.put("day", day);
        given.put("person", person);
        given.put(
                "wasDay", job.hasNonNull("plannedFor") ? job.path("plannedFor").asString() : null);
        given.put("wasPerson", job.hasNonNull("person") ? job.path("person").asString() : null);
        return given.entrySet().stream()
                .filter(e -> e.getValue() != null)
                .collect(Collectors.toMap(Map.Entry::getKey, Map.Entry::getValue));
    }

    @Test
    void nobodyGrantsTheOutageTheyAskedForNorTakesOffAnothersFile() {
        ApiClient tavel = client(Role.TECHNICIAN);
        ApiClient oster = client(Role.SUPERVISOR);
        Map<String, Object> wanted = Map.of(
                "site",
                "MFR",
                "fromDay",
                LocalDate.now().plusDays(4).toString(),
                "toDay",
                LocalDate.now().plusDays(4).toString(),
                "words",
                "for the bus coupler");
        long asked = newest(tavel.post("/api/plan/outages", wanted, null));
        problem(
                403,
                "not-allowed",
                () -> tavel.put("/api/plan/outages/" + asked, Map.of("state", "granted", "words", "by myself")));
        oster.put("/api/plan/outages/" + asked, Map.of("state", "granted", "words", ""));
        long own = newest(oster.post("/api/plan/outages", wanted, null));
        problem(
                403,
                "not-allowed",
                () -> oster.put("/api/plan/outages/" + own, Map.of("state", "granted", "words", "")));
        byte[] text = "a protocol of the maker".getBytes(java.nio.charset.StandardCharsets.UTF_8);
        oster.postPatiently("/api/attachments?kind=site&key=MFR&name=protocol.txt", text);
        String file = tavel.get("/api/register/sites/MFR")
                .path("files")
                .get(0)
                .path("id")
                .asString();
        problem(403, "not-allowed", () -> tavel.delete("/api/attachments/" + file));
        oster.delete("/api/attachments/" + file);
        problem(403, "not-allowed", () -> tavel.patch("/api/register/sites/MFR", Map.of("changes", Map.of())));
        problem(403, "not-allowed", () -> tavel.delete("/api/register/sites/MFR"));
        problem(403, "not-allowed", () -> tavel.delete("/api/register/assets/CBK-1/do-not-use"));
    }

    private static long newest(JsonNode resources) {
        return resources
                .path("outages")
                .valueStream()
                .mapToLong(o -> o.path("id").asLong())
                .max()
                .orElseThrow();
    }
}
