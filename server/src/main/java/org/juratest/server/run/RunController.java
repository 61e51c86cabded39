package org.juratest.server.run;

import jakarta.servlet.http.HttpServletRequest;
import java.nio.charset.StandardCharsets;
import java.security.Principal;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.bench.Sequence;
import org.juratest.core.limit.Envelope;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.run.Entry;
import org.juratest.core.run.RunState;
import org.juratest.server.web.NotFoundException;
import org.juratest.server.web.PreconditionException;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;
import tools.jackson.databind.JsonNode;

/**
 * Runs: open, look, act, follow. Acting needs {@code If-Match} with the number of person events the client has seen,
 * and the id of the screen that drives; stopping needs neither.
 */
@RestController
@RequestMapping("/api")
class RunController {

    private final RunStore store;
    private final RunOpener opener;
    private final RunService service;
    private final LiveRuns live;
    private final Leases leases;
    private final CarriedReferences carried;
    private final StartingOffers starting;
    private final EventStream stream;
    private final Clock clock;

    RunController(
            RunStore store,
            RunOpener opener,
            RunService service,
            LiveRuns live,
            Leases leases,
            CarriedReferences carried,
            StartingOffers starting,
            EventStream stream,
            Clock clock) {
        this.store = store;
        this.opener = opener;
        this.service = service;
        this.live = live;
        this.leases = leases;
        this.carried = carried;
        this.starting = starting;
        this.stream = stream;
        this.clock = clock;
    }

    /** Gear by need, where not the best of its role. */
    record Opening(Map<String, String> gear) {}

    /** An event a person makes. */
    record Action(String type, JsonNode data) {}

    /** A value read off stand-alone gear; {@code qualifier} is {@code =} if absent. */
    record EntryAction(
            String step, String point, String lane, double value, String unit, @Nullable Qualifier qualifier) {}

    /** A step and lane to arm; with {@code on}, what follows by itself is measured with the same press. */
    record ArmAction(String step, String lane, @Nullable Boolean on) {}

    /** A variant to apply; absent for the procedure as it stands. */
    record VariantAction(@Nullable String code) {}

    /** A variant to save from a run; a {@code code} makes the next revision of that one. */
    record VariantSaving(@Nullable String code, String name, String words) {}

    /**
     * An armed step: its one-time token, what will happen, until when it waits, and whether it takes a held press to
     * start it.
     */
    record Armed(String token, String what, Instant until, boolean held, RunView run) {}

    /** The token of an armed step. */
    record EnergiseAction(String token) {}

    /**
     * The hand on an output that is held to run.
     *
     * @param held whether it is held; false lets it go for good
     * @param change 1 to raise, -1 to lower, 0 to leave it
     */
    record HandAction(boolean held, int change) {}

    /** @param held whether the output counts as held */
    record HandHeard(boolean held) {}

    /** The attempt that has begun. */
    record Energising(UUID attempt) {}

    /** A screen. */
    record ScreenAction(String screen) {}

    /** Other gear for a need. */
    record GearAction(String need, String gear) {}

    /** The curve of a run's device, as it is drawn. */
    record CurveView(String source, String condition, List<Envelope.Mark> marks, List<Envelope.Place> outline) {}

    /** Why something is given up. */
    record Reason(String reason) {}

    private ResponseEntity<RunView> view(HttpStatus status, RunState state) {
        return ResponseEntity.status(status)
                .eTag("\"" + state.personEvents() + "\"")
                .body(seen(state));
    }

    private RunView seen(RunState state) {
        return RunView.of(state, clock.instant());
    }

    private RunService.Expectation expected(
            @Nullable String ifMatch, @Nullable String screen, Principal person, HttpServletRequest request) {
        long personEvents = PreconditionException.expected(ifMatch);
        return new RunService.Expectation(personEvents, Screen.of(screen, person, request), leases);
    }

    @PostMapping("/jobs/{job}/run")
    ResponseEntity<RunView> open(
            @PathVariable long job,
            @RequestBody(required = false) @Nullable Opening opening,
            @RequestHeader(name = "Idempotency-Key", required = false) @Nullable String key,
            Principal person) {
        Map<String, String> gear = opening == null ? Map.of() : opening.gear();
        UUID run = opener.open(job, person.getName(), key, gear);
        return view(HttpStatus.CREATED, store.state(run));
    }

    @GetMapping("/runs/{run}")
    ResponseEntity<RunView> one(@PathVariable UUID run) {
        return view(HttpStatus.OK, store.state(run));
    }

    @GetMapping(value = "/runs/{run}/events", produces = MediaType.APPLICATION_JSON_VALUE)
    String events(@PathVariable UUID run, @RequestParam(defaultValue = "-1") long after) {
        store.state(run);
        return store.bodies(run, after).stream()
                .map(b -> new String(b, StandardCharsets.UTF_8))
                .collect(java.util.stream.Collectors.joining(",\n", "[", "]"));
    }

