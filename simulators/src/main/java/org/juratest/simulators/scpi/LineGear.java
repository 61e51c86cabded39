package org.juratest.simulators.scpi;

/** Something that answers lines. Calls come one at a time. */
public interface LineGear {

    /**
     * Carries out one line.
     *
     * @param controller whether it comes from the connection that controls
     * @return the answer, each character a byte; empty for none
     */
    String line(String line, boolean controller);

    /** Whether its answers go out as they are; else a line feed follows each. */
    default boolean framed() {
        return false;
    }

    /** The controlling connection has gone. */
    void lost();

    /** Its line is closed for good: whatever runs in it ends. */
    default void closed() {
        // Most have nothing that runs.
    }
}
