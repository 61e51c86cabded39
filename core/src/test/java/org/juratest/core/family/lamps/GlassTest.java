package org.juratest.core.family.lamps;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.List;
import org.junit.jupiter.api.Test;

class GlassTest {

    @Test
    void aSpotIsFoundWhereItIsAndHowLargeItIs() {
        int width = 100;
        int[] grey = new int[width * width];
        for (int n = 0; n < grey.length; n++) {
            double x = n % width - 49.5;
            double y = n / width - 49.5;
            boolean lit = Math.hypot(x, y) < 42;
            // One to the right of the middle, three o'clock: 5 pixels in radius; a speck of two pixels elsewhere.
            boolean spot = Math.hypot(x - 20, y) < 5 || y == 10.5 && (x == -5.5 || x == -4.5);
            grey[n] = lit ? spot ? 10 : 200 : 5;
        }
        List<Glass.Spot> spots = Glass.spots(new LampTester.Seen(grey, width, 0.5));
        assertEquals(1, spots.size(), spots.toString());
        assertEquals(10 * Math.PI / 2, spots.get(0).angle(), 0.3);
        assertEquals(5, spots.get(0).size(), 0.2, "10 pixels of half a millimetre");
        assertEquals(0.7, spots.get(0).x(), 0.01);
        assertEquals(0.5, spots.get(0).y(), 0.01);
    }
}
