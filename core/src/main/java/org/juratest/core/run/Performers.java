package org.juratest.core.run;

import java.util.LinkedHashSet;
import java.util.Set;

/**
 * Who performed the work of a run: who measured (armed what then went live), entered, inspected, made safe or adjusted
 * something. Pressing stop, taking the screen over, or a note is no work of the run.
 */
public final class Performers {

    private static final Set<Class<? extends EventData>> WORK = Set.of(
            StepEvents.HoldReleased.class,
            StepEvents.Restored.class,
            StepEvents.AnswerGiven.class,
            StepEvents.ConditionEntered.class,
            AttemptEvents.ReadingEntered.class,
            AttemptEvents.AdjustmentMade.class,
            OutputEvents.Earthed.class);

    private Performers() {}

    /** Sign-in names, in the order they began; who finished the run, where nobody did any work in it. */
    public static Set<String> of(RunState run) {
        Set<String> people = new LinkedHashSet<>();
        Actor arming = null;
        Actor finished = null;
        for (Event event : run.events()) {
            if (run.isWithdrawn(event.id())) {
                continue;
            }
            if (event.data() instanceof OutputEvents.Armed) {
                arming = event.by();
            } else if (event.data() instanceof OutputEvents.Energised && arming != null && arming.isPerson()) {
                people.add(arming.id());
            } else if (event.data() instanceof RunEvents.Finished) {
                finished = event.by();
            } else if (WORK.contains(event.data().getClass()) && event.by().isPerson()) {
                people.add(event.by().id());
            }
        }
        if (people.isEmpty() && finished != null) {
            people.add(finished.id());
        }
        return people;
    }
}
