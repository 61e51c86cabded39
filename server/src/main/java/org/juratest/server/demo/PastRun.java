package org.juratest.server.demo;

import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.UUID;
import java.util.function.Predicate;
import org.juratest.core.bench.FileAttempts;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.method.Filed;
import org.juratest.core.method.Methods;
import org.juratest.core.procedure.Confirmation;
import org.juratest.core.procedure.Lane;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Step;
import org.juratest.core.procedure.StepKind;
import org.juratest.core.procedure.TestPoint;
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
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.ReadingOrigin;
import org.juratest.core.run.RecordEvents;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunJudgement;
import org.juratest.core.run.RunState;
import org.juratest.core.run.SignOff;
import org.juratest.core.run.StepEvents;
import org.juratest.core.trace.Trace;
import org.juratest.formats.capture.CaptureFormat;
import org.juratest.formats.capture.CaptureFormats;
import org.juratest.formats.run.EventCodec;
import org.juratest.formats.trace.TraceBytes;
import org.juratest.server.Juratest;
import org.juratest.server.db.UuidV7;
import org.juratest.server.run.FiledRun;
import org.juratest.server.run.Tail;

/** Tells one past test as the events it would have left, at the pace of a technician, judged by the same code. */
final class PastRun {

    private static final int WAITING_DAYS = 21;

    private final Tail tail;
    private final DemoFleet.PastTest test;
    private final Actor person;
    private final Actor process;
    private final Map<String, Kept> blobs;
    private Instant now;

    /** Something captured: its media type and its bytes. */
    record Kept(String mediaType, byte[] bytes) {}

    /** @param blobs what it captures, by SHA-256, is put there as it comes */
    PastRun(Tail tail, DemoFleet.PastTest test, String origin, ZoneId zone, Map<String, Kept> blobs) {
        this.tail = tail;
        this.blobs = blobs;
        this.test = test;
        this.person = Actor.person(test.person());
        this.process = Actor.process(origin);
        this.now = test.day().atTime(LocalTime.of(8, 10)).atZone(zone).toInstant();
    }

