package org.juratest.instruments.family.fibre;

import org.juratest.core.port.GearException;
import org.juratest.instruments.scpi.ScpiOutput;

/** What cameras for end faces have in common: at which end they look, how a picture is begun, how large a pixel is. */
abstract class ScpiCamera extends ScpiOutput {

    private static final double FINEST = 0.05;
    private static final double COARSEST = 10;

    ScpiCamera(String host, int port) {
        super(host, port);
    }

    public void direction(boolean atFarEnd) {
        connection().command("ROUT:DIR " + (atFarEnd ? "FAR" : "NEAR"));
    }

    public void begin() {
        connection().command("INIT");
    }

    public boolean isDone() {
        return connection().numbers("INIT:DONE?", 1)[0] == 1;
    }

    /** um a pixel, 0.05 to 10. */
    final double scale() {
        double scale = connection().numbers("SENS:SCAL?", 1)[0];
        if (!(scale >= FINEST && scale <= COARSEST)) {
            throw new GearException(GearException.Fault.GARBLED, "it says that a pixel is " + scale + " um");
        }
        return scale;
    }
}
