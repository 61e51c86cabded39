package org.juratest.server.series;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.juratest.server.TestServer.problem;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.UUID;
import java.util.concurrent.CompletableFuture;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Actor;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.EventData;
import org.juratest.core.run.Reading;
import org.juratest.core.run.RunState;
import org.juratest.server.TestServer;
import org.juratest.server.command.ApiClient;
import org.juratest.server.command.ApiClient.ProblemException;
import org.juratest.server.run.RunStore;
import tools.jackson.databind.JsonNode;

/** Cables one after the other at a test place: their numbers, their runs, and references that go over. */
class SeriesTest {

    private static final TestServer SERVER = TestServer.start();

    private static ApiClient tavel;
    private static ApiClient oster;

    @BeforeAll
    static void signedIn() {
        tavel = SERVER.client("tavel", "rack-rail-16");
        oster = SERVER.client("oster", "penstock-42");
        CablePlace.gear(SERVER);
    }

    @AfterAll
    static void stop() {
        SERVER.close();
    }

    private static String place(String position, String serial) {
        return CablePlace.made(tavel, position, serial);
    }

    private static Map<String, Object> form(String pattern, List<Map<String, ?>> fields, long seen) {
        return Map.of("procedure", "MPC-RECEIVE", "pattern", pattern, "fields", fields, "seen", seen);
    }

    private static Map<String, Object> fixed(String name, String value) {
        return Map.of("name", name, "value", value, "runs", false);
    }

    private static Map<String, Object> wheel(String name, String value, @Nullable String last) {
        return last == null
                ? Map.of("name", name, "value", value, "runs", true)
                : Map.of("name", name, "value", value, "runs", true, "last", last);
    }

    private static List<String> ahead(JsonNode view) {
        return view.path("ahead").valueStream().map(JsonNode::asString).toList();
    }

    private static JsonNode next(ApiClient who, String series, String serial) {
        return who.post(series + "/next", Map.of("serial", serial), null);
    }

    // ---- numbers

    @Test
    void theFirstNumberFollowsFromWhatStandsThereAndGoesOnByItself() {
        String series = place("MFR-MPC-01", "UM-0998");
        JsonNode view = tavel.get(series);
        assertEquals(List.of("UM-0999", "UM-1000"), ahead(view).subList(0, 2));
        assertEquals(0, view.path("version").asLong());
        assertFalse(view.hasNonNull("procedure"));
        problem(409, "no-series", () -> next(tavel, series, "UM-0999"));

        view = tavel.put(
                series,
                form(
                        "{order}-{box}/{n}",
                        List.of(fixed("order", "77"), wheel("box", "A", null), wheel("n", "2", "2")),
                        0));
        assertEquals(List.of("77-A/2", "77-B/1", "77-B/2"), ahead(view).subList(0, 3));
        JsonNode started = next(tavel, series, "77-A/2");
        JsonNode asset = tavel.get("/api/assets/" + started.path("asset").asString());
        assertTrue(asset.toString().contains("77-A/2"), asset.toString());
        JsonNode run = tavel.get("/api/runs/" + started.path("run").asString());
        assertEquals("MPC-RECEIVE", run.path("procedure").asString());
        assertEquals("77-A/2", run.path("asset").path("serial").asString());
        assertEquals(
                8,
                run.path("asset")
                        .path("nameplate")
                        .path("ratings")
                        .path("fibres")
                        .path("value")
                        .asInt());
        view = tavel.get(series);
        assertEquals("77-B/1", ahead(view).get(0));
        assertEquals("77-A/2", view.path("open").path("serial").asString());
    }

    @Test
    void nobodyTestsTheNextWhileARunIsOpenOrByAnOldNumberAndNothingIsHalfDone() {
        String series = place("MFR-MPC-02", "A02");
        tavel.put(series, form("B{n}", List.of(wheel("n", "1", null)), 0));
        next(tavel, series, "B1");
        long assets = assets();
        problem(409, "changed-meanwhile", () -> next(oster, series, "B1"));
        ProblemException open = problem(422, "fields-invalid", () -> next(oster, series, "B2"));
        assertTrue(open.getMessage().contains("A run is open"), open.getMessage());
        assertEquals(assets, assets(), "no cable is left of it");
        assertEquals("B2", ahead(tavel.get(series)).get(0));
    }

