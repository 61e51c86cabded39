package org.juratest.formats.run;

import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.EventData;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.RecordEvents;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.StepEvents;

/** The types of events this program knows, by name. */
final class EventTypes {

    private static final Map<String, Class<? extends EventData>> BY_NAME = List.<Class<? extends EventData>>of(
                    RunEvents.Opened.class,
                    RunEvents.ScopeSet.class,
                    RunEvents.ScreenTaken.class,
                    RunEvents.Interrupted.class,
                    RunEvents.Resumed.class,
                    RunEvents.AssetIdentified.class,
                    RunEvents.VariantApplied.class,
                    RunEvents.GearChosen.class,
                    RunEvents.Imported.class,
                    RunEvents.Aborted.class,
                    RunEvents.Finished.class,
                    RecordEvents.Signed.class,
                    RecordEvents.Reviewed.class,
                    RecordEvents.Amended.class,
                    RunEvents.Withdrawn.class,
                    StepEvents.StepBegun.class,
                    StepEvents.HoldReleased.class,
                    StepEvents.Restored.class,
                    StepEvents.AnswerGiven.class,
                    StepEvents.ConditionEntered.class,
                    StepEvents.StepSkipped.class,
                    StepEvents.WentOn.class,
                    StepEvents.CoolingOverruled.class,
                    StepEvents.Note.class,
                    StepEvents.Photo.class,
                    OutputEvents.Armed.class,
                    OutputEvents.Disarmed.class,
                    OutputEvents.Energised.class,
                    OutputEvents.Conducted.class,
                    OutputEvents.OutputOff.class,
                    OutputEvents.Discharged.class,
                    OutputEvents.Earthed.class,
                    OutputEvents.GearLost.class,
                    OutputEvents.GearBack.class,
                    AttemptEvents.AttemptBegun.class,
                    AttemptEvents.AttemptCarried.class,
                    AttemptEvents.ConnectionChecked.class,
                    AttemptEvents.ReadingTaken.class,
                    AttemptEvents.TraceTaken.class,
                    AttemptEvents.SoundTaken.class,
                    AttemptEvents.Captured.class,
                    AttemptEvents.FeatureFound.class,
                    AttemptEvents.NoValue.class,
                    AttemptEvents.AttemptSettled.class,
                    RunEvents.SetupMoved.class,
                    AttemptEvents.ReadingEntered.class,
                    AttemptEvents.AttemptClosed.class,
                    AttemptEvents.AttemptVoided.class,
                    AttemptEvents.AdjustmentMade.class,
                    AttemptEvents.LimitChanged.class,
                    AttemptEvents.ParamChanged.class,
                    AttemptEvents.BackToProcedure.class,
                    AttemptEvents.LimitResolved.class)
            .stream()
            .collect(Collectors.toUnmodifiableMap(EventTypes::name, Function.identity()));

    private EventTypes() {}

    private static String name(Class<?> type) {
        String name = type.getSimpleName();
        return Character.toLowerCase(name.charAt(0)) + name.substring(1);
    }

    /** The class of a type at version 1; null if there is none. */
    static @org.jspecify.annotations.Nullable Class<? extends EventData> of(String type, int version) {
        return version == 1 ? BY_NAME.get(type) : null;
    }
}
