package org.juratest.core.procedure;

/** A procedure cannot be carried out on a device, for what its nameplate says or leaves out. */
public final class UnfitDeviceException extends RuntimeException {
    UnfitDeviceException(String message) {
        super(message);
    }
}
