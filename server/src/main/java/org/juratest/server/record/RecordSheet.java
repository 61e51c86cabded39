package org.juratest.server.record;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.UUID;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Figures;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.procedure.Confirmation;
import org.juratest.core.procedure.Lane;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Step;
import org.juratest.core.procedure.StepKind;
import org.juratest.core.record.StepTimes;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.Changed;
import org.juratest.core.run.Event;
import org.juratest.core.run.EventData;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.PointJudgement;
import org.juratest.core.run.Reading;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunJudgement;
import org.juratest.core.run.RunState;
import org.juratest.core.run.StepEvents;
import org.juratest.server.run.PointViews;
import org.juratest.server.run.RecordLines;

/** The steps of a record with their points, confirmations and what was done in them. */
final class RecordSheet {

    /** Lanes that have room side by side, on the page and on paper. */
    private static final int MOST_BESIDE = 6;
    /** What uses most of its margin; what has none stands last. */
    private static final Comparator<RecordView.RecordPoint> WORST_FIRST =
            Comparator.comparing(p -> p.point().marginUsed(), Comparator.nullsLast(Comparator.reverseOrder()));

    private final RunState run;
    private final RunJudgement judgement;
    private final StepTimes times;
    private final UnaryOperator<String> names;

    RecordSheet(RunState run, RunJudgement judgement, StepTimes times, UnaryOperator<String> names) {
        this.run = run;
        this.judgement = judgement;
        this.times = times;
        this.names = names;
    }

    List<RecordView.RecordStep> steps() {
        List<PointViews.PointView> points = PointViews.points(run, judgement);
        return run.stepsInScope().stream()
                .map(s -> step(
                        s, points.stream().filter(p -> p.step().equals(s.id())).toList()))
                .toList();
    }

    private RecordView.RecordStep step(Step step, List<PointViews.PointView> points) {
        List<String> units =
                points.stream().map(PointViews.PointView::unit).distinct().toList();
        List<String> gear = run.attempts().stream()
                .filter(a -> a.step().equals(step.id()))
                .map(RecordViews::gearOf)
                .filter(Objects::nonNull)
                .distinct()
                .map(id -> run.gear().stream()
                        .filter(g -> g.id().equals(id))
                        .map(g -> g.name())
                        .findFirst()
                        .orElse(id))
                .toList();
        List<RecordView.RecordPoint> rows = points.stream()
                .map(p -> point(step, p))
                .sorted(isLong(step) ? WORST_FIRST : Comparator.comparing(p -> 0))
                .toList();
        String criteria = rows.size() > 1
                        && rows.stream()
                                        .map(RecordView.RecordPoint::criteria)
                                        .distinct()
                                        .count()
                                == 1
                ? rows.get(0).criteria()
                : null;
        List<String> shared = rows.size() > 1
                ? rows.get(0).marks().stream()
                        .filter(m -> rows.stream().allMatch(r -> r.marks().contains(m)))
                        .toList()
                : List.of();
        return new RecordView.RecordStep(
                step.id(),
                step.kind().name().toLowerCase(java.util.Locale.ROOT),
                step.title(),
                RecordViews.minutes(times.step(step.id())),
                run.skipped().get(step.id()),
                gear.isEmpty() ? null : String.join(", ", gear),
                units.size() == 1 ? units.get(0) : "",
                criteria,
                shared,
                rows.stream()
                        .map(r -> new RecordView.RecordPoint(
                                r.point(),
                                r.name(),
                                r.minutes(),
                                r.uncertainty(),
                                criteria == null ? r.criteria() : null,
                                r.marks().stream()
                                        .filter(m -> !shared.contains(m))
                                        .toList(),
                                r.answer()))
                        .toList(),
                step.confirmations().stream().map(c -> tick(step, c)).toList(),
                done(step),
                lanes(step));
    }

    /** Whether a step has more lanes than a page is wide: they stand one under the other, the worst first. */
    private boolean isLong(Step step) {
        return step.lanes() != null
                && run.procedure().lanesOf(step, run.scope()).size() > MOST_BESIDE;
    }

