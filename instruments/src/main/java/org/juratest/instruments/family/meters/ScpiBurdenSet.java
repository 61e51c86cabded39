package org.juratest.instruments.family.meters;

import org.juratest.core.family.meters.BurdenSet;

/** A set that injects into the burden of a transformer and speaks SCPI over TCP. */
public final class ScpiBurdenSet extends ScpiMeterGear implements BurdenSet {

    public ScpiBurdenSet(String host, int port) {
        super(host, port);
    }

    @Override
    public void prepare(double amperes, double seconds) {
        set("SOUR:CURR", amperes);
        set("SOUR:TIME:LIM", seconds);
    }

    @Override
    public Given given() {
        return fetched();
    }
}
