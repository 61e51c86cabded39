package org.juratest.core.family.fibre;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.juratest.core.method.Computing;
import org.juratest.core.method.Results;
import org.juratest.core.procedure.Step;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.RunState;

/** The traces of one fibre that a step computes with. */
final class Sides {

    private Sides() {}

    /** The newest trace that counts of every step it uses. */
    static List<FibreTraces.Taken> of(Results results, Computing.Traces traces) {
        List<FibreTraces.Taken> taken = new ArrayList<>();
        RunState state = results.state();
        for (String used : results.step().references()) {
            Step step = state.procedure().step(used).orElseThrow();
            Attempt newest = state.attempts(used, results.lane()).stream()
                    .filter(Attempt::counts)
                    .reduce((a, b) -> b)
                    .orElseThrow();
            AttemptEvents.Captured captured = state.captures().stream()
                    .filter(c ->
                            c.attempt().equals(newest.id()) && c.mediaType().equals(RunState.TRACE_TYPE))
                    .findFirst()
                    .orElseThrow(() -> new IllegalArgumentException("\"" + step.title() + "\" kept no trace"));
            taken.add(new FibreTraces.Taken(
                    KeptTrace.analysis(
                            traces.trace(captured.sha256())
                                    .orElseThrow(() -> new IllegalArgumentException(
                                            "the trace of \"" + step.title() + "\" is not there")),
                            captured.facts()),
                    Shots.isFar(step.at(results.lane()))));
        }
        return taken;
    }

    /** The route as a trace from the near end shows it; null where there is none, or no route. */
    static @Nullable LinkPlaces places(Results results, List<FibreTraces.Taken> taken) {
        return taken.stream()
                .filter(t -> !t.reversed())
                .findFirst()
                .map(t -> LinkPlaces.of(results.state().opened().asset().nameplate(), t.analysis(), false))
                .orElse(null);
    }
}
