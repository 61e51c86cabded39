package org.juratest.server.demo;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.UUID;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import org.juratest.core.family.breakers.Readings;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.procedure.Confirmation;
import org.juratest.core.procedure.Lane;
import org.juratest.core.procedure.Param;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Step;
import org.juratest.core.procedure.StepKind;
import org.juratest.core.procedure.TestPoint;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Actor;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.Entry;
import org.juratest.core.run.EventData;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.ReadBack;
import org.juratest.core.run.Reading;
import org.juratest.core.run.RecordEvents;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunJudgement;
import org.juratest.core.run.SignOff;
import org.juratest.core.run.StepEvents;
import org.juratest.core.trace.Trace;
import org.juratest.formats.run.EventCodec;
import org.juratest.formats.trace.TraceBytes;
import org.juratest.server.Juratest;
import org.juratest.server.db.UuidV7;
import org.juratest.server.run.Tail;

/** Tells one past test as the events it would have left, at the pace of a technician, judged by the same code. */
final class PastRun {

    private static final Map<String, Double> CURRENT_RANGES = Map.of("current-source", 1000.0);
    private static final double RESISTANCE_RANGE = 1e-3;
    private static final int WAITING_DAYS = 21;

    private final Tail tail;
    private final DemoFleet.PastTest test;
    private final Actor person;
    private final Actor process;
    private final Map<String, byte[]> blobs = new HashMap<>();
    private Instant now;

    PastRun(Tail tail, DemoFleet.PastTest test, String origin, ZoneId zone) {
        this.tail = tail;
        this.test = test;
        this.person = Actor.person(test.person());
        this.process = Actor.process(origin);
        this.now = test.day().atTime(LocalTime.of(8, 10)).atZone(zone).toInstant();
    }

    /** Tells it from opened to finished. */
    void tell(RunEvents.Opened opened, String record) {
        by(person, opened, 0);
        by(person, new RunEvents.ScreenTaken("demo-history"), 5);
        for (Step step : opened.procedure().steps()) {
            by(person, new StepEvents.StepBegun(step.id()), 10);
            boolean putBack = step.id().equals("putBack");
            restore(opened.procedure().steps(), c -> putBack || step.id().equals(c.backBefore()));
            step.confirmations().forEach(c -> by(person, new StepEvents.HoldReleased(step.id(), c.id()), 40));
            step(step);
        }
        by(person, new RunEvents.Finished(record, RunJudgement.of(tail.state()), Juratest.VERSION), 60);
    }

    /** Has it signed by who did it, and reviewed on the next morning; the newest ones still wait for review. */
    void sign(List<DemoFleet.Person> people, LocalDate today) {
        DemoFleet.Person who = people.stream()
                .filter(p -> p.id().equals(test.person()))
                .findFirst()
                .orElseThrow();
        by(person, new RecordEvents.Signed(who.id(), who.name(), who.role(), RecordEvents.Signed.PERFORMED), 180);
        DemoFleet.Person reviewer = people.stream()
                .filter(p -> p.role().equals("supervisor") && !p.id().equals(who.id()))
                .findFirst()
                .orElse(null);
        if (reviewer != null && test.day().isBefore(today.minusDays(WAITING_DAYS))) {
            RecordEvents.Reviewed reviewed = new RecordEvents.Reviewed(
                    reviewer.id(),
                    reviewer.name(),
                    reviewer.role(),
                    SignOff.firstOpen(tail.state()) == null
                            ? RecordEvents.Decision.ACCEPTED
                            : RecordEvents.Decision.ACCEPTED_INCOMPLETE,
                    SignOff.firstOpen(tail.state()) == null ? null : "as far as the nameplate allows");
            by(Actor.person(reviewer.id()), reviewed, 22 * 3600);
        }
    }