    @GetMapping(value = "/runs/{run}/stream", produces = MediaType.TEXT_EVENT_STREAM_VALUE)
    SseEmitter follow(
            @PathVariable UUID run,
            @RequestParam(defaultValue = "-1") long after,
            @RequestHeader(name = "Last-Event-ID", required = false) @Nullable Long lastEventId) {
        return stream.follow(run, lastEventId != null ? lastEventId : after);
    }

    @PostMapping("/runs/{run}/screen")
    ResponseEntity<RunView> take(
            @PathVariable UUID run, @RequestBody ScreenAction action, Principal person, HttpServletRequest request) {
        return view(HttpStatus.OK, service.take(run, Screen.of(action.screen(), person, request)));
    }

    @PostMapping("/runs/{run}/beat")
    Leases.Beat beat(
            @PathVariable UUID run, @RequestBody ScreenAction action, Principal person, HttpServletRequest request) {
        return leases.beat(run, Screen.of(action.screen(), person, request));
    }

    @GetMapping("/runs/{run}/curve")
    CurveView curve(@PathVariable UUID run) {
        Envelope curve = store.state(run).envelope();
        if (curve == null) {
            throw new NotFoundException("curve", "of run " + run);
        }
        return new CurveView(curve.source(), curve.condition(), curve.marks(), curve.outline());
    }

    @PostMapping("/runs/{run}/gear")
    ResponseEntity<RunView> exchange(
            @PathVariable UUID run,
            @RequestBody GearAction action,
            @RequestHeader(name = "If-Match", required = false) @Nullable String ifMatch,
            @RequestHeader(name = Screen.HEADER, required = false) @Nullable String screen,
            Principal person,
            HttpServletRequest request) {
        return view(
                HttpStatus.OK,
                service.exchange(
                        run,
                        person.getName(),
                        action.need(),
                        action.gear(),
                        expected(ifMatch, screen, person, request)));
    }

    @PostMapping("/runs/{run}/events")
    ResponseEntity<RunView> act(
            @PathVariable UUID run,
            @RequestBody Action action,
            @RequestHeader(name = "If-Match", required = false) @Nullable String ifMatch,
            @RequestHeader(name = Screen.HEADER, required = false) @Nullable String screen,
            Principal person,
            HttpServletRequest request) {
        return view(
                HttpStatus.OK,
                service.act(
                        run,
                        person.getName(),
                        action.type(),
                        action.data(),
                        expected(ifMatch, screen, person, request)));
    }

    @PostMapping("/runs/{run}/entries")
    ResponseEntity<RunView> enter(
            @PathVariable UUID run,
            @RequestBody EntryAction action,
            @RequestHeader(name = "If-Match", required = false) @Nullable String ifMatch,
            @RequestHeader(name = Screen.HEADER, required = false) @Nullable String screen,
            Principal person,
            HttpServletRequest request) {
        Entry entry = new Entry(
                new PointKey(action.step(), action.point(), action.lane()),
                action.value(),
                action.unit(),
                action.qualifier() == null ? Qualifier.EQUAL : action.qualifier());
        return view(
                HttpStatus.OK, service.enter(run, person.getName(), entry, expected(ifMatch, screen, person, request)));
    }

    @PostMapping("/runs/{run}/arm")
    Armed arm(
            @PathVariable UUID run,
            @RequestBody ArmAction action,
            @RequestHeader(name = "If-Match", required = false) @Nullable String ifMatch,
            @RequestHeader(name = Screen.HEADER, required = false) @Nullable String screen,
            Principal person,
            HttpServletRequest request) {
        LiveRuns.Arming arming = live.arm(
                run,
                person.getName(),
                new Sequence.Place(action.step(), action.lane()),
                Boolean.TRUE.equals(action.on()),
                expected(ifMatch, screen, person, request));
        return new Armed(arming.token(), arming.what(), arming.until(), arming.held(), seen(arming.state()));
    }

    /** A lead to be characterised at frequencies, MHz, ascending. */
    record Characterise(String gear, List<Double> megahertz) {}

    @PostMapping("/runs/{run}/path")
    ResponseEntity<RunView> characterise(
            @PathVariable UUID run,
            @RequestBody Characterise wanted,
            @RequestHeader(name = "If-Match", required = false) @Nullable String ifMatch,
            @RequestHeader(name = Screen.HEADER, required = false) @Nullable String screen,
            Principal person,
            HttpServletRequest request) {
        return view(
                HttpStatus.OK,
                live.characterise(
                        run,
                        person.getName(),
                        wanted.gear(),
                        wanted.megahertz(),
                        expected(ifMatch, screen, person, request)));
    }

    /** A step on a lane. */
    record StepLane(String step, String lane) {}

    /** Steps and lanes that failed in the last record of this procedure on this asset; none where it has no record. */
    @GetMapping("/runs/{run}/failed-before")
    List<StepLane> failedBefore(@PathVariable UUID run) {
        return service.failedBefore(run).stream()
                .map(p -> new StepLane(p.step(), p.lane()))
                .toList();
    }