    /** Lanes that stand side by side: few, of a step that goes through them by itself. */
    private List<RecordView.RecordLane> lanes(Step step) {
        return !step.followsByItself() || step.lanes() == null || isLong(step)
                ? List.of()
                : run.procedure().lanesOf(step, run.scope()).stream()
                        .map(l -> new RecordView.RecordLane(l, run.procedure().laneName(step, l)))
                        .toList();
    }

    /** Settings that were changed over a data port: as they were found, and as they were left. */
    List<RecordView.SettingRow> settings() {
        Map<String, RecordView.SettingRow> rows = new java.util.LinkedHashMap<>();
        for (RunState.Adjustment made : run.adjustments()) {
            for (AttemptEvents.SettingChange s : made.settings()) {
                rows.merge(
                        s.name(),
                        new RecordView.SettingRow(made.what(), s.label(), s.before(), s.after()),
                        (first, now) ->
                                new RecordView.SettingRow(first.step(), first.setting(), first.before(), now.after()));
            }
        }
        return List.copyOf(rows.values());
    }

    /** Parameters that differ from the procedure's. */
    List<String> changed() {
        return run.changedParams().entrySet().stream()
                .map(p -> {
                    Changed key = p.getKey();
                    Step step = run.procedure().step(key.step()).orElseThrow();
                    String lane =
                            key.lane() == null ? "" : ", " + run.procedure().laneName(step, key.lane());
                    return step.title() + lane + ": "
                            + key.name().replaceAll("([A-Z])", " $1").toLowerCase(java.util.Locale.ROOT) + " "
                            + Figures.of(p.getValue()) + "\u00a0"
                            + PointViews.symbol(step.params().get(key.name()).unit());
                })
                .toList();
    }

    List<RecordView.RecordSound> sounds() {
        return captured(
                AttemptEvents.CaptureKind.SOUND,
                (step, lane, c) -> new RecordView.RecordSound(
                        step.id(),
                        step.title(),
                        lane,
                        c.name(),
                        c.sha256(),
                        Double.parseDouble(c.facts().getOrDefault("seconds", "0"))));
    }

    /** Pictures, of each name on each lane the last: how it was left. */
    List<RecordView.RecordPicture> pictures() {
        Map<List<String>, RecordView.RecordPicture> last = new LinkedHashMap<>();
        captured(
                        AttemptEvents.CaptureKind.PICTURE,
                        (step, lane, c) -> new RecordView.RecordPicture(
                                step.id(),
                                step.title(),
                                run.attempt(c.attempt()).map(Attempt::lane).orElse(Lane.NONE),
                                lane,
                                c.name(),
                                c.sha256(),
                                c.mediaType(),
                                c.facts()))
                .forEach(p -> last.put(List.of(p.step(), p.laneId(), p.name()), p));
        return List.copyOf(last.values());
    }

    private interface Capture<T> {
        T of(Step step, String lane, AttemptEvents.Captured captured);
    }

    /** What attempts that count have captured of a kind. */
    private <T> List<T> captured(AttemptEvents.CaptureKind kind, Capture<T> as) {
        return run.captures(kind).stream()
                .flatMap(c -> run
                        .attempt(c.attempt())
                        .filter(Attempt::counts)
                        .map(a -> {
                            Step step = run.procedure().step(a.step()).orElseThrow();
                            return as.of(step, run.procedure().laneName(step, a.lane()), c);
                        })
                        .stream())
                .toList();
    }

    private RecordView.RecordPoint point(Step step, PointViews.PointView point) {
        PointJudgement judged = judgement.points().stream()
                .filter(p -> p.key().equals(point.key()))
                .findFirst()
                .orElseThrow();
        boolean lanes = !point.lane().equals(Lane.NONE);
        String lane = lanes ? run.procedure().laneName(step, point.lane()) : point.name();
        String name = lanes && step.points().size() + step.discovers().size() > 1
                ? lane + ", " + point.name()
                : capital(lane);
        Double u = judged.counting() == null ? null : judged.counting().uncertainty();
        return new RecordView.RecordPoint(
                point,
                name,
                lanes && step.kind() != StepKind.DERIVATION
                        ? (Double) RecordViews.minutes(times.lane(step.id(), point.lane()))
                        : null,
                u == null ? null : Figures.of(u),
                criteria(point),
                marks(step, judged),
                RecordLines.answer(run, point.key()));
    }

