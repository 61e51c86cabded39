package org.juratest.instruments.family.fibre;

import java.util.ArrayList;
import java.util.List;
import org.juratest.core.family.fibre.ArrayCamera;
import org.juratest.core.family.fibre.GreyPicture;
import org.juratest.core.port.GearException;

/** A camera for multi-fibre end faces that speaks SCPI over TCP; pictures come as definite-length blocks of PNG. */
public final class ScpiArrayCamera extends ScpiCamera implements ArrayCamera {

    private static final int MOST_PIECES = 8;

    public ScpiArrayCamera(String host, int port) {
        super(host, port);
    }

    @Override
    public boolean isLooking() {
        return connection().numbers("INIT:PREV:DONE?", 1)[0] == 0;
    }

    @Override
    public void look() {
        connection().command("INIT:PREV");
    }

    @Override
    public Seen preview() {
        byte[] png = connection().block("FETC:PREV?");
        return new Seen(List.of(new Piece(png, PngPicture.decoded(png), 0, 0)), scale());
    }

    @Override
    public Seen seen() {
        int count = (int) connection().numbers("SENS:PIEC?", 1)[0];
        if (count < 1 || count > MOST_PIECES) {
            throw new GearException(GearException.Fault.GARBLED, "it says that it took " + count + " pictures");
        }
        List<Piece> pieces = new ArrayList<>();
        for (int n = 1; n <= count; n++) {
            connection().command("SENS:PIEC:SEL " + n);
            double[] place = connection().numbers("SENS:PIEC:PLAC?", 2);
            byte[] png = connection().block("FETC:IMAG?");
            pieces.add(new Piece(png, PngPicture.decoded(png), place[0], place[1]));
        }
        return new Seen(pieces, scale());
    }

    @Override
    public byte[] file(GreyPicture picture) {
        return PngPicture.encoded(picture);
    }
}
