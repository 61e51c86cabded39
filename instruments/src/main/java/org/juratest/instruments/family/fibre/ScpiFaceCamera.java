package org.juratest.instruments.family.fibre;

import java.awt.image.Raster;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import javax.imageio.ImageIO;
import javax.imageio.ImageReader;
import javax.imageio.stream.ImageInputStream;
import javax.imageio.stream.MemoryCacheImageInputStream;
import org.juratest.core.family.fibre.FaceCamera;
import org.juratest.core.family.fibre.GreyPicture;
import org.juratest.core.port.GearException;
import org.juratest.instruments.scpi.ScpiOutput;

/** A camera for end faces that speaks SCPI over TCP; a picture comes as a definite-length block. */
public final class ScpiFaceCamera extends ScpiOutput implements FaceCamera {

    private static final long MOST_PIXELS = 8_000_000;

    public ScpiFaceCamera(String host, int port) {
        super(host, port);
    }

    @Override
    public void direction(boolean atFarEnd) {
        connection().command("ROUT:DIR " + (atFarEnd ? "FAR" : "NEAR"));
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
        if (!(scale > 0 && scale < 100)) {
            throw new GearException(GearException.Fault.GARBLED, "it says that a pixel is " + scale + " um");
        }
        return new Seen(picture, "image/png", decoded(picture), scale);
    }

    /** Its size is read before its pixels are: gear is not trusted with our memory. */
    private static GreyPicture decoded(byte[] png) {
        ImageReader reader = ImageIO.getImageReadersByFormatName("png").next();
        try (ImageInputStream in = new MemoryCacheImageInputStream(new ByteArrayInputStream(png))) {
            reader.setInput(in, true, true);
            int width = reader.getWidth(0);
            int height = reader.getHeight(0);
            if ((long) width * height > MOST_PIXELS) {
                throw garbled(width + " x " + height + " pixels");
            }
            Raster raster = reader.read(0).getRaster();
            float[] level = new float[width * height];
            int[] row = new int[width];
            float most = (1 << raster.getSampleModel().getSampleSize(0)) - 1;
            for (int y = 0; y < height; y++) {
                raster.getSamples(0, y, width, 1, 0, row);
                for (int x = 0; x < width; x++) {
                    level[y * width + x] = row[x] / most;
                }
            }
            return new GreyPicture(width, height, level);
        } catch (IOException | IllegalArgumentException | IndexOutOfBoundsException e) {
            throw garbled(String.valueOf(e.getMessage()));
        } finally {
            reader.dispose();
        }
    }

    private static GearException garbled(String why) {
        return new GearException(GearException.Fault.GARBLED, "its picture cannot be read: " + why);
    }
}
