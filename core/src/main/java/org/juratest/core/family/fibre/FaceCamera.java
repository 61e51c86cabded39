package org.juratest.core.family.fibre;

import org.juratest.core.port.Energising;

/** A camera for end faces; its output is its lamp, which is harmless and on by itself. */
public interface FaceCamera extends Energising {

    /**
     * What it sees.
     *
     * @param picture PNG or JPEG, not copied
     * @param scale um a pixel
     */
    record Seen(byte[] picture, double scale) {}

    /** Begins to take a picture. */
    void begin();

    /** Whether it is taken. */
    boolean isDone();

    /** The picture that is taken. */
    Seen seen();
}
