package org.juratest.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ThreadLocalRandom;
import java.util.function.Consumer;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.function.Executable;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;
import org.juratest.server.command.ApiClient;
import org.juratest.server.command.ApiClient.ProblemException;
import tools.jackson.databind.JsonNode;

/**
 * Each rule about outputs is tried to be got round over HTTP, by a driver, a colleague and a client that does what no
 * page does. What the gear's own log says it was switched on with is what counts, not what the server answers.
 */
class OutputRulesTest {

    private static final String BREAKER = "MFR-CBK-07";
    private static final String OTHER_BREAKER = "MFR-CBK-05";
    private static final String RADIO = "TES-RAD-03";
    private static final List<ApiClient> CLIENTS = new ArrayList<>();
    private static Installation installation;

    @BeforeAll
    static void start() throws Exception {
        installation = Installation.laid(Files.createTempDirectory("rules"), Path.of(".."));
        installation.startSimulators(1);
        installation.startServer();
    }

    @AfterAll
    static void stop() {
        installation.close();
    }

    @AfterEach
    void quiet() {
        CLIENTS.forEach(ApiClient::close);
        CLIENTS.clear();
    }

    private static ApiClient signedIn(String person, String password) {
        return signedIn(new ApiClient(installation.address()), person, password);
    }

    private static ApiClient signedIn(ApiClient client, String person, String password) {
        client.signIn(person, password);
        CLIENTS.add(client);
        return client;
    }

    private static ApiClient driver() {
        return signedIn("tavel", "rack-rail-16");
    }

    private static ApiClient colleague() {
        return signedIn("oster", "penstock-42");
    }

    private static ProblemException refused(Executable call) {
        return assertThrows(ProblemException.class, call);
    }

    /** A run at the bench, as somebody drives it. */
    private record Bench(ApiClient api, String run) {

        JsonNode now() {
            return api.get("/api/runs/" + run);
        }

        JsonNode act(String type, Map<String, ?> data) {
            return api.act(now(), type, data);
        }

        JsonNode arm(String step, String lane, boolean on) {
            JsonNode view = now();
            if (view.path("steps").valueStream().anyMatch(s -> s.path("cooling").asDouble() > 0)) {
                view = act("coolingOverruled", Map.of("reason", "only a trial of the safety of the bench"));
            }
            return api.post(
                    "/api/runs/" + run + "/arm",
                    Map.of("step", step, "lane", lane, "on", on),
                    view.path("personEvents").asLong());
        }

        String armed() {
            return arm("longTime", "A", false).path("token").asString();
        }

        void energise(String token) {
            api.post("/api/runs/" + run + "/energise", Map.of("token", token), null);
        }

        /** Armed and pressed; again where the machine stood still for so long that the screen was not heard. */
        void on(String step, String lane, boolean at) {
            for (int tries = 1; ; tries++) {
                try {
                    energise(arm(step, lane, at).path("token").asString());
                    return;
                } catch (ProblemException e) {
                    if (tries == 5 || !e.type().equals("screen-not-heard")) {
                        throw e;
                    }
                }
            }
        }

        JsonNode post(String what, Map<String, ?> body) {
            return api.post(
                    "/api/runs/" + run + "/" + what,
                    body,
                    now().path("personEvents").asLong());
        }

        void safe() throws InterruptedException {
            api.post("/api/runs/" + run + "/stop", Map.of(), null);
            Installation.until(
                    "the run is safe and no longer busy",
                    () -> now().at("/output/mode").asString().equals("safe")
                            && !now().path("busy").asBoolean());
        }

        void energised(int outputs) throws InterruptedException {
            Instant before = Instant.now();
            on("longTime", "A", false);
            Installation.until(
                    "the current flows", () -> installation.onsSince(before).size() >= outputs);
        }
    }