    @Test
    void ofTwoWhoTakeTheSameNumberAtOnceOneHasIt() {
        String series = place("MFR-MPC-03", "A03");
        tavel.put(series, form("C{n}", List.of(wheel("n", "1", null)), 0));
        List<CompletableFuture<Boolean>> both = Stream.of(tavel, oster)
                .map(who -> CompletableFuture.supplyAsync(() -> {
                    try {
                        return next(who, series, "C1").hasNonNull("run");
                    } catch (ProblemException e) {
                        return false;
                    }
                }))
                .toList();
        assertEquals(1, both.stream().filter(CompletableFuture::join).count());
        assertEquals("C2", ahead(tavel.get(series)).get(0));
    }

    @Test
    void whatIsWrongIsToldByItsFieldAndWhatAnotherKeptIsNotOverwritten() {
        String series = place("MFR-MPC-04", "D7");
        ProblemException wrong = problem(
                422, "fields-invalid", () -> tavel.put(series, form("{n}{m}", List.of(wheel("n", "x", null)), 0)));
        Set<String> fields = new TreeSet<>(wrong.fields().keySet());
        assertEquals(Set.of("fields.m", "fields.n"), fields);
        assertEquals(
                1,
                tavel.put(series, form("D{n}", List.of(wheel("n", "7", null)), 0))
                        .path("version")
                        .asLong());
        problem(409, "changed-meanwhile", () -> oster.put(series, form("E{n}", List.of(wheel("n", "1", null)), 0)));
        assertEquals("C-MFR-MPC-04", tavel.get(series).path("taken").asString(), "the first cable has D7");
        ProblemException taken = problem(422, "fields-invalid", () -> next(tavel, series, "D7"));
        assertTrue(taken.getMessage().contains("in the register already: C-MFR-MPC-04"), taken.getMessage());
        Map<String, Object> other = new java.util.HashMap<>(form("D{n}", List.of(wheel("n", "8", null)), 1));
        other.put("procedure", "CBK-YEARLY");
        problem(422, "fields-invalid", () -> tavel.put(series, other));
        problem(404, "unknown-position", () -> tavel.get("/api/series/NOWHERE"));
    }

    private static long assets() {
        return SERVER.database().template().queryForObject("SELECT count(*) FROM asset", Long.class);
    }

    // ---- references that go over

    private static final List<String> REFERENCES = List.of("returnReference", "lossReference");

    /** Driven by tavel, narrowed to its references, with what comes before them confirmed. */
    private static JsonNode begun(JsonNode started) {
        JsonNode run = tavel.drive(started.path("run").asString());
        run = tavel.act(
                run,
                "scopeSet",
                Map.of("scope", Map.of("withoutSteps", List.of("facesNear", "facesFar", "polarity", "losses"))));
        for (String step : List.of("safe", "cords")) {
            run = confirmed(run, step);
        }
        return run;
    }

    private static JsonNode confirmed(JsonNode before, String step) {
        JsonNode run = before;
        for (JsonNode c : before.path("steps")
                .valueStream()
                .filter(s -> s.path("id").asString().equals(step))
                .findFirst()
                .orElseThrow()
                .path("confirmations")) {
            run = tavel.act(
                    run,
                    "holdReleased",
                    Map.of("step", step, "confirmation", c.path("id").asString()));
        }
        return run;
    }

    /** Both references as the loss set would have given them. */
    private static void referenced(JsonNode run) {
        RunStore store = SERVER.context().getBean(RunStore.class);
        store.append(UUID.fromString(run.path("id").asString()), Actor.process("the loss set"), state -> {
            List<EventData> events = new ArrayList<>();
            for (String step : REFERENCES) {
                for (String lane : state.procedure().lanesOf(state.stepInScope(step), state.scope())) {
                    UUID attempt = UUID.randomUUID();
                    events.add(new AttemptEvents.AttemptBegun(attempt, step, lane, gear(state), 1));
                    state.stepInScope(step)
                            .points()
                            .forEach(p -> events.add(new AttemptEvents.ReadingTaken(
                                    attempt, reading(new PointKey(step, p.id(), lane), String.valueOf(p.unit())))));
                    events.add(new AttemptEvents.AttemptClosed(attempt, Attempt.Outcome.VALID, "taken"));
                }
            }
            return events;
        });
    }

    private static String gear(RunState state) {
        return state.gear().stream()
                .filter(g -> g.need().equals("tester"))
                .findFirst()
                .orElseThrow()
                .id();
    }

    private static Reading reading(PointKey key, String unit) {
        return new Reading(
                key,
                -8,
                Unit.of(unit),
                Qualifier.EQUAL,
                Reading.Source.MEASURED,
                null,
                List.of(),
                null,
                null,
                null,
                Map.of(),
                null,
                null,
                null);
    }