    /** Tells it from opened to finished. */
    void tell(RunEvents.Opened opened, String record) {
        by(person, opened, 0);
        if (test.isBrought()) {
            brought(opened);
            by(person, new RunEvents.Finished(record, RunJudgement.of(tail.state()), Juratest.VERSION), 60);
            return;
        }
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

    /** What came as files, by the code that brings in files. */
    private void brought(RunEvents.Opened opened) {
        List<FileAttempts.Brought> files = new ArrayList<>();
        Instant taken = null;
        for (DemoFleet.PastFile file : Objects.requireNonNull(test.files())) {
            CaptureFormat format = CaptureFormats.of(file.name(), file.bytes())
                    .orElseThrow(() -> new IllegalArgumentException("nobody reads " + file.name()));
            Filed filed = format.read(file.name(), file.bytes());
            Step step = opened.procedure().step(file.step()).orElseThrow().at(file.lane());
            files.add(new FileAttempts.Brought(
                    file.name(), file.bytes(), format.mediaType(), filed, step, file.lane(), null));
            taken = taken == null || filed.taken() != null && filed.taken().isAfter(taken) ? filed.taken() : taken;
        }
        now = now.plusSeconds(3600 * 4);
        FiledRun.Sifted sifted = FiledRun.sift(
                tail.state(),
                files,
                now,
                (mediaType, bytes) -> blobs.put(EventCodec.hash(bytes), new Kept(mediaType, bytes)));
        if (!sifted.left().isEmpty()) {
            throw new IllegalArgumentException(sifted.left().toString());
        }
        FiledRun.tell(tail, person, sifted, taken, now);
    }

    private void step(Step step) {
        if (step.kind() == StepKind.INSPECTION) {
            step.points()
                    .forEach(p -> by(
                            person,
                            new StepEvents.AnswerGiven(step.id(), p.id(), Lane.NONE, StepEvents.Answer.IN_ORDER, null),
                            50));
        } else if (step.kind() == StepKind.ENTRY) {
            entered(step);
        } else if (step.kind().measured()) {
            List<DemoFleet.PastReading> readings = test.readings().stream()
                    .filter(r -> r.step().equals(step.id()))
                    .toList();
            attempts(readings).forEach(a -> measured(step, a.get(0).lane(), a));
            if (readings.isEmpty()) {
                tail.state()
                        .procedure()
                        .lanesOf(step, tail.state().scope())
                        .forEach(lane -> measured(step, lane, drifted(step, lane)));
            }
        }
    }

    /** What one measurement gave: readings of a lane in a row, each of another point, nothing repaired in between. */
    private static List<List<DemoFleet.PastReading>> attempts(List<DemoFleet.PastReading> readings) {
        List<List<DemoFleet.PastReading>> all = new ArrayList<>();
        for (DemoFleet.PastReading r : readings) {
            List<DemoFleet.PastReading> last = all.isEmpty() ? List.of() : all.get(all.size() - 1);
            boolean goesOn = !last.isEmpty()
                    && r.repaired().isEmpty()
                    && last.get(0).lane().equals(r.lane())
                    && last.stream().noneMatch(b -> b.point().equals(r.point()));
            if (goesOn) {
                last.add(r);
            } else {
                all.add(new ArrayList<>(List.of(r)));
            }
        }
        return all;
    }

    private void entered(Step step) {
        if (step.points().stream().anyMatch(p -> !p.allCorrections().isEmpty())) {
            test.conditions().forEach((what, value) -> by(person, new StepEvents.ConditionEntered(what, value), 20));
        }
        List<Entry> entries = new ArrayList<>();
        test.readings().stream()
                .filter(r -> r.step().equals(step.id()))
                .forEach(r -> entries.add(new Entry(
                        new PointKey(step.id(), r.point(), r.lane()),
                        r.value(),
                        r.unit().code(),
                        Qualifier.EQUAL)));
        if (entries.isEmpty()) {
            step.points().forEach(p -> {
                PointKey key = new PointKey(step.id(), p.id(), Lane.NONE);
                Double value =
                        test.values().getOrDefault(key.toString(), test.values().get(p.id()));
                entries.add(new Entry(
                        key, Objects.requireNonNull(value, p.id()), String.valueOf(p.unit()), Qualifier.EQUAL));
            });
        }
        entries.forEach(
                entry -> entry.accept(tail.state(), UuidV7.at(now), test.day()).forEach(e -> by(person, e, 30)));
    }

    /** What points of a step read by the drift of the device. */
    private List<DemoFleet.PastReading> drifted(Step step, String lane) {
        List<DemoFleet.PastReading> readings = new ArrayList<>();
        for (TestPoint p : step.points()) {
            Double value = test.values().get(new PointKey(step.id(), p.id(), lane).toString());
            if (value != null) {
                readings.add(new DemoFleet.PastReading(
                        step.id(),
                        lane,
                        p.id(),
                        value,
                        Unit.of(String.valueOf(p.unit())),
                        Map.of(),
                        3,
                        "DONE",
                        "",
                        null));
            }
        }
        return readings;
    }

    private GearFacts gear(Step step) {
        return tail.state().opened().gear().stream()
                .filter(g -> g.need().equals(step.gear()))
                .findFirst()
                .orElseThrow();
    }

    /** One attempt with all the values that gear gave. */
    private void measured(Step step, String lane, List<DemoFleet.PastReading> readings) {
        if (readings.isEmpty()) {
            return;
        }
        readings.stream().filter(r -> !r.repaired().isEmpty()).forEach(r -> {
            PointKey key = new PointKey(step.id(), r.point(), lane);
            by(person, new AttemptEvents.AdjustmentMade(List.of(key), r.repaired()), 900);
        });
        UUID attempt = UuidV7.at(now);
        GearFacts gear = gear(step);
        String where = tail.state().procedure().laneName(step, lane);
        String what = where.isEmpty() ? step.title() : step.title() + ", " + where;
        by(person, new OutputEvents.Armed(step.id(), lane, gear.id(), what, now.plusSeconds(15)), 20);
        by(process, new OutputEvents.Energised(attempt, step.id(), lane, gear.id(), Map.of()), 4);
        by(process, new AttemptEvents.AttemptBegun(attempt, step.id(), lane, gear.id(), 1), 0);
        by(process, new AttemptEvents.ConnectionChecked(attempt, true, "the connection is good", Map.of()), 1);
        for (DemoFleet.PastReading r : readings) {
            reading(step, lane, attempt, gear, r);
        }
        OutputEvents.OffReason reason = readings.stream()
                .map(r -> OutputEvents.OffReason.valueOf(r.off()))
                .findFirst()
                .orElse(OutputEvents.OffReason.DONE);
        by(process, new OutputEvents.OutputOff(attempt, reason, "measured", new ReadBack(true, true, "output off")), 0);
        by(process, new AttemptEvents.AttemptClosed(attempt, Attempt.Outcome.VALID, "measured"), 0);
        if (step.coolMinutes() != null) {
            now = now.plusMillis(Math.round(step.coolMinutes() * 60_000));
        }
    }

    private void reading(Step step, String lane, UUID attempt, GearFacts gear, DemoFleet.PastReading r) {
        ReadingOrigin then = new ReadingOrigin() {
            @Override
            public RunState state() {
                return tail.state();
            }

            @Override
            public ReadingBuilder value(String point, double value, Unit unit) {
                return new ReadingBuilder(
                        state(), new PointKey(step.id(), point, lane), gear, Reading.Source.MEASURED, value, unit);
            }
        };
        ReadingBuilder made = Methods.byName(String.valueOf(step.method()))
                .orElseThrow()
                .retold(then, r.point(), r.value(), r.unit(), r.facts());
        by(
                process,
                new AttemptEvents.ReadingTaken(
                        attempt, Objects.requireNonNull(made.result().reading())),
                r.seconds());
        if (r.trace() != null && !r.trace().samples().isEmpty()) {
            Trace trace = r.trace().trace();
            byte[] bytes = TraceBytes.write(trace);
            String hash = EventCodec.hash(bytes);
            blobs.put(hash, new Kept(TraceBytes.MEDIA_TYPE, bytes));
            by(
                    process,
                    new AttemptEvents.Captured(
                            attempt,
                            AttemptEvents.CaptureKind.TRACE,
                            trace.name(),
                            hash,
                            TraceBytes.MEDIA_TYPE,
                            Map.of(
                                    "xUnit",
                                    trace.xUnit().code(),
                                    "yUnit",
                                    trace.yUnit().code(),
                                    "points",
                                    Integer.toString(trace.x().length))),
                    0);
        }
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
