package org.juratest.core.family.radios;

import org.juratest.core.port.DeviceLink;
import org.juratest.core.port.Energising;
import org.juratest.core.port.SetPoint;

/**
 * A radio over its data port, in its test mode. {@link #outputOn} keys the transmitter, {@link #makeSafe} lets it go;
 * what it is fed by {@link #feedWatchdog} is its time-out.
 */
public interface RadioControl extends DeviceLink, Energising {

    /** How it modulates. */
    enum Mode {
        FM,
        FSK4
    }

    /**
     * Sets its channel.
     *
     * @param hertz carrier, Hz
     * @param spacing to the next channel, Hz
     */
    void channel(@SetPoint("carrier") double hertz, Mode mode, double spacing);

    /** High or low power. */
    void highPower(boolean high);

    /** Sub-audible tone it sends, Hz; 0 for none. */
    void subTone(double hertz);

    /** Whether its squelch is held open; otherwise it works as set. */
    void holdSquelchOpen(boolean open);

    /** Whether its squelch is open now. */
    boolean squelchIsOpen();

    /** Bits it receives now and then, as it decided them: so many in a row. */
    boolean[] received(int count);

    /** Battery, 0 to 1; 1 for a radio on a supply. */
    double battery();
}
