package org.juratest.server.run;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.BiConsumer;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.juratest.core.bench.FileAttempts;
import org.juratest.core.procedure.Scope;
import org.juratest.core.procedure.Step;
import org.juratest.core.run.Actor;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.Event;
import org.juratest.core.run.EventData;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunState;
import org.juratest.core.run.StepEvents;
import org.juratest.core.trace.Trace;
import org.juratest.formats.run.EventCodec;
import org.juratest.formats.trace.TraceBytes;
import org.juratest.server.db.UuidV7;

/** What happens in a run whose readings come from files. */
public final class FiledRun {

    /** Stands for the hash of the event before, where nothing is chained yet. */
    private static final String UNCHAINED = "00";

    private FiledRun() {}

    /**
     * What files are in a run: those that say something, with their attempts, and those that say nothing.
     *
     * @param files that say something
     * @param events of their attempts, one after the other
     * @param left the others
     */
    public record Sifted(List<FileAttempts.Brought> files, List<EventData> events, List<Left> left) {}

    /**
     * A file that no attempt was made of.
     *
     * @param file its place in the list, from 0
     * @param why as a person is told
     */
    public record Left(int file, String name, String why) {}

    private static final class Kept implements FileAttempts.Keeper {

        private final Map<String, byte[]> bytes = new LinkedHashMap<>();
        private final Map<String, String> mediaTypes = new HashMap<>();

        @Override
        public String keep(Trace trace) {
            return keep(TraceBytes.write(trace), TraceBytes.MEDIA_TYPE);
        }

        @Override
        public String keep(byte[] some, String mediaType) {
            String hash = EventCodec.hash(some);
            bytes.put(hash, some);
            mediaTypes.put(hash, mediaType);
            return hash;
        }

        private void into(BiConsumer<String, byte[]> blobs) {
            bytes.forEach((hash, some) -> blobs.accept(mediaTypes.get(hash), some));
        }
    }

    /**
     * Reads files into attempts. One that cannot be analysed is left, so that it does not keep the others from their
     * record.
     *
     * @param begun a run that was opened
     * @param files of steps of its procedure
     * @param blobs where media type and bytes are kept of those that say something
     */
    public static Sifted sift(
            RunState begun, List<FileAttempts.Brought> files, Instant now, BiConsumer<String, byte[]> blobs) {
        List<FileAttempts.Brought> good = new ArrayList<>();
        List<EventData> events = new ArrayList<>();
        List<Left> left = new ArrayList<>();
        RunState state = begun;
        // A file knows of others only where an earlier one is of the same step and lane: all first ones go at once.
        Map<String, Integer> first = new HashMap<>();
        for (int i = files.size() - 1; i >= 0; i--) {
            first.put(pair(files.get(i)), i);
        }
        Map<Integer, Told> ahead = first.values().parallelStream()
                .collect(Collectors.toMap(i -> i, i -> Told.of(begun, files.get(i), now)));
        for (int i = 0; i < files.size(); i++) {
            FileAttempts.Brought file = files.get(i);
            Told told = ahead.containsKey(i) ? ahead.get(i) : Told.of(state, file, now);
            AttemptEvents.AttemptClosed closed = (AttemptEvents.AttemptClosed) told.events.get(told.events.size() - 1);
            if (closed.outcome() == Attempt.Outcome.VALID) {
                state = first.size() == files.size() ? state : told(state, told.events);
                events.addAll(told.events);
                good.add(file);
                told.kept.into(blobs);
            } else {
                left.add(new Left(i, file.name(), String.valueOf(closed.words())));
            }
        }
        return new Sifted(good, events, left);
    }

    private static String pair(FileAttempts.Brought file) {
        return file.step().id() + "/" + file.lane();
    }

    /** The events of one file's attempt, with what belongs to them. */
    private record Told(List<EventData> events, Kept kept) {

        static Told of(RunState state, FileAttempts.Brought file, Instant now) {
            Kept kept = new Kept();
            return new Told(FileAttempts.of(state, file, UuidV7.at(now), kept), kept);
        }
    }

    /**
     * Tells all of a run between its opening and its end: what no file is of is left out, each file is an attempt, and
     * what is computed of them follows.
     *
     * @param tail a run that was opened
     * @param sifted with at least one file
     * @param taken when the newest was measured; absent where no file says
     * @param now when it happens
     */
    public static void tell(Tail tail, Actor who, Sifted sifted, @Nullable Instant taken, Instant now) {
        leaveOut(tail, who, sifted.files, now);
        tail.add(who, new RunEvents.Imported(taken, sifted.files.size()), now);
        sifted.events.forEach(data -> tail.add(who, data, now));
        tail.follow(now);
    }

    /** What no file is of takes no part; a step that computes from it has nothing to compute. */
    private static void leaveOut(Tail tail, Actor who, List<FileAttempts.Brought> files, Instant now) {
        Set<String> there =
                files.stream().map(f -> f.step().id() + "/" + f.lane()).collect(Collectors.toSet());
        Set<String> steps = new TreeSet<>();
        Set<String> pairs = new TreeSet<>();
        RunState state = tail.state();
        for (Step step : state.procedure().steps()) {
            List<String> lanes = state.procedure().lanesOf(step, state.scope());
            List<String> without = lanes.stream()
                    .filter(lane -> step.kind().measured()
                            ? !there.contains(step.id() + "/" + lane)
                            : step.references().stream().anyMatch(used -> !there.contains(used + "/" + lane)))
                    .toList();
            if (step.kind().measured() || !step.references().isEmpty()) {
                if (without.size() == lanes.size()) {
                    steps.add(step.id());
                } else {
                    without.forEach(lane -> pairs.add(step.id() + "/" + lane));
                }
            }
        }
        if (!steps.isEmpty() || !pairs.isEmpty()) {
            tail.add(who, new RunEvents.ScopeSet(new Scope(steps, Map.of(), pairs.isEmpty() ? null : pairs)), now);
        }
        // What is looked at or done by hand is not part of files.
        for (Step step : tail.state().stepsInScope()) {
            if (!step.kind().measured() && step.references().isEmpty() && step.hold() == null) {
                tail.add(who, new StepEvents.StepSkipped(step.id(), "brought in by files"), now);
            }
        }
    }

    private static RunState told(RunState state, List<EventData> more) {
        RunState next = state;
        java.util.UUID run = state.events().get(0).run();
        for (EventData data : more) {
            Event last = next.events().get(next.events().size() - 1);
            next = next.after(new Event(
                    UuidV7.now(), run, next.n() + 1, UNCHAINED, last.at(), Actor.process("told"), "told", data));
        }
        return next;
    }
}
