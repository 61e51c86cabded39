package org.juratest.core.family.fibre;

import java.util.List;
import org.juratest.core.port.Energising;

/**
 * A light source and an integrating detector with a switch before them, which also sees what comes back. Its sources
 * are of class 1 (IEC 60825-1) and on by themselves: nothing of it can hurt.
 */
public interface LossTester extends Energising {

    /**
     * What reflects most.
     *
     * @param distance from the front, m
     * @param level of what comes back, dB below what is sent, negative
     */
    record Echo(double distance, double level) {}

    /** Wavelengths it has, m, ascending. */
    List<Double> wavelengths();

    /** How its light is launched, in words: for multimode the encircled flux it keeps to. */
    String launch();

    /** Notes at which end of a link the source is. */
    void direction(boolean fromFarEnd);

    /**
     * Switches the source to a channel.
     *
     * @param channel from 1
     * @param wavelength m
     * @param reference whether a reference is taken: cords alone are connected, and their end is open
     */
    void select(int channel, double wavelength, boolean reference);

    /** Light at the detector, averaged, dBm; what it cannot see is far below any loss. */
    double power();

    /** What reflects most on the channel: the open end, if nothing is connected. */
    Echo echo();

    /**
     * What comes back from a distance on, as long as the connectors of a cable reach.
     *
     * @param distance m
     * @return dB below what is sent, negative
     */
    double reflected(double distance);
}
