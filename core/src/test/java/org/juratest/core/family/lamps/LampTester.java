package org.juratest.core.family.lamps;

import org.juratest.core.port.Energising;
import org.juratest.core.port.SetPoint;

/** Feeds a signal lamp and looks at it. */
public interface LampTester extends Energising {

    /** Sets the voltage that the lamp is fed with, V. */
    void prepare(@SetPoint("lamp voltage") double volts);

    /** Illuminance in front of the lamp, lx; of whatever else shines where it is off. */
    double illuminance();

    /** Current the lamp draws, A. */
    double current();

    /**
     * What its camera sees of the front glass.
     *
     * @param grey 0 to 255, row by row; every value once
     * @param width pixels of a row
     * @param millimetres edge of a pixel on the glass, mm
     */
    record Seen(int[] grey, int width, double millimetres) {
        public Seen {
            grey = grey.clone();
        }

        @Override
        public int[] grey() {
            return grey.clone();
        }
    }

    /** Takes a picture. */
    Seen look();
}