    private static long job(ApiClient api, String position, String procedure) {
        JsonNode there = api.get("/api/jobs?limit=200")
                .path("jobs")
                .valueStream()
                .filter(j -> j.path("position").asString().equals(position)
                        && j.path("procedure").asString().equals(procedure)
                        && !j.path("status").asString().equals("done"))
                .findFirst()
                .orElse(null);
        if (there != null) {
            if (there.hasNonNull("run")) {
                Bench old = new Bench(api, there.path("run").asString());
                api.drive(old.run);
                if (old.now().hasNonNull("interrupted")) {
                    old.act("resumed", Map.of());
                }
                old.post("abort", Map.of("reason", "the next trial"));
            }
            return there.path("id").asLong();
        }
        JsonNode place = colleague().get("/api/register/positions/" + position);
        return colleague()
                .post(
                        "/api/jobs",
                        Map.of(
                                "asset",
                                place.at("/place/asset/id").asString(),
                                "procedure",
                                procedure,
                                "occasion",
                                "finding",
                                "due",
                                LocalDate.now().toString(),
                                "why",
                                "a trial"),
                        null)
                .path("id")
                .asLong();
    }

    private static Bench opened(ApiClient api, String position, String procedure) {
        String run = api.post("/api/jobs/" + job(api, position, procedure) + "/run", Map.of("gear", Map.of()), null)
                .path("id")
                .asString();
        api.drive(run);
        return new Bench(api, run);
    }

    /** A breaker made safe, ready for its injection into pole A. */
    private static Bench breaker(ApiClient api, String position) {
        Bench bench = opened(api, position, "CBK-YEARLY");
        for (JsonNode step : bench.now().path("steps")) {
            for (JsonNode c : step.path("inScope").asBoolean() ? step.path("confirmations") : List.<JsonNode>of()) {
                bench.act(
                        "holdReleased",
                        Map.of(
                                "step",
                                step.path("id").asString(),
                                "confirmation",
                                c.path("id").asString()));
            }
        }
        for (String c : List.of("plug", "control")) {
            bench.act("restored", Map.of("step", "prepare", "confirmation", c));
        }
        bench.act("stepSkipped", Map.of("step", "insulation", "reason", "not what this is about"));
        return bench;
    }

    /** A radio on its leads, everything before the first key confirmed. */
    private static Bench radio(ApiClient api) {
        Bench bench = opened(api, RADIO, "RAD-YEARLY");
        JsonNode device = bench.post("device", Map.of());
        for (JsonNode step : device.path("steps")
                .valueStream()
                .takeWhile(s -> !s.path("hazard").asBoolean())
                .toList()) {
            String id = step.path("id").asString();
            device.path("points")
                    .valueStream()
                    .filter(p -> p.path("step").asString().equals(id))
                    .forEach(p -> bench.act(
                            "answerGiven",
                            Map.of(
                                    "step",
                                    id,
                                    "point",
                                    p.path("point").asString(),
                                    "lane",
                                    p.path("lane").asString(),
                                    "answer",
                                    "inOrder")));
            step.path("confirmations")
                    .forEach(c -> bench.act(
                            "holdReleased",
                            Map.of("step", id, "confirmation", c.path("id").asString())));
        }
        return bench;
    }

    private static void nothingCameOn(Instant since) throws InterruptedException {
        // The gear writes what it does at once; what was on its way when the answer came has arrived by then.
        Thread.sleep(700);
        assertEquals(List.of(), installation.onsSince(since));
    }

    // ---- held to run

    private static JsonNode hand(ApiClient api, String run, boolean held, int change) {
        return api.post("/api/runs/" + run + "/hand", Map.of("held", held, "change", change), null);
    }

