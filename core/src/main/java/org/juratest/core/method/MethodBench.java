package org.juratest.core.method;

import java.util.List;
import java.util.Map;
import org.juratest.core.port.Port;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.GearFacts;
import org.juratest.core.trace.Trace;

/** What a method works with: one step and lane of a run, its gear, and where its results go. */
public interface MethodBench extends Results {

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
}
