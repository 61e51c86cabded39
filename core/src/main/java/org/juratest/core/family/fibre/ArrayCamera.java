package org.juratest.core.family.fibre;

import java.util.List;
import org.juratest.core.port.Energising;

/** A camera for the end faces of multi-fibre ferrules, which takes them in one picture or in several side by side. */
public interface ArrayCamera extends Energising {

    /**
     * A picture of a part of the ferrule.
     *
     * @param file PNG, not copied
     * @param picture the same in shades of grey
     * @param x across of its left edge from that of the first picture, um
     * @param y down of its upper edge likewise, um
     */
    record Piece(byte[] file, GreyPicture picture, double x, double y) {}

    /**
     * What it took.
     *
     * @param scale um a pixel
     */
    record Seen(List<Piece> pieces, double scale) {
        public Seen {
            pieces = List.copyOf(pieces);
        }
    }

    /** Notes at which end of the cable it looks. */
    void direction(boolean atFarEnd);

    /** Begins to look at one fibre, to be told how sharp it is. */
    void look();

    /** Whether it still does. */
    boolean isLooking();

    /** What it saw of that fibre, small. */
    Seen preview();

    /** Begins to take all pictures. */
    void begin();

    /** Whether they are taken. */
    boolean isDone();

    /** What was taken. */
    Seen seen();

    /** A picture as a file that people can open (PNG). */
    byte[] file(GreyPicture picture);
}