    private void step(Step step) {
        if (step.kind() == StepKind.INSPECTION) {
            step.points()
                    .forEach(p -> by(
                            person,
                            new StepEvents.AnswerGiven(step.id(), p.id(), Lane.NONE, StepEvents.Answer.IN_ORDER, null),
                            50));
        } else if (step.kind() == StepKind.ENTRY && test.insulation().isEmpty()) {
            step.points().forEach(p -> {
                PointKey key = new PointKey(step.id(), p.id(), Lane.NONE);
                Double value =
                        test.values().getOrDefault(key.toString(), test.values().get(p.id()));
                Entry entry = new Entry(
                        key, Objects.requireNonNull(value, p.id()), String.valueOf(p.unit()), Qualifier.EQUAL);
                entry.accept(tail.state(), UuidV7.at(now), test.day()).forEach(e -> by(person, e, 60));
            });
        } else if (step.kind() == StepKind.ENTRY) {
            by(
                    person,
                    new StepEvents.ConditionEntered(
                            StepEvents.ConditionEntered.EQUIPMENT_TEMPERATURE, Quantity.of(test.temperature(), "Cel")),
                    20);
            test.insulation().forEach((path, megohms) -> {
                Entry entry = new Entry(new PointKey(step.id(), "r", path), megohms, "MOhm", Qualifier.EQUAL);
                entry.accept(tail.state(), UuidV7.at(now), test.day()).forEach(e -> by(person, e, 30));
            });
        } else if (step.id().equals("longTime")) {
            test.trips().forEach(trip -> injected(step, trip));
        } else if (step.kind().measured() && test.contact().isEmpty()) {
            tail.state().procedure().lanesOf(step, tail.state().scope()).forEach(lane -> measuredAll(step, lane));
        } else if (step.kind() == StepKind.MEASUREMENT) {
            (step.id().equals("contact") ? test.contact() : test.contactEnd())
                    .forEach((pole, microhms) -> measured(
                            step,
                            pole,
                            Readings.contact(
                                    tail.state(),
                                    new PointKey(step.id(), "r", pole),
                                    gear(step),
                                    microhms * 1e-6,
                                    10,
                                    RESISTANCE_RANGE),
                            3,
                            OutputEvents.OffReason.DONE,
                            null));
        }
    }

    private GearFacts gear(Step step) {
        return tail.state().opened().gear().stream()
                .filter(g -> g.need().equals(step.gear()))
                .findFirst()
                .orElseThrow();
    }

    private void injected(Step step, DemoFleet.Trip trip) {
        PointKey key = new PointKey(step.id(), "time", trip.pole());
        if (!trip.repaired().isEmpty()) {
            by(person, new AttemptEvents.AdjustmentMade(List.of(key), trip.repaired()), 900);
        }
        GearFacts gear = gear(step);
        Reading reading = Readings.tripTime(
                tail.state(),
                key,
                gear,
                trip.seconds(),
                Qualifier.EQUAL,
                trip.current(),
                CURRENT_RANGES.get(gear.role()));
        measured(step, trip.pole(), reading, trip.seconds(), OutputEvents.OffReason.TRIPPED, captured(trip));
        now = now.plus(Duration.ofMinutes(4));
    }

    private static @Nullable Trace captured(DemoFleet.Trip trip) {
        return trip.trace().isEmpty()
                ? null
                : new Trace(
                        "Injected current",
                        Unit.SECOND,
                        Unit.AMPERE,
                        trip.trace().stream().mapToDouble(s -> s.get(0)).toArray(),
                        trip.trace().stream().mapToDouble(s -> s.get(1)).toArray());
    }

    /** What was captured on the way, by the SHA-256 its events name it by. */
    Map<String, byte[]> blobs() {
        return blobs;
    }

