package org.juratest.instruments;

import java.util.List;

/** The drivers of one family of assets; found by {@link java.util.ServiceLoader}. */
public interface DriverFamily {

    /** Drivers, each with an id that no other has. */
    List<DriverFactory> drivers();
}
