package org.juratest.instruments.family.fibre;

import java.awt.image.BufferedImage;
import java.awt.image.Raster;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import javax.imageio.ImageIO;
import javax.imageio.ImageReader;
import javax.imageio.stream.ImageInputStream;
import javax.imageio.stream.MemoryCacheImageInputStream;
import org.juratest.core.family.fibre.GreyPicture;
import org.juratest.core.port.GearException;

/** Pictures of cameras, as PNG. */
final class PngPicture {

    private static final long MOST_PIXELS = 12_000_000;

    private PngPicture() {}

    /** Its size is read before its pixels are: gear is not trusted with our memory. */
    static GreyPicture decoded(byte[] png) {
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

    /** A picture as a file, 8 bits a pixel. */
    static byte[] encoded(GreyPicture picture) {
        BufferedImage image = new BufferedImage(picture.width(), picture.height(), BufferedImage.TYPE_BYTE_GRAY);
        int[] row = new int[picture.width()];
        for (int y = 0; y < picture.height(); y++) {
            for (int x = 0; x < row.length; x++) {
                row[x] = Math.round(255 * picture.level()[y * row.length + x]);
            }
            image.getRaster().setSamples(0, y, row.length, 1, 0, row);
        }
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try {
            ImageIO.write(image, "png", out);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return out.toByteArray();
    }
}
