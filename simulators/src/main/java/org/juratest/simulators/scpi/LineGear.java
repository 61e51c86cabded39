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

    /** The controlling connection has gone. */
    void lost();
}