    /** A current by hand, ready on a phase. */
    private static Bench byHand(ApiClient api) {
        Bench bench = opened(api, "ORE-REC-01", "REC-2YEARLY");
        JsonNode scope = bench.now().path("scope");
        bench.act(
                "scopeSet",
                Map.of(
                        "scope",
                        Map.of(
                                "withoutSteps",
                                List.of("look", "counterBefore", "pickUp", "sequence", "counterAfter", "counted"),
                                "withSteps",
                                List.of("byHand"),
                                "withoutLanes",
                                scope.path("withoutLanes"))));
        for (JsonNode step : bench.now().path("steps")) {
            for (JsonNode c : step.path("inScope").asBoolean() ? step.path("confirmations") : List.<JsonNode>of()) {
                bench.act(
                        "holdReleased",
                        Map.of(
                                "step",
                                step.path("id").asString(),
                                "confirmation",
                                c.path("id").asString()));
            }
        }
        return bench;
    }

    /**
     * Pressed and held until it flows; again where the machine stood still for so long that the hand was not heard.
     *
     * @return when it was pressed
     */
    private static Instant flowing(Bench bench, int change) throws Exception {
        for (int tries = 1; ; tries++) {
            Instant since = Instant.now();
            bench.on("byHand", "A", false);
            try {
                Installation.until("the current flows", () -> {
                    hand(bench.api, bench.run, true, change);
                    return installation.onsSince(since).size() >= 2;
                });
                return since;
            } catch (ProblemException e) {
                if (tries == 5 || !e.type().equals("not-live")) {
                    throw e;
                }
                bench.safe();
            }
        }
    }

    /** Only the screen that drives holds it, only while it is on; and what is not heard any more is let go. */
    @Test
    void anOutputByHandGoesOffWithTheHandAndTakesNoOther() throws Exception {
        Bench bench = byHand(driver());
        assertEquals(
                "not-live", refused(() -> hand(bench.api, bench.run, true, 1)).type());
        flowing(bench, 1);
        ApiClient other = colleague();
        assertEquals(
                "not-driving", refused(() -> hand(other, bench.run, true, 1)).type());
        assertEquals(
                "not-driving", refused(() -> hand(other, bench.run, false, 0)).type(), "nor does it let go");
        assertEquals(
                "bad-change", refused(() -> hand(bench.api, bench.run, true, 2)).type());
        // Nobody says that it is let go: nothing is heard any more.
        Installation.until(
                "it is off by itself",
                () -> bench.now().at("/output/mode").asString().equals("safe")
                        && !bench.now().path("busy").asBoolean());
        assertEquals(
                "not-live", refused(() -> hand(bench.api, bench.run, true, 1)).type());
        JsonNode attempts = bench.now().path("attempts");
        JsonNode last = attempts.get(attempts.size() - 1);
        assertEquals("valid", last.path("outcome").asString(), last.toString());
        assertTrue(last.path("words").asString().startsWith("let go; it held up to"), last.toString());

        // Let go and taken hold of again: that takes another press.
        Instant again = flowing(bench, 0);
        assertFalse(hand(bench.api, bench.run, false, 0).path("held").asBoolean());
        try {
            assertFalse(hand(bench.api, bench.run, true, 1).path("held").asBoolean());
        } catch (ProblemException e) {
            assertEquals("not-live", e.type(), "it was off already");
        }
        bench.safe();
        assertEquals(2, installation.onsSince(again).size(), "nothing came on again");
    }

    // ---- 1. what was announced is what runs

    static Stream<Arguments> changes() {
        return Stream.of(
                change(
                        "the multiple changed",
                        b -> b.act(
                                "paramChanged",
                                Map.of("step", "longTime", "param", "multiple", "value", 2, "reason", "weak feed"))),
                change(
                        "racked in and connected",
                        b -> b.act("restored", Map.of("step", "isolate", "confirmation", "apart"))),
                change(
                        "proved dead withdrawn",
                        b -> b.act(
                                "withdrawn",
                                Map.of("target", confirmation(b.now(), "isolate", "dead"), "reason", "not so sure"))),
                change("the step skipped", b -> b.act("stepSkipped", Map.of("step", "longTime", "reason", "no time"))),
                change("another serial number read", b -> b.act("assetIdentified", Map.of("serial", "not-this-one"))),
                change(
                        "a limit changed",
                        b -> b.act(
                                "limitChanged",
                                Map.of(
                                        "step",
                                        "longTime",
                                        "point",
                                        "time",
                                        "reason",
                                        "why",
                                        "limit",
                                        Map.of("kind", "atMost", "when", "start", "high", 90, "source", "x")))),
                change("the screen taken over", b -> colleague().drive(b.run)));
    }

