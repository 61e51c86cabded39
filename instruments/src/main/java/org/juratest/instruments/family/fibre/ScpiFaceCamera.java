package org.juratest.instruments.family.fibre;

import org.juratest.core.family.fibre.FaceCamera;

/** A camera for end faces that speaks SCPI over TCP; a picture comes as a definite-length block. */
public final class ScpiFaceCamera extends ScpiCamera implements FaceCamera {

    public ScpiFaceCamera(String host, int port) {
        super(host, port);
    }

    @Override
    public Seen seen() {
        double scale = scale();
        byte[] picture = connection().block("FETC:IMAG?");
        return new Seen(picture, "image/png", PngPicture.decoded(picture), scale);
    }
}