    private void measured(
            Step step,
            String lane,
            Reading reading,
            double seconds,
            OutputEvents.OffReason reason,
            @Nullable Trace trace) {
        UUID attempt = UuidV7.at(now);
        GearFacts gear = gear(step);
        by(
                person,
                new OutputEvents.Armed(
                        step.id(), lane, gear.id(), step.title() + ", pole " + lane, now.plusSeconds(15)),
                20);
        by(process, new OutputEvents.Energised(attempt, step.id(), lane, gear.id(), reading.with()), 4);
        by(process, new AttemptEvents.AttemptBegun(attempt, step.id(), lane, gear.id(), 1), 0);
        by(process, new AttemptEvents.ConnectionChecked(attempt, true, "the connection is good", Map.of()), 1);
        by(process, new AttemptEvents.ReadingTaken(attempt, reading), seconds);
        if (trace != null) {
            byte[] bytes = TraceBytes.write(trace);
            blobs.put(EventCodec.hash(bytes), bytes);
            by(
                    process,
                    new AttemptEvents.TraceTaken(
                            attempt,
                            trace.name(),
                            EventCodec.hash(bytes),
                            trace.xUnit().code(),
                            trace.yUnit().code(),
                            trace.x().length),
                    0);
        }
        by(process, new OutputEvents.OutputOff(attempt, reason, "measured", new ReadBack(true, true, "output off")), 0);
        by(process, new AttemptEvents.AttemptClosed(attempt, Attempt.Outcome.VALID, "measured"), 0);
    }

    /** One attempt with all the values that gear gave. */
    private void measuredAll(Step step, String lane) {
        GearFacts gear = gear(step);
        Step own = step.at(lane);
        UUID attempt = UuidV7.at(now);
        Map<String, Quantity> with = new TreeMap<>();
        Param frequency = own.params().get("frequency");
        if (frequency != null && frequency.value() != null) {
            with.put("frequency", new Quantity(frequency.value(), Unit.of(frequency.unit())));
        }
        String where = tail.state().procedure().laneName(step, lane);
        by(
                person,
                new OutputEvents.Armed(
                        step.id(),
                        lane,
                        gear.id(),
                        where.isEmpty() ? step.title() : step.title() + ", " + where,
                        now.plusSeconds(15)),
                2);
        by(process, new OutputEvents.Energised(attempt, step.id(), lane, gear.id(), with), 1);
        by(process, new AttemptEvents.AttemptBegun(attempt, step.id(), lane, gear.id(), 1), 0);
        for (TestPoint p : step.points()) {
            PointKey key = new PointKey(step.id(), p.id(), lane);
            Double value = test.values().get(key.toString());
            if (value != null) {
                by(
                        process,
                        new AttemptEvents.ReadingTaken(
                                attempt,
                                new Reading(
                                        key,
                                        value,
                                        Unit.of(String.valueOf(p.unit())),
                                        Qualifier.EQUAL,
                                        Reading.Source.MEASURED,
                                        null,
                                        List.of(),
                                        null,
                                        null,
                                        null,
                                        with,
                                        gear.id(),
                                        null)),
                        3);
            }
        }
        by(
                process,
                new OutputEvents.OutputOff(
                        attempt, OutputEvents.OffReason.DONE, "measured", new ReadBack(true, true, "output off")),
                0);
        by(process, new AttemptEvents.AttemptClosed(attempt, Attempt.Outcome.VALID, "measured"), 0);
    }

    private void restore(List<Step> steps, Predicate<Confirmation> due) {
        for (Step step : steps) {
            for (Confirmation confirmation : step.confirmations()) {
                boolean open = tail.state().isConfirmed(step.id(), confirmation.id())
                        && !tail.state().isRestored(step.id(), confirmation.id());
                if (confirmation.back() != null && open && due.test(confirmation)) {
                    by(person, new StepEvents.Restored(step.id(), confirmation.id()), 30);
                }
            }
        }
    }

    private void by(Actor actor, EventData data, double secondsLater) {
        now = now.plusMillis(Math.round(secondsLater * 1000) + 7);
        tail.add(actor, data, now);
        if (tail.state().finished() == null) {
            tail.follow(now);
        }
    }
}
