package org.juratest.instruments.line;

import org.juratest.core.port.GearException;

/** Gear serves one controller at a time, and may not have seen yet that the one before us has hung up. */
public final class Handover {

    private static final int TRIES = 10;
    private static final long MILLIS = 50;

    private Handover() {}

    /**
     * Gives a first command, again where it is refused.
     *
     * @param command switches nothing on
     * @throws GearException what it answered last, within half a second
     */
    public static void patiently(Runnable command) {
        for (int tries = 1; ; tries++) {
            try {
                command.run();
                return;
            } catch (GearException e) {
                if (e.fault() != GearException.Fault.REFUSED || tries == TRIES) {
                    throw e;
                }
                pause();
            }
        }
    }

    private static void pause() {
        try {
            Thread.sleep(MILLIS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new GearException(GearException.Fault.LOST, "the program is stopping", e);
        }
    }
}
