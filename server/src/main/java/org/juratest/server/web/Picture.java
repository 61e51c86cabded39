package org.juratest.server.web;

import java.awt.image.BufferedImage;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.util.Iterator;
import java.util.OptionalLong;
import javax.imageio.ImageIO;
import javax.imageio.ImageReader;
import javax.imageio.stream.ImageInputStream;
import net.coobird.thumbnailator.Thumbnails;

/**
 * Pictures as people send them. A small file can hold a picture that fills the memory, so its size is read before it
 * is.
 */
public final class Picture {

    /** The largest that is decoded, pixels. */
    public static final long MOST_PIXELS = 60_000_000;

    private Picture() {}

    /** Pixels of a picture by its head alone; empty if it cannot be read as one. */
    public static OptionalLong pixels(byte[] bytes) {
        try (ImageInputStream in = ImageIO.createImageInputStream(new ByteArrayInputStream(bytes))) {
            Iterator<ImageReader> readers = ImageIO.getImageReaders(in);
            if (!readers.hasNext()) {
                return OptionalLong.empty();
            }
            ImageReader reader = readers.next();
            try {
                reader.setInput(in, true, true);
                return OptionalLong.of((long) reader.getWidth(0) * reader.getHeight(0));
            } finally {
                reader.dispose();
            }
        } catch (IOException | RuntimeException e) {
            // Whatever the reader stumbled over, the file is not whole.
            return OptionalLong.empty();
        }
    }

    /** Whether a picture can be decoded within the memory it is given. */
    public static boolean isBearable(byte[] bytes) {
        OptionalLong pixels = pixels(bytes);
        return pixels.isPresent() && pixels.getAsLong() <= MOST_PIXELS;
    }

    /**
     * A small JPEG of a picture, turned as the camera said it was held.
     *
     * @param edge longest side, pixels
     * @throws IOException if it cannot be read as a picture
     */
    public static byte[] small(byte[] bytes, int edge) throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        Thumbnails.of(new ByteArrayInputStream(bytes))
                .size(edge, edge)
                .imageType(BufferedImage.TYPE_INT_RGB)
                .outputFormat("jpg")
                .outputQuality(0.82)
                .toOutputStream(out);
        return out.toByteArray();
    }
}
