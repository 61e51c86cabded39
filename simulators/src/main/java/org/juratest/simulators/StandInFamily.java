package org.juratest.simulators;

import java.io.IOException;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.fleet.FleetGenerator;
import org.juratest.simulators.fleet.FleetPart;
import org.juratest.simulators.fleet.Ground;
import org.juratest.simulators.scpi.ScpiServer;

/** The stand-ins of one family, with what is behind them; found by {@link java.util.ServiceLoader}. */
public interface StandInFamily extends FleetGenerator.Bringer {

    @Override
    default FleetPart part(Ground ground) {
        return FleetPart.NONE;
    }

    /** Roles of the gear it plays; each listens at a port of its own. */
    List<String> roles();

    /**
     * Begins to listen.
     *
     * @param changed called when something in the fleet was changed by what was done over the lines
     */
    Running start(Fleet fleet, Ports ports, StandInLog log, Runnable changed) throws IOException;

    /** Stand-ins that listen. */
    interface Running extends AutoCloseable {

        /** Lines by the names they have at the control port and in the log. */
        Map<String, ScpiServer> lines();

        /** How much faster than the clock their time runs. */
        void factor(double factor);

        /** Presses the emergency stop of all of them, or lets it go. */
        void emergency(boolean pressed);

        /** Commands it knows at the control port, for its help. */
        List<String> commands();

        /**
         * Does what a command of the control port says.
         *
         * @throws IllegalArgumentException with what is wrong with its words
         */
        Effect command(String[] words);

        /**
         * What stand-alone gear shows that nobody can ask over a line.
         *
         * @param role of that gear
         * @param label what it is connected to
         * @param temperature of the device, degC
         * @return in the base unit of what it measures; null where it is no gear or device of this family
         */
        default @Nullable Double shows(String role, String label, double temperature) {
            return null;
        }

        /**
         * Somebody repairs a device by hand.
         *
         * @return what was done, in words; null where it is no device of this family
         */
        default @Nullable String repaired(String label) {
            return null;
        }

        /** The fleet as it is by now. */
        Fleet now(Fleet fleet);

        @Override
        void close() throws IOException;
    }

    /** What a command did. */
    enum Effect {
        /** It is a command of somebody else. */
        NOT_OURS,
        DONE,
        /** The fleet is another one now, and is to be kept. */
        CHANGED
    }
}
