package org.juratest.core.bench;

import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.method.FileMethod;
import org.juratest.core.method.Filed;
import org.juratest.core.method.Method;
import org.juratest.core.procedure.Step;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.EventData;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.Reading;
import org.juratest.core.run.RunState;
import org.juratest.core.trace.Trace;

/** Makes attempts of files: what a method reads of them, with the files as they came. */
public final class FileAttempts {

    private FileAttempts() {}

    /** Keeps what belongs to the attempts; gives the SHA-256 it is named by. */
    public interface Keeper {
        String keep(Trace trace);

        String keep(byte[] bytes, String mediaType);
    }

    /** For what keeps nothing. */
    static final Keeper NOTHING = new Keeper() {
        @Override
        public String keep(Trace trace) {
            throw new UnsupportedOperationException("what is computed keeps no trace");
        }

        @Override
        public String keep(byte[] bytes, String mediaType) {
            throw new UnsupportedOperationException("what is computed keeps no bytes");
        }
    };

    /**
     * A file to be read.
     *
     * @param step on its lane
     * @param gear that took it, if it is known here
     * @param bytes as they came
     */
    public record Brought(
            String name,
            byte[] bytes,
            String mediaType,
            Filed filed,
            Step step,
            String lane,
            @Nullable GearFacts gear) {}

    /**
     * The events of the attempt that a file makes, from begun to closed.
     *
     * @throws IllegalArgumentException if the step's method takes no files
     */
    public static List<EventData> of(RunState state, Brought file, UUID attempt, Keeper keeper) {
        Step step = file.step();
        Method method = org.juratest.core.method.Methods.byName(String.valueOf(step.method()))
                .orElse(null);
        if (!(method instanceof FileMethod reading)) {
            throw new IllegalArgumentException("\"" + step.title() + "\" takes no files");
        }
        Told told = new Told(state, () -> attempt, keeper);
        told.append(new AttemptEvents.AttemptBegun(attempt, step.id(), file.lane(), null, 1));
        Map<String, String> facts = new TreeMap<>(file.filed().facts());
        facts.values().removeIf(String::isEmpty);
        facts.put("format", file.filed().format());
        if (file.filed().taken() != null) {
            facts.put("taken", file.filed().taken().toString());
        }
        if (file.filed().gear() != null) {
            facts.put("gear", file.filed().gear());
        }
        if (file.filed().serial() != null) {
            facts.put("serial", file.filed().serial());
        }
        told.append(new AttemptEvents.Captured(
                attempt,
                AttemptEvents.CaptureKind.FILE,
                file.name(),
                keeper.keep(file.bytes(), file.mediaType()),
                file.mediaType(),
                facts));
        int captured = told.events().size();
        Method.Result result;
        try {
            result = reading.read(
                    new ResultWriter(told, attempt, step, file.lane(), file.gear(), Reading.Source.IMPORTED),
                    file.filed());
        } catch (IllegalArgumentException | IllegalStateException e) {
            // One file that makes no sense, or more rows than there may be, is told on its attempt; the others go on.
            told.events().subList(captured, told.events().size()).clear();
            result = new Method.Result(
                    Attempt.Outcome.CONNECTION_FAILED,
                    OutputEvents.OffReason.DONE,
                    "it cannot be analysed: " + e.getMessage());
        }
        told.append(new AttemptEvents.AttemptClosed(attempt, result.outcome(), result.words()));
        return told.events();
    }
}
