package org.juratest.server.run;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.UUID;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.EventData;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.PointJudgement;
import org.juratest.core.run.Reading;
import org.juratest.core.run.Rows;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunJudgement;
import org.juratest.core.run.RunState;
import org.juratest.core.run.SignOff;
import org.juratest.core.run.StepEvents;
import org.juratest.formats.json.CoreJson;

/**
 * What the fast tables hold of one run, as a function of its events and of nothing else. Appending writes the
 * difference between the rows before and after; {@code verify} compares; {@code rebuild} writes them anew.
 *
 * @param lines of the record in a table; absent before the run is finished
 */
public record RunRows(
        Head head, Map<String, ReadingRow> readings, Map<String, PointRow> points, @Nullable RecordLines lines) {

    /**
     * Extracted columns of the run's row.
     *
     * @param performedBy person who finished it
     * @param signOff how far it is signed off; absent before it is finished
     * @param gear ids of what it is carried out with, in their order, parted by blanks
     */
    public record Head(
            long personEvents,
            String status,
            String outputMode,
            boolean busy,
            @Nullable Instant armedUntil,
            @Nullable String driver,
            @Nullable String verdict,
            @Nullable Boolean complete,
            @Nullable String record,
            Instant openedAt,
            @Nullable Instant finishedAt,
            boolean baseline,
            String procedure,
            String title,
            @Nullable String performedBy,
            @Nullable String signOff,
            boolean amended,
            String gear) {}

    /** A row of {@code reading}. */
    public record ReadingRow(
            Instant at,
            UUID attempt,
            String point,
            @Nullable String series,
            String lane,
            double value,
            String unit,
            String qualifier,
            @Nullable Double uncertainty,
            String source,
            boolean counts) {
        String key() {
            return attempt + " " + point;
        }
    }

    /**
     * A row of {@code run_point}.
     *
     * @param counting the value the verdict is of
     * @param rowKey key of the row of a feature; absent for what is no row
     * @param rowReach how far from it the key of the same row may be at another time; absent for what is no row
     * @param ideal where the margin counts from
     * @param scale of the test point
     * @param uncertainty expanded, of what counts
     */
    public record PointRow(
            String point,
            @Nullable String series,
            String lane,
            String label,
            boolean required,
            @Nullable Double asFound,
            @Nullable Double asLeft,
            @Nullable Double counting,
            @Nullable String unit,
            @Nullable String qualifier,
            String verdict,
            @Nullable Double marginUsed,
            @Nullable Double low,
            @Nullable Double high,
            @Nullable Double rowKey,
            @Nullable Double rowReach,
            @Nullable Double ideal,
            String scale,
            @Nullable Double uncertainty) {}

    /** Rows of a run that has at least its first event. */
    public static RunRows of(RunState state) {
        RunEvents.Finished finished = state.finished();
        // A finished run keeps the judgement it was finished with, whatever later code would say.
        RunJudgement judgement = finished != null ? finished.judgement() : RunJudgement.of(state);
        Map<String, PointRow> points = new LinkedHashMap<>();
        judgement.points().forEach(p -> points.put(p.key().toString(), point(state, p)));
        Map<String, ReadingRow> readings = new LinkedHashMap<>();
        for (Attempt attempt : state.attempts()) {
            for (Reading reading : attempt.readings()) {
                ReadingRow row = reading(state, attempt, reading);
                readings.put(row.key(), row);
            }
        }
        return new RunRows(
                head(state, finished, judgement),
                Collections.unmodifiableMap(readings),
                Collections.unmodifiableMap(points),
                finished == null ? null : RecordLines.of(state));
    }

    /**
     * Rows after further events: the same as {@link #of(RunState)}, with the judgement taken over where no event can
     * have changed it.
     *
     * @param before of the state before them
     */
    static RunRows of(RunRows before, List<EventData> further, RunState state) {
        return state.finished() == null && further.stream().allMatch(RunRows::judgesNothing)
                ? new RunRows(head(state, null, null), before.readings, before.points, null)
                : of(state);
    }

    /** Kinds of events that leave every reading and its judgement as they are. */
    private static boolean judgesNothing(EventData data) {
        return data instanceof StepEvents.Note
                || data instanceof StepEvents.Photo
                || data instanceof RunEvents.ScreenTaken
                || data instanceof OutputEvents.Armed
                || data instanceof OutputEvents.Disarmed
                || data instanceof OutputEvents.Energised
                || data instanceof OutputEvents.OutputOff
                || data instanceof OutputEvents.GearLost
                || data instanceof OutputEvents.GearBack;
    }

    private static Head head(RunState state, RunEvents.@Nullable Finished finished, @Nullable RunJudgement judgement) {
        SignOff signOff = SignOff.of(state);
        boolean done = finished != null;
        return new Head(
                state.personEvents(),
                word(state.status()),
                word(state.output().mode()),
                state.isBusy(),
                state.output().until(),
                state.driver(),
                judgement != null && done ? word(judgement.verdict()) : null,
                judgement != null && done ? (Boolean) judgement.complete() : null,
                done ? finished.record() : null,
                state.events().get(0).at(),
                state.finishedAt(),
                state.opened().reason().equals("acceptance"),
                state.procedure().code(),
                state.procedure().title(),
                done ? performedBy(state) : null,
                done ? word(signOff.state()) : null,
                signOff.amended(),
                state.gear().stream().map(GearFacts::id).distinct().sorted().collect(Collectors.joining(" ")));
    }

    private static @Nullable String performedBy(RunState state) {
        return state.events().stream()
                .filter(e -> e.data() instanceof RunEvents.Finished)
                .map(e -> e.by().id())
                .findFirst()
                .orElse(null);
    }

    private static PointRow point(RunState state, PointJudgement p) {
        PointJudgement.Value counting = p.counting();
        return new PointRow(
                p.key().toString(),
                p.series(),
                p.key().lane(),
                p.label(),
                p.required(),
                p.asFound() == null ? null : p.asFound().value(),
                p.asLeft() == null ? null : p.asLeft().value(),
                counting == null ? null : counting.value(),
                p.unit(),
                counting == null ? null : counting.qualifier().sign(),
                word(p.verdict()),
                p.marginUsed(),
                p.limit() == null ? null : p.limit().low(),
                p.limit() == null ? null : p.limit().high(),
                Rows.key(state, p.key()),
                Rows.reach(state, p.key()),
                p.limit() == null ? null : p.limit().ideal(),
                word(p.scale()),
                counting == null ? null : counting.uncertainty());
    }

    private static ReadingRow reading(RunState state, Attempt attempt, Reading reading) {
        PointKey key = reading.key();
        String series = state.procedure()
                .step(key.step())
                .flatMap(s -> s.point(key.point()))
                .map(p -> p.series())
                .orElse(null);
        return new ReadingRow(
                attempt.at(),
                attempt.id(),
                key.toString(),
                series,
                key.lane(),
                reading.value(),
                reading.unit().code(),
                reading.qualifier().sign(),
                reading.uncertainty(),
                word(reading.source()),
                attempt.counts());
    }

    static String word(Enum<?> constant) {
        return CoreJson.constantName(constant);
    }

    /** What differs between these rows and others, in words; for {@code verify}. */
    List<String> differences(RunRows stored) {
        List<String> words = new ArrayList<>();
        if (!head.equals(stored.head)) {
            words.add("the run's row is " + stored.head + " but its events give " + head);
        }
        compare("reading", readings, stored.readings, words);
        compare("point", points, stored.points, words);
        if (!Objects.equals(lines, stored.lines)) {
            words.add("the record's lines in a table are other than the events give");
        }
        return words;
    }

    private static <R> void compare(String what, Map<String, R> ours, Map<String, R> theirs, List<String> words) {
        ours.forEach((key, row) -> {
            if (!row.equals(theirs.get(key))) {
                words.add(what + " " + key + " is " + theirs.get(key) + " but the events give " + row);
            }
        });
        theirs.keySet().stream()
                .filter(k -> !ours.containsKey(k))
                .forEach(k -> words.add(what + " " + k + " has no event"));
    }
}
