package org.juratest.core.method;

import java.util.Map;
import java.util.OptionalDouble;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.ReadingOrigin;
import org.juratest.core.run.References;
import org.juratest.core.trace.Trace;

/** Where the results of one attempt at a step and lane go, whether gear measured them now or a file brought them. */
public interface Results extends ReadingOrigin {

    Step step();

    String lane();

    /** Writes a reading, or that there is no value. */
    void keep(ReadingBuilder reading);

    /** A point has no value, though the connection is good: what it measures is not there. */
    void noValue(String point, String words);

    /**
     * A point has no value because what it takes to measure it is not given, such as enough of a load: that says
     * nothing of the device, and is not judged.
     */
    void notMeasurable(String point, String words);

    /**
     * A row of a feature was found. It is the row of earlier attempts whose key agrees with it, else a new one.
     *
     * @param feature its id in the step
     * @param at its key, of the dimension of the feature's
     * @param words beside it; null for none
     * @return ids of the points of its columns, by column
     * @throws IllegalStateException if more rows are found than there may be
     */
    Map<String, String> found(String feature, Quantity at, @Nullable String words);

    /** What was captured beside the readings. */
    default void trace(Trace trace) {
        trace(trace, Map.of());
    }

    /**
     * Likewise.
     *
     * @param facts what belongs to it, by name: what it was taken with
     */
    void trace(Trace trace, Map<String, String> facts);

    /**
     * What was heard.
     *
     * @param samples full scale 1
     * @param rate Hz
     */
    void sound(String name, double[] samples, double rate);

    /**
     * A picture or file.
     *
     * @param facts what belongs to it, by name
     */
    void capture(
            AttemptEvents.CaptureKind kind, String name, byte[] bytes, String mediaType, Map<String, String> facts);

    /**
     * What the step counts with of a reference, in the unit of the point; empty where it uses none that has the point.
     */
    default OptionalDouble reference(String point) {
        return References.value(state(), step(), lane(), point);
    }

    default PointKey key(String point) {
        return new PointKey(step().id(), point, lane());
    }
}
