package org.juratest.server.run;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.juratest.core.bench.FileAttempts;
import org.juratest.core.procedure.Scope;
import org.juratest.core.procedure.Step;
import org.juratest.core.run.Actor;
import org.juratest.core.run.Event;
import org.juratest.core.run.EventData;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunState;
import org.juratest.core.run.StepEvents;
import org.juratest.server.db.UuidV7;

/** What happens in a run whose readings come from files. */
public final class FiledRun {

    /** Stands for the hash of the event before, where nothing is chained yet. */
    private static final String UNCHAINED = "00";

    private FiledRun() {}

    /**
     * Tells all of a run between its opening and its end: what no file is of is left out, each file is an attempt, and
     * what is computed of them follows.
     *
     * @param tail a run that was opened
     * @param files of steps of its procedure
     * @param taken when the newest was measured; absent where no file says
     * @param now when it happens
     */
    public static void tell(
            Tail tail,
            Actor who,
            List<FileAttempts.Brought> files,
            @Nullable Instant taken,
            FileAttempts.Keeper keeper,
            Instant now) {
        leaveOut(tail, who, files, now);
        attempts(tail.state(), files, taken, keeper, now).forEach(data -> tail.add(who, data, now));
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

    /** The events of some files in a run, one attempt each. */
    static List<EventData> attempts(
            RunState begun,
            List<FileAttempts.Brought> files,
            @Nullable Instant taken,
            FileAttempts.Keeper keeper,
            Instant now) {
        List<EventData> events = new ArrayList<>();
        RunState state = begun;
        state = told(state, List.of(new RunEvents.Imported(taken, files.size())), events);
        for (FileAttempts.Brought file : files) {
            state = told(state, FileAttempts.of(state, file, UuidV7.at(now), keeper), events);
        }
        return events;
    }

    private static RunState told(RunState state, List<EventData> more, List<EventData> events) {
        RunState next = state;
        java.util.UUID run = state.events().get(0).run();
        for (EventData data : more) {
            Event last = next.events().get(next.events().size() - 1);
            next = next.after(new Event(
                    UuidV7.now(), run, next.n() + 1, UNCHAINED, last.at(), Actor.process("told"), "told", data));
            events.add(data);
        }
        return next;
    }
}