    private static @Nullable String criteria(PointViews.PointView p) {
        if (p.span() == null) {
            return p.why() == null && p.unit().isEmpty() ? null : p.why() == null ? "recorded only" : p.why();
        }
        String limit = p.span()
                + (p.unit().isEmpty() ? "" : "\u00a0" + p.unit())
                + (p.source() == null ? "" : ", " + p.source());
        return p.why() == null ? limit : limit + ". " + p.why();
    }

    private static String capital(String text) {
        return text.isEmpty() ? text : Character.toUpperCase(text.charAt(0)) + text.substring(1);
    }

    private List<String> marks(Step step, PointJudgement judged) {
        List<String> marks = new ArrayList<>();
        PointJudgement.Value counting = judged.counting();
        Reading reading = counting == null || counting.attempt() == null
                ? null
                : run.attempt(counting.attempt())
                        .flatMap(a -> a.reading(judged.key()))
                        .orElse(null);
        if (reading != null && reading.source() == Reading.Source.ENTERED) {
            marks.add("entered");
        }
        if (reading != null) {
            reading.corrections().forEach(c -> marks.add(c.words()));
        }
        if (reading != null && reading.source() == Reading.Source.MEASURED && reading.remark() != null) {
            marks.add(PointViews.words(reading.remark()));
        }
        if (reading != null && reading.raw() != null) {
            marks.add("read " + Figures.of(reading.raw()) + "\u00a0"
                    + reading.unit().symbol());
        }
        if (counting != null && counting.count() > 1) {
            marks.add((step.repeats() == Step.Repeats.MEAN ? "mean of " : "worst of ") + counting.count());
        }
        AttemptEvents.LimitChanged change = run.isLimitChanged(judged.key()) ? run.limitChange(judged.key()) : null;
        if (change != null) {
            marks.add("limit changed from default: " + change.reason());
        }
        if (judged.tooCoarse()) {
            marks.add("gear too coarse for this limit");
        }
        return marks;
    }

    private RecordView.RecordTick tick(Step step, Confirmation c) {
        UUID confirmed = run.confirmedBy(step.id(), c.id());
        String by = run.events().stream()
                .filter(e -> e.id().equals(confirmed))
                .map(e -> names.apply(e.by().id()))
                .findFirst()
                .orElse(null);
        return new RecordView.RecordTick(
                PointViews.words(c.text()),
                RecordViews.at(run, confirmed),
                by,
                c.back(),
                RecordViews.at(run, run.restoredBy(step.id(), c.id())));
    }

    /** What was done in a step beside measuring. */
    private List<String> done(Step step) {
        List<String> words = new ArrayList<>();
        String at = null;
        for (Event event : run.events()) {
            EventData data = event.data();
            if (data instanceof StepEvents.StepBegun begun) {
                at = begun.step();
            }
            String said = run.isWithdrawn(event.id()) ? null : said(data, step, at);
            if (said != null) {
                words.add(said);
            }
        }
        return words;
    }

