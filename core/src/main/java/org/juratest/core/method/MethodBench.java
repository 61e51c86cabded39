package org.juratest.core.method;

import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.juratest.core.port.Port;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.ReadingOrigin;
import org.juratest.core.trace.Trace;

/** What a method works with: one step and lane of a run, its gear, and where its results go. */
public interface MethodBench extends ReadingOrigin {

    Step step();

    String lane();

    GearFacts gear();

    /**
     * The gear's port in the role the method needs.
     *
     * @throws IllegalStateException if the gear has another role
     */
    <T extends Port> T port(Class<T> role);

    StopSignal stop();

    /** The outcome of a connection check. */
    void connectionChecked(boolean good, String words, Map<String, Quantity> with);

    /**
     * Whether the connection was found good before in this run, on this lane and with this gear, and nothing of the
     * set-up was changed since: then it is the device where nothing comes now.
     */
    boolean provedBefore();

    /** Writes a reading, or that there is no value. */
    void keep(ReadingBuilder reading);

    /** A point has no value, though the connection is good: what it measures is not there. */
    void noValue(String point, String words);

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
    void trace(Trace trace);

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

    /** The voltage that is left after the output went off. */
    void discharged(Quantity residual);

    /** Settings of the device were changed: what is measured at these points from now on is as left. */
    void adjusted(List<PointKey> points, String what, List<AttemptEvents.SettingChange> settings);

    /** What is measured at this moment; shown, not stored. */
    void progress(Map<String, Quantity> values);

    /** What is measured at this moment, with traces of at most some hundred values to be drawn; shown, not stored. */
    void progress(Map<String, Quantity> values, List<Trace> picture);

    /** A parameter of the step in the base unit of its dimension; known, because arming refuses one that is not. */
    default double param(String name) {
        return Method.base(step().params(), name);
    }

    /** A greatest value of the step in the base unit of its dimension. */
    default double maximum(String name) {
        return Method.base(step().maxima(), name);
    }

    default PointKey key(String point) {
        return new PointKey(step().id(), point, lane());
    }
}
