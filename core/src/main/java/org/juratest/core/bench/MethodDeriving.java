package org.juratest.core.bench;

import java.util.List;
import java.util.UUID;
import org.juratest.core.method.Computing;
import org.juratest.core.method.Method;
import org.juratest.core.method.Methods;
import org.juratest.core.procedure.Step;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.Deriving;
import org.juratest.core.run.EventData;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.Reading;
import org.juratest.core.run.RunState;

/** Derives by the methods there are. */
public final class MethodDeriving implements Deriving {

    private final Computing.Traces traces;

    /** @param traces that runs keep */
    public MethodDeriving(Computing.Traces traces) {
        this.traces = traces;
    }

    @Override
    public List<EventData> derive(RunState state, Step step, String lane, UUID attempt) {
        Method method = Methods.byName(String.valueOf(step.method())).orElse(null);
        if (!(method instanceof Computing computing)) {
            return List.of();
        }
        // Ids within this copy of the state name nothing outside it.
        Told told = new Told(state, () -> attempt, FileAttempts.NOTHING);
        told.append(new AttemptEvents.AttemptBegun(attempt, step.id(), lane, null, 1));
        int begun = told.events().size();
        Method.Result result;
        try {
            result = computing.compute(
                    new ResultWriter(told, attempt, step, lane, null, Reading.Source.DERIVED), traces);
        } catch (IllegalArgumentException | IllegalStateException e) {
            // What was captured does not go together; it is told on the attempt and stops nobody's work.
            told.events().subList(begun, told.events().size()).clear();
            result = new Method.Result(
                    Attempt.Outcome.CONNECTION_FAILED,
                    OutputEvents.OffReason.DONE,
                    "it cannot be computed: " + e.getMessage());
        }
        told.append(new AttemptEvents.AttemptClosed(attempt, result.outcome(), result.words()));
        return told.events();
    }
}
