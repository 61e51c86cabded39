package org.juratest.core.family.fibre;

import java.util.List;
import org.juratest.core.port.Energising;
import org.juratest.core.port.SetPoint;

/** A reflectometer: its output is its laser. */
public interface Reflectometer extends Energising {

    /** Wavelengths it has, m, ascending. */
    List<Double> wavelengths();

    /** Those of them that are filtered, so that they may be used beside traffic, m; none where it has no filter. */
    List<Double> besideTraffic();

    /** Level of the backscatter at a good connection, dB on the scale of its traces. */
    double frontLevel();

    /** Length of its launch lead, m. */
    double lead();

    /** Notes from which end of the link it is used; traces are named by it. */
    void direction(boolean fromFarEnd);

    /** Light that comes in while the laser is off, dBm. */
    double light();

    /**
     * Sets what the next trace is taken with, while the laser is off.
     *
     * @param wavelength m
     * @param pulse s
     * @param range of the trace, m
     */
    void prepare(@SetPoint("wavelength") double wavelength, @SetPoint("pulse") double pulse, double range);

    /**
     * Begins a trace; the laser is on.
     *
     * @param seconds of averaging
     */
    void begin(@SetPoint(value = "averaging", first = false) double seconds);

    /** Whether the trace that was begun is done. */
    boolean isDone();

    /** The trace that is done, with positions from the front of the instrument. */
    OtdrTrace trace();
}
