package org.juratest.core.family.meters;

import org.juratest.core.port.SetPoint;

/** Injects a current into what hangs on a current transformer, with the transformer out of the loop. */
public interface BurdenSet extends MeterOutput {

    /**
     * @param amperes rms
     * @param seconds after which the gear switches off by itself
     */
    void prepare(@SetPoint("current") double amperes, @SetPoint("time") double seconds);
}