    private static Arguments change(String what, Consumer<Bench> act) {
        return Arguments.of(what, act);
    }

    private static String confirmation(JsonNode view, String step, String id) {
        return view.path("steps")
                .valueStream()
                .filter(s -> s.path("id").asString().equals(step))
                .flatMap(s -> s.path("confirmations").valueStream())
                .filter(c -> c.path("id").asString().equals(id))
                .findFirst()
                .orElseThrow()
                .path("event")
                .asString();
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("changes")
    void whateverAnArmedStepRestsOnDisarmsItAndItsTokenIsWorthNothing(String what, Consumer<Bench> change)
            throws Exception {
        Bench bench = breaker(driver(), BREAKER);
        Instant before = Instant.now();
        String token = bench.armed();
        assertEquals("armed", bench.now().at("/output/mode").asString());
        change.accept(bench);
        assertEquals("safe", bench.now().at("/output/mode").asString(), what);
        assertEquals("not-armed", refused(() -> bench.energise(token)).type());
        nothingCameOn(before);
    }

    @Test
    void maximaFollowNoClient() throws Exception {
        Bench bench = breaker(driver(), BREAKER);
        JsonNode greatest = longTime(bench.now()).at("/maxima/current");
        for (double multiple : new double[] {30, 3.5, 1.9, 1e308}) {
            ProblemException e = refused(() -> bench.act(
                    "paramChanged",
                    Map.of("step", "longTime", "param", "multiple", "value", multiple, "reason", "more")));
            assertTrue(e.getMessage().contains("2 to 3"), e.getMessage());
        }
        refused(() -> bench.act(
                "paramChanged", Map.of("step", "longTime", "param", "current", "value", 9600, "reason", "more")));
        bench.act("paramChanged", Map.of("step", "longTime", "param", "multiple", "value", 2, "reason", "weak feed"));
        assertEquals(
                greatest, longTime(bench.now()).at("/maxima/current"), "what is allowed in a run moves no maximum");
        double announced = longTime(bench.now()).at("/params/current/value").asDouble();
        Instant before = Instant.now();
        bench.energised(2);
        bench.safe();
        installation
                .onsSince(before)
                .forEach(on -> assertTrue(amperes(on) <= announced * 1.000001, on + ", announced " + announced + " A"));
        assertEquals(announced, amperes(installation.onsSince(before).get(1)), announced * 1e-5);
    }

    private static JsonNode longTime(JsonNode view) {
        return view.path("steps")
                .valueStream()
                .filter(s -> s.path("id").asString().equals("longTime"))
                .findFirst()
                .orElseThrow();
    }

    private static double amperes(Installation.On on) {
        String[] words = on.what().split(" ");
        return Double.parseDouble(words[words.length - 2]);
    }

    @Test
    void aRadioArmedOnItsChannelIsNotKeyedOnADistressFrequency() throws Exception {
        Bench bench = radio(driver());
        Instant before = Instant.now();
        String token = bench.arm("txCarrier", "vhf", false).path("token").asString();
        bench.act(
                "paramChanged",
                Map.of("step", "txCarrier", "param", "frequency", "value", 156.8, "reason", "another channel"));
        assertEquals("not-armed", refused(() -> bench.energise(token)).type());
        assertEquals(
                "distress-frequency",
                refused(() -> bench.arm("txCarrier", "vhf", false)).type());
        // Also behind a step that comes later in the sequence.
        bench.act("backToProcedure", Map.of("step", "txCarrier", "param", "frequency"));
        nothingCameOn(before);
    }

    // ---- 2. one transaction; a stop is never lost

    @Test
    void aStopAtAnyMomentAfterThePressIsHonoured() throws Exception {
        Bench bench = breaker(driver(), BREAKER);
        ApiClient other = colleague();
        int before = 0;
        int after = 0;
        for (int n = 0; n < 24; n++) {
            String token = bench.armed();
            long delay = ThreadLocalRandom.current().nextLong(0, 30);
            boolean first = n % 2 == 0;
            CompletableFuture<Boolean> press = CompletableFuture.supplyAsync(() -> {
                pause(first ? delay : 0);
                try {
                    bench.energise(token);
                    return true;
                } catch (ProblemException e) {
                    assertTrue(List.of("not-armed", "token-spent").contains(e.type()), e.type());
                    return false;
                }
            });
            pause(first ? 0 : delay);
            other.post("/api/runs/" + bench.run + "/stop", Map.of(), null);
            Instant stopped = Instant.now();
            boolean pressed = press.get();
            Instant answered = pressed ? stopped : Instant.now();
            Installation.until(
                    "safe again",
                    () -> bench.now().at("/output/mode").asString().equals("safe")
                            && !bench.now().path("busy").asBoolean());
            assertEquals(
                    List.of(),
                    installation.onsSince(answered),
                    "round " + n + ", " + delay + " ms, pressed: " + pressed);
            before += pressed ? 0 : 1;
            after += pressed ? 1 : 0;
        }
        assertTrue(
                before > 0 && after > 0,
                before + " stops came before the press, " + after + " after: both must have been tried");
    }

    private static void pause(long millis) {
        try {
            Thread.sleep(millis);
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }

    // ---- 3. busy is one word, gaps included

    @Test
    void inTheGapsOfASequenceNothingIsAcceptedButStopsNotesAndPhotos() throws Exception {
        installation.control("factor 100");
        Bench bench = radio(driver());
        ApiClient other = colleague();
        Instant before = Instant.now();
        bench.on("txCarrier", "vhf", true);
        Map<String, Integer> answers = new HashMap<>();
        int notes = 0;
        while (bench.now().path("busy").asBoolean()) {
            for (Executable attempt : List.<Executable>of(
                    () -> bench.post("abort", Map.of("reason", "enough")),
                    () -> bench.post("finish", Map.of()),
                    () -> other.drive(bench.run),
                    () -> bench.arm("rxSensitivity", "uhf", false),
                    () -> bench.act("stepSkipped", Map.of("step", "rxSound", "reason", "no time")),
                    () -> bench.act(
                            "scopeSet", Map.of("scope", Map.of("withoutSteps", List.of(), "withoutLanes", Map.of()))),
                    () -> bench.act(
                            "paramChanged",
                            Map.of("step", "rxSound", "param", "frequency", "value", 150, "reason", "other")),
                    () -> bench.post("gear", Map.of("need", "tester", "gear", "rad-1")))) {
                try {
                    attempt.execute();
                    answers.merge("accepted", 1, Integer::sum);
                } catch (ProblemException e) {
                    answers.merge(e.type(), 1, Integer::sum);
                } catch (Throwable e) {
                    throw new AssertionError(e);
                }
            }
            bench.act("note", Map.of("text", "seen"));
            notes++;
            if (installation.onsSince(before).size() > 12) {
                break;
            }
        }
        assertFalse(answers.containsKey("accepted") && bench.now().path("busy").asBoolean(), answers.toString());
        assertTrue(answers.getOrDefault("busy", 0) > 0, "some were asked in a gap: " + answers);
        assertTrue(answers.values().stream().mapToInt(Integer::intValue).sum() > 30, answers.toString());
        assertTrue(notes > 3, "notes pass");
        // A stop, wherever it falls: nothing more comes on.
        other.post("/api/runs/" + bench.run + "/stop", Map.of(), null);
        Instant stopped = Instant.now();
        Installation.until(
                "the sequence to end", () -> !bench.now().path("busy").asBoolean());
        nothingCameOn(stopped);
        assertEquals("open", bench.now().path("status").asString());
        installation.control("factor 1");
    }

    // ---- 4. gear is claimed, not the run

    @Test
    void oneItemOfGearServesOneRunAtATime() throws Exception {
        Bench first = breaker(driver(), BREAKER);
        Bench second = breaker(signedIn("brevan", "tunnel-lamp-8"), OTHER_BREAKER);
        first.energised(2);
        Instant live = Instant.now();
        String token = second.armed();
        ProblemException e = refused(() -> second.energise(token));
        assertEquals("gear-in-use", e.type());
        assertTrue(e.getMessage().contains("Injection set 2") && e.getMessage().contains(BREAKER), e.getMessage());
        assertEquals(List.of(), installation.onsSince(live));
        assertEquals("live", first.now().at("/output/mode").asString(), "the first goes on undisturbed");
        first.safe();
        second.safe();
        second.energised(2);
        second.safe();
        assertTrue(
                installation.onsSince(live).stream().allMatch(on -> on.what().contains(OTHER_BREAKER)),
                installation.onsSince(live).toString());
    }

    @Test
    void aLeadIsCharacterisedUnderGuardAndCanBeStoppedByAnyone() throws Exception {
        Bench bench = radio(driver());
        JsonNode lead = bench.now()
                .path("gear")
                .valueStream()
                .filter(g -> g.path("role").asString().equals("rf-path"))
                .findFirst()
                .orElseThrow();
        List<Double> many = new ArrayList<>(
                new TreeSet<>(Stream.iterate(30.0, m -> m + 7.5).limit(64).toList()));
        Map<String, Object> wanted = Map.of("gear", lead.path("id").asString(), "megahertz", many);
        installation.control("line radio-test-set late:80");
        CompletableFuture<ProblemException> ended =
                CompletableFuture.supplyAsync(() -> refused(() -> bench.post("path", wanted)));
        Installation.until(
                "the generator is on",
                () -> bench.now().at("/output/mode").asString().equals("live"));
        assertTrue(bench.now().path("busy").asBoolean());
        assertEquals(
                "output-live",
                refused(() -> bench.act("stepSkipped", Map.of("step", "rxSound", "reason", "x")))
                        .type());
        colleague().post("/api/runs/" + bench.run + "/stop", Map.of(), null);
        ProblemException stopped = ended.get();
        assertTrue(stopped.getMessage().contains("stopped by oster"), stopped.getMessage());
        installation.control("line radio-test-set good");
        assertEquals(
                lead.path("path"),
                bench.now()
                        .path("gear")
                        .valueStream()
                        .filter(g -> g.path("role").asString().equals("rf-path"))
                        .findFirst()
                        .orElseThrow()
                        .path("path"),
                "nothing is kept of half a lead");
    }

    // ---- 6. a screen belongs to a session and a person

    @Test
    void nobodyActsInTheNameOfAnothersScreenWhateverTheyKnowOfIt() throws Exception {
        Bench bench = breaker(driver(), BREAKER);
        String secret = bench.api.screen();
        String events = new String(
                bench.api.bytes("/api/runs/" + bench.run + "/events"), java.nio.charset.StandardCharsets.UTF_8);
        assertFalse(events.contains(secret) || bench.now().toString().contains(secret), "the id is told to nobody");
        ApiClient thief = signedIn(new ApiClient(installation.address(), secret), "oster", "penstock-42");
        assertFalse(
                thief.post("/api/runs/" + bench.run + "/beat", Map.of("screen", secret), null)
                        .path("drives")
                        .asBoolean(),
                "another person's beat is none");
        // The same person in another session has not taken the run there either.
        ApiClient elsewhere = signedIn(new ApiClient(installation.address(), secret), "tavel", "rack-rail-16");
        assertFalse(elsewhere
                .post("/api/runs/" + bench.run + "/beat", Map.of("screen", secret), null)
                .path("drives")
                .asBoolean());
        String token = bench.armed();
        Instant before = Instant.now();
        for (ApiClient who : List.of(thief, elsewhere)) {
            Bench theirs = new Bench(who, bench.run);
            assertEquals(
                    "not-driving",
                    refused(() -> theirs.arm("longTime", "A", false)).type());
            assertEquals("not-driving", refused(() -> theirs.energise(token)).type());
            assertEquals(
                    "not-driving",
                    refused(() -> theirs.act("note", Map.of("text", "mine"))).type());
        }
        nothingCameOn(before);
        bench.energise(token);
        Installation.until(
                "the current flows", () -> !installation.onsSince(before).isEmpty());
        // With the driver's page dead the output goes off, however many others beat.
        bench.api.fallSilent();
        Instant silent = Instant.now();
        while (bench.now().at("/output/mode").asString().equals("live")) {
            thief.post("/api/runs/" + bench.run + "/beat", Map.of("screen", secret), null);
            elsewhere.post("/api/runs/" + bench.run + "/beat", Map.of("screen", secret), null);
            assertTrue(Instant.now().isBefore(silent.plusSeconds(20)), "the beats of others keep it on");
        }
        JsonNode attempts = bench.now().path("attempts");
        assertTrue(
                attempts.get(attempts.size() - 1).path("words").asString().contains("was not heard"),
                attempts.toString());
    }

    @Test
    void whoOnlyPressedStopOrTookOverPerformedNothing() throws Exception {
        Bench bench = breaker(driver(), BREAKER);
        bench.energised(2);
        colleague().post("/api/runs/" + bench.run + "/stop", Map.of(), null);
        bench.safe();
        ApiClient other = colleague();
        other.drive(bench.run);
        Bench theirs = new Bench(other, bench.run);
        ProblemException claim = refused(() -> theirs.act(
                "adjustmentMade",
                Map.of(
                        "points",
                        List.of("longTime/time/A"),
                        "what",
                        "aligned",
                        "settings",
                        List.of(Map.of("name", "x", "label", "X", "before", 1, "after", 2)))));
        assertEquals("settings", claim.field());
        for (JsonNode step : theirs.now().path("steps")) {
            if (step.path("inScope").asBoolean()
                    && !step.path("method").asString("").isEmpty()) {
                theirs.act("stepSkipped", Map.of("step", step.path("id").asString(), "reason", "not today"));
            }
        }
        assertEquals("not-performer", signing(theirs, other).type());
    }

    /** Finishes what is left, and tries to sign it. */
    private static ProblemException signing(Bench bench, ApiClient by) {
        for (JsonNode point : bench.now().path("points")) {
            if (point.path("step").asString().equals("look")) {
                // Answered by the driver, so that the one who signs has done no work.
                bench.act("stepSkipped", Map.of("step", "look", "reason", "seen before"));
                break;
            }
        }
        bench.api.drive(bench.run);
        ApiClient worker = driver();
        worker.drive(bench.run);
        Bench theirs = new Bench(worker, bench.run);
        for (JsonNode step : theirs.now().path("steps")) {
            for (JsonNode c : step.path("confirmations")) {
                if (c.hasNonNull("back") && !c.path("restored").asBoolean()) {
                    theirs.act(
                            "restored",
                            Map.of(
                                    "step",
                                    step.path("id").asString(),
                                    "confirmation",
                                    c.path("id").asString()));
                }
            }
        }
        String record = theirs.post("finish", Map.of()).path("record").asString();
        return refused(() -> by.post(
                "/api/records/" + record + "/signatures",
                Map.of("password", "penstock-42"),
                bench.now().path("personEvents").asLong()));
    }
}
