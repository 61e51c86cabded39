package org.juratest.formats.picture;

import java.awt.image.BufferedImage;
import java.awt.image.Raster;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.util.Iterator;
import java.util.Locale;
import java.util.Set;
import javax.imageio.ImageIO;
import javax.imageio.ImageReader;
import javax.imageio.stream.ImageInputStream;
import javax.imageio.stream.MemoryCacheImageInputStream;

/**
 * A PNG or JPEG file in shades of grey. How many pixels it has is read before any of them are, so that no file,
 * whatever it says of itself, takes more than some 250 MiB.
 *
 * @param width pixels
 * @param height pixels
 * @param level row by row, 0 black to 1 white
 */
public record GreyFile(int width, int height, float[] level) {

    /** The most pixels that are decoded. */
    public static final int MOST_PIXELS = 12_000_000;
    /** The longest file that is looked at, bytes. */
    public static final int MOST_BYTES = 48 << 20;

    private static final Set<String> KINDS = Set.of("png", "jpeg");

    /** A file that is no picture, or none that is read. */
    public static final class PictureException extends IllegalArgumentException {
        private static final long serialVersionUID = 1;

        public PictureException(String message) {
            super(message);
        }
    }

    /** @throws PictureException in words, if it is no PNG or JPEG, is broken, or too large */
    public static GreyFile read(byte[] bytes) {
        if (bytes.length > MOST_BYTES) {
            throw tooLong(bytes.length);
        }
        try (ImageInputStream in = new MemoryCacheImageInputStream(new ByteArrayInputStream(bytes))) {
            Iterator<ImageReader> readers = ImageIO.getImageReaders(in);
            if (!readers.hasNext()) {
                throw new PictureException("it is no picture: PNG and JPEG are read");
            }
            ImageReader reader = readers.next();
            try {
                String kind = reader.getFormatName().toLowerCase(Locale.ROOT);
                if (!KINDS.contains(kind)) {
                    throw new PictureException("it is a picture of the kind " + kind + ": PNG and JPEG are read");
                }
                reader.setInput(in, true, true);
                return decoded(reader);
            } finally {
                reader.dispose();
            }
        } catch (IOException | RuntimeException e) {
            // Readers fail on broken files in many ways, each with an exception of its own.
            throw e instanceof PictureException known
                    ? known
                    : new PictureException("the picture is broken: "
                            + (e.getMessage() == null ? e.getClass().getSimpleName() : e.getMessage()));
        }
    }

    /** What is said of a file of more than {@link #MOST_BYTES}. */
    public static PictureException tooLong(long size) {
        return new PictureException("it has " + size + " bytes; a picture has at most " + MOST_BYTES);
    }

    private static GreyFile decoded(ImageReader reader) throws IOException {
        int width = reader.getWidth(0);
        int height = reader.getHeight(0);
        if ((long) width * height > MOST_PIXELS) {
            throw new PictureException("it has " + width + " x " + height + " pixels; at most "
                    + MOST_PIXELS / 1_000_000 + " million are read");
        }
        BufferedImage image = reader.read(0);
        float[] level = new float[width * height];
        if (image.getRaster().getNumBands() == 1
                && image.getType() != BufferedImage.TYPE_BYTE_INDEXED
                && image.getType() != BufferedImage.TYPE_BYTE_BINARY) {
            grey(image.getRaster(), level);
        } else {
            colour(image, level);
        }
        return new GreyFile(width, height, level);
    }

    /** Grey as it stands in the file: a colour model would bend its scale. */
    private static void grey(Raster raster, float[] level) {
        int bits = raster.getSampleModel().getSampleSize(0);
        float most = (1 << bits) - 1;
        int[] row = new int[raster.getWidth()];
        for (int y = 0; y < raster.getHeight(); y++) {
            raster.getSamples(0, y, raster.getWidth(), 1, 0, row);
            for (int x = 0; x < row.length; x++) {
                level[y * row.length + x] = row[x] / most;
            }
        }
    }

    /** Colours by their luma (ITU-R BT.601). */
    private static void colour(BufferedImage image, float[] level) {
        int width = image.getWidth();
        int[] row = new int[width];
        for (int y = 0; y < image.getHeight(); y++) {
            image.getRGB(0, y, width, 1, row, 0, width);
            for (int x = 0; x < width; x++) {
                int c = row[x];
                level[y * width + x] =
                        (0.299f * (c >> 16 & 0xff) + 0.587f * (c >> 8 & 0xff) + 0.114f * (c & 0xff)) / 255;
            }
        }
    }
}
