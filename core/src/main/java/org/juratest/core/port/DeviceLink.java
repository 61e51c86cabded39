package org.juratest.core.port;

import org.juratest.core.run.RunEvents;

/** A device that talks: it says who it is, and its settings can be read, changed within bounds, and put back. */
public interface DeviceLink extends Port {

    /** What the device says of itself. */
    RunEvents.DeviceIdentity device();

    /** A setting as it is now, with its bounds. */
    record Setting(int value, int lowest, int highest) {}

    /**
     * A setting by the name the device knows it by.
     *
     * @throws GearException if it has none of that name
     */
    Setting setting(String name);

    /**
     * Changes a setting; it is kept by the device until it is changed again.
     *
     * @throws GearException if it has none of that name, or not that value
     */
    void set(String name, int value);
}
