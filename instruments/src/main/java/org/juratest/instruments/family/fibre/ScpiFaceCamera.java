package org.juratest.instruments.family.fibre;

import org.juratest.core.family.fibre.FaceCamera;
import org.juratest.core.port.GearException;
import org.juratest.instruments.scpi.ScpiOutput;

/** A camera for end faces that speaks SCPI over TCP; a picture comes as a definite-length block. */
public final class ScpiFaceCamera extends ScpiOutput implements FaceCamera {

    public ScpiFaceCamera(String host, int port) {
        super(host, port);
    }

    @Override
    public void begin() {
        connection().command("INIT");
    }

    @Override
    public boolean isDone() {
        return connection().numbers("INIT:DONE?", 1)[0] == 1;
    }

    @Override
    public Seen seen() {
        double scale = connection().numbers("SENS:SCAL?", 1)[0];
        byte[] picture = connection().block("FETC:IMAG?");
        if (picture.length == 0 || !(scale > 0 && scale < 100)) {
            throw new GearException(
                    GearException.Fault.GARBLED,
                    "its picture has " + picture.length + " bytes, and a pixel " + scale + " um");
        }
        return new Seen(picture, scale);
    }
}