    private @Nullable String said(EventData data, Step step, @Nullable String at) {
        boolean here = step.id().equals(at);
        if (data instanceof AttemptEvents.AdjustmentMade made
                && made.points().stream().anyMatch(p -> p.step().equals(step.id()))) {
            return "Adjusted: " + made.what() + " ("
                    + String.join(
                            ", ",
                            made.points().stream()
                                    .filter(p -> p.step().equals(step.id()))
                                    .map(this::lane)
                                    .distinct()
                                    .toList())
                    + ")";
        }
        if (data instanceof AttemptEvents.AttemptVoided voided
                && run.attempt(voided.attempt())
                        .filter(a -> a.step().equals(step.id()))
                        .isPresent()) {
            Attempt attempt = run.attempt(voided.attempt()).orElseThrow();
            return "Voided" + of(step, attempt) + ", for a set-up fault: " + voided.words();
        }
        if (data instanceof AttemptEvents.AttemptClosed closed
                && closed.outcome() != Attempt.Outcome.VALID
                && run.attempt(closed.attempt())
                        .filter(a -> a.step().equals(step.id()))
                        .isPresent()) {
            Attempt attempt = run.attempt(closed.attempt()).orElseThrow();
            return "Not valid" + of(step, attempt) + ": " + PointViews.words(closed.words());
        }
        if (data instanceof AttemptEvents.LimitChanged change && change.step().equals(step.id())) {
            return "Limit changed from default"
                    + (change.lane() == null ? "" : ", " + run.procedure().laneName(step, change.lane())) + ": "
                    + change.reason();
        }
        if (data instanceof AttemptEvents.ParamChanged change && change.step().equals(step.id())) {
            return "Parameter changed from default: " + change.reason();
        }
        if (data instanceof AttemptEvents.BackToProcedure back && back.step().equals(step.id())) {
            return "Restored to what the procedure says";
        }
        return data instanceof StepEvents.CoolingOverruled overruled && here
                ? "Went on before it had cooled: " + overruled.reason()
                : null;
    }

    private String lane(PointKey key) {
        return lane(key.step(), key.lane());
    }

    private String lane(String of, String id) {
        Step step = run.procedure().step(of).orElseThrow();
        String lane = run.procedure().laneName(step, id);
        return lane.isEmpty() ? step.title() : lane;
    }

    private String of(Step step, Attempt attempt) {
        String lane = run.procedure().laneName(step, attempt.lane());
        String values = String.join(
                ", ",
                attempt.readings().stream()
                        .map(r -> PointViews.figure(r.value(), r.qualifier(), r.limit(), r.unit()) + " "
                                + r.unit().symbol())
                        .toList());
        return (lane.isEmpty() ? "" : ", " + lane) + (values.isEmpty() ? "" : ", " + values);
    }

    /** Notes, photos, and what happened beside the procedure. */
    List<RecordView.Remark> remarks() {
        List<RecordView.Remark> remarks = new ArrayList<>();
        for (Event event : run.events()) {
            String text = remark(event.data());
            if (text != null) {
                String blob = event.data() instanceof StepEvents.Photo photo ? photo.blob() : null;
                remarks.add(new RecordView.Remark(
                        event.at(),
                        event.by().isPerson() ? names.apply(event.by().id()) : "the program",
                        text,
                        blob,
                        run.isWithdrawn(event.id())));
            }
        }
        return remarks;
    }

    private @Nullable String remark(EventData data) {
        if (data instanceof StepEvents.Note note) {
            return note.text();
        }
        if (data instanceof StepEvents.Photo photo) {
            return photo.words() == null ? "Photo" : photo.words();
        }
        if (data instanceof RunEvents.Interrupted cut) {
            return "Interrupted: " + cut.what();
        }
        if (data instanceof RunEvents.GearChosen chosen) {
            return "Other gear from here: " + chosen.gear().name();
        }
        if (data instanceof OutputEvents.GearLost lost) {
            return run.gear().stream()
                            .filter(g -> g.id().equals(lost.gear()))
                            .map(g -> g.name())
                            .findFirst()
                            .orElse(lost.gear())
                    + " did not answer: " + lost.what();
        }
        if (data instanceof OutputEvents.Discharged d) {
            return "Discharged, " + lane(d.step(), d.lane()) + ": "
                    + PointViews.figure(d.residual().value(), Qualifier.EQUAL, null) + " "
                    + d.residual().unit().symbol() + " left";
        }
        return data instanceof OutputEvents.Earthed earthed
                ? "Earthed by hand, " + lane(earthed.step(), earthed.lane())
                : null;
    }
}