    @PostMapping("/runs/{run}/device")
    ResponseEntity<RunView> device(
            @PathVariable UUID run,
            @RequestHeader(name = "If-Match", required = false) @Nullable String ifMatch,
            @RequestHeader(name = Screen.HEADER, required = false) @Nullable String screen,
            Principal person,
            HttpServletRequest request) {
        return view(HttpStatus.OK, live.askDevice(run, person.getName(), expected(ifMatch, screen, person, request)));
    }

    @PostMapping("/runs/{run}/variant")
    ResponseEntity<RunView> apply(
            @PathVariable UUID run,
            @RequestBody VariantAction action,
            @RequestHeader(name = "If-Match", required = false) @Nullable String ifMatch,
            @RequestHeader(name = Screen.HEADER, required = false) @Nullable String screen,
            Principal person,
            HttpServletRequest request) {
        return view(
                HttpStatus.OK,
                service.applyVariant(run, person.getName(), action.code(), expected(ifMatch, screen, person, request)));
    }

    @PostMapping("/runs/{run}/variants")
    ResponseEntity<RunView> save(
            @PathVariable UUID run,
            @RequestBody VariantSaving saving,
            @RequestHeader(name = "If-Match", required = false) @Nullable String ifMatch,
            @RequestHeader(name = Screen.HEADER, required = false) @Nullable String screen,
            Principal person,
            HttpServletRequest request) {
        return view(
                HttpStatus.CREATED,
                service.saveVariant(
                        run,
                        person.getName(),
                        saving.code(),
                        saving.name(),
                        saving.words(),
                        expected(ifMatch, screen, person, request)));
    }

    /** What a step may start from: what hit what was wanted in this run, or on devices of the type before. */
    @GetMapping("/runs/{run}/starting-points/{step}")
    List<StartingOffers.StartingOffer> startingPoints(@PathVariable UUID run, @PathVariable String step) {
        return starting.offers(run, step);
    }

    /** What the run before at this place took and still holds of a reference. */
    @GetMapping("/runs/{run}/carried/{step}")
    CarriedReferences.CarriedOffer carriable(@PathVariable UUID run, @PathVariable String step) {
        return carried.offer(run, step);
    }

    /** Takes a reference over from the run before at this place: the set-up is still as it was then. */
    @PostMapping("/runs/{run}/carried/{step}")
    ResponseEntity<RunView> carry(
            @PathVariable UUID run,
            @PathVariable String step,
            @RequestHeader(name = "If-Match", required = false) @Nullable String ifMatch,
            @RequestHeader(name = Screen.HEADER, required = false) @Nullable String screen,
            Principal person,
            HttpServletRequest request) {
        return view(
                HttpStatus.OK, carried.carry(run, person.getName(), step, expected(ifMatch, screen, person, request)));
    }

    @PostMapping("/runs/{run}/energise")
    ResponseEntity<Energising> energise(
            @PathVariable UUID run,
            @RequestBody EnergiseAction action,
            @RequestHeader(name = Screen.HEADER, required = false) @Nullable String screen,
            Principal person,
            HttpServletRequest request) {
        return ResponseEntity.accepted()
                .body(new Energising(live.energise(run, action.token(), Screen.of(screen, person, request))));
    }

    @PostMapping("/runs/{run}/hand")
    HandHeard hand(
            @PathVariable UUID run,
            @RequestBody HandAction action,
            @RequestHeader(name = Screen.HEADER, required = false) @Nullable String screen,
            Principal person,
            HttpServletRequest request) {
        return new HandHeard(live.hand(run, action.held(), action.change(), Screen.of(screen, person, request)));
    }

    @PostMapping("/runs/{run}/stop")
    ResponseEntity<RunView> stop(@PathVariable UUID run, Principal person) {
        return view(HttpStatus.OK, live.stop(run, person.getName()));
    }

    @PostMapping("/runs/{run}/finish")
    ResponseEntity<RunView> finish(
            @PathVariable UUID run,
            @RequestHeader(name = "If-Match", required = false) @Nullable String ifMatch,
            @RequestHeader(name = Screen.HEADER, required = false) @Nullable String screen,
            Principal person,
            HttpServletRequest request) {
        return view(HttpStatus.OK, service.finish(run, person.getName(), expected(ifMatch, screen, person, request)));
    }

    @PostMapping("/runs/{run}/abort")
    ResponseEntity<RunView> abort(
            @PathVariable UUID run,
            @RequestBody Reason reason,
            @RequestHeader(name = "If-Match", required = false) @Nullable String ifMatch,
            @RequestHeader(name = Screen.HEADER, required = false) @Nullable String screen,
            Principal person,
            HttpServletRequest request) {
        return view(
                HttpStatus.OK,
                service.abort(run, person.getName(), reason.reason(), expected(ifMatch, screen, person, request)));
    }
}
