package org.juratest.core.family.fibre;

import org.juratest.core.port.Energising;

/** A camera for end faces; its output is its lamp, which is harmless and on by itself. */
public interface FaceCamera extends Energising {

    /**
     * What it sees.
     *
     * @param file PNG or JPEG, not copied
     * @param picture the same in shades of grey
     * @param scale um a pixel
     */
    record Seen(byte[] file, String mediaType, GreyPicture picture, double scale) {}

    /** Notes at which end of the link it looks. */
    void direction(boolean atFarEnd);

    /** Begins to take a picture. */
    void begin();

    /** Whether it is taken. */
    boolean isDone();

    /** The picture that is taken. */
    Seen seen();
}