    private static void finished(JsonNode before) {
        JsonNode run = before;
        for (String step : List.of("connect", "move", "putBack")) {
            run = confirmed(run, step);
        }
        for (String c : List.of("near", "far")) {
            run = tavel.act(run, "restored", Map.of("step", "connect", "confirmation", c));
        }
        tavel.post(
                "/api/runs/" + run.path("id").asString() + "/finish",
                Map.of(),
                run.path("personEvents").asLong());
    }

    private static JsonNode offer(JsonNode run, String step) {
        return tavel.get("/api/runs/" + run.path("id").asString() + "/carried/" + step);
    }

    private static JsonNode carry(JsonNode run, String step) {
        return tavel.post(
                "/api/runs/" + run.path("id").asString() + "/carried/" + step,
                Map.of(),
                run.path("personEvents").asLong());
    }

    private static JsonNode seen(JsonNode run) {
        return tavel.get("/api/runs/" + run.path("id").asString());
    }

    @Test
    void theReferencesOfOneCableServeTheNextUntilTheGearWasUsedElsewhere() {
        String series = place("MFR-MPC-05", "A05");
        tavel.put(series, form("F{n}", List.of(wheel("n", "1", null)), 0));
        JsonNode first = begun(next(tavel, series, "F1"));
        assertTrue(offer(first, "lossReference").path("why").asString().startsWith("nothing was tested here"));
        referenced(first);
        Instant taken = taken(seen(first));
        finished(seen(first));

        JsonNode second = begun(next(tavel, series, "F2"));
        JsonNode offer = offer(second, "lossReference");
        assertEquals(
                "MFR-MPC-05/" + java.time.Year.now() + "/1",
                offer.path("record").asString());
        assertEquals(taken, Instant.parse(offer.path("takenAt").asString()));
        assertFalse(offer.hasNonNull("why"), offer.toString());
        problem(
                412,
                "run-moved-on",
                () -> tavel.post("/api/runs/" + second.path("id").asString() + "/carried/lossReference", Map.of(), 0L));
        JsonNode carried = carry(carry(second, "returnReference"), "lossReference");
        assertEquals(taken, taken(carried), "it is as old as it was");
        assertTrue(carried.path("references").valueStream().noneMatch(r -> r.hasNonNull("fault")), carried.toString());
        JsonNode attempt = carried.path("attempts")
                .valueStream()
                .filter(a -> a.path("step").asString().equals("lossReference"))
                .findFirst()
                .orElseThrow();
        assertEquals(
                offer.path("record").asString(),
                attempt.path("carried").path("record").asString());
        problem(409, "reference-not-carried", () -> carry(carried, "lossReference"));
        problem(409, "reference-not-carried", () -> carry(carried, "connect"));
        finished(carried);

        // A run that was given up in between said that the cord was taken off.
        JsonNode given = begun(next(tavel, series, "F3"));
        JsonNode moved = tavel.act(given, "setupMoved", Map.of("words", "the cord was taken off"));
        tavel.post(
                "/api/runs/" + moved.path("id").asString() + "/abort",
                Map.of("reason", "wrong cable"),
                moved.path("personEvents").asLong());
        JsonNode after = begun(next(tavel, series, "F4"));
        assertTrue(
                offer(after, "lossReference").path("why").asString().contains("the cord was taken off"),
                offer(after, "lossReference").toString());
        problem(409, "reference-not-carried", () -> carry(after, "lossReference"));
        referenced(after);
        finished(seen(after));

        // The same set, in somebody's hands at another place.
        String other = place("MFR-MPC-06", "A6");
        tavel.put(other, form("G{n}", List.of(wheel("n", "1", null)), 0));
        JsonNode third = begun(next(tavel, series, "F5"));
        assertFalse(offer(third, "lossReference").hasNonNull("why"));
        JsonNode elsewhere = begun(next(tavel, other, "G1"));
        referenced(elsewhere);
        assertTrue(
                offer(third, "lossReference").path("why").asString().contains("was used at MFR-MPC-06 since"),
                offer(third, "lossReference").toString());
        tavel.drive(third.path("id").asString());
        JsonNode now = seen(third);
        problem(409, "reference-not-carried", () -> carry(now, "lossReference"));
    }

    /** When the references of a run were measured, the oldest. */
    private static Instant taken(JsonNode run) {
        return run.path("references")
                .valueStream()
                .filter(r -> r.path("step").asString().equals("lossReference"))
                .map(r -> Instant.parse(r.path("takenAt").asString()))
                .min(Instant::compareTo)
                .orElseThrow();
    }
}
