package org.juratest.core.family.breakers;

import org.juratest.core.port.Energising;
import org.juratest.core.port.SetPoint;

/** Gives a relay the currents and the voltage of its transformers, and watches its contacts. */
public interface RelayTestSet extends Energising {

    /** A contact of the relay. */
    enum Contact {
        /** Closes as soon as an element sees more than its setting. */
        START,
        /** Closes after the time of the element. */
        TRIP
    }

    /**
     * What is injected.
     *
     * @param current A rms
     * @param degrees by which it leads the voltage
     * @param voltage V rms; 0 for none
     * @param other A rms, the current on the other side of what a differential element protects; 0 for none
     * @param otherDegrees by which that leads
     */
    record Injected(
            @SetPoint("current") double current,
            double degrees,
            @SetPoint("voltage") double voltage,
            @SetPoint("current") double other,
            double otherDegrees) {}

    /**
     * Where a contact closed on the way up and opened again on the way down.
     *
     * @param pickUp A; NaN where it did not close
     * @param dropOff A; NaN where it did not open again
     */
    record Ramp(double pickUp, double dropOff) {}

    /**
     * Prepares what is held until a contact closes; it then goes off by itself.
     *
     * @param seconds after which the gear switches off by itself
     */
    void prepareHeld(Injected what, Contact contact, @SetPoint("time") double seconds);

    /**
     * Prepares a current that grows in steps until the start contact closes, then falls in steps until it opens.
     *
     * @param from A
     * @param to A, at most
     * @param voltage V rms; 0 for none
     * @param step A
     * @param dwell s of each step
     * @param seconds after which the gear switches off by itself
     */
    void prepareRamp(
            @SetPoint("current") double from,
            @SetPoint("current") double to,
            @SetPoint("voltage") double voltage,
            double step,
            double dwell,
            @SetPoint("time") double seconds);

    /** What it gives now, or gave last; {@link CurrentSource.OffCause#TRIP} once the contact has closed. */
    CurrentSource.Injection read();

    /** What the last ramp found; the output is off. */
    Ramp ramp();
}
