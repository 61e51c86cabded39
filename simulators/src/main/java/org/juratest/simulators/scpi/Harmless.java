package org.juratest.simulators.scpi;

import org.juratest.simulators.StandInLog;

/** Gear whose output is a lamp or nothing: it is on by itself, and nothing runs out. */
public abstract class Harmless extends Watched {

    protected Harmless(String name, String identity, StandInLog log) {
        super(name, identity, log);
    }

    @Override
    protected final void started() {
        // Nothing goes on.
    }

    @Override
    protected final void ended() {
        // Nothing goes off.
    }

    @Override
    protected final void running() {
        // Nothing runs out.
    }
}
