package org.juratest.formats;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.Arrays;
import org.junit.jupiter.api.Test;
import org.juratest.core.quantity.Unit;
import org.juratest.core.quantity.UnitMismatchException;
import org.juratest.core.trace.Trace;
import org.juratest.formats.trace.TraceBytes;

class TraceBytesTest {

    private static final Trace RAMP =
            new Trace("Strom µ", Unit.SECOND, Unit.AMPERE, new double[] {0, 1, 3}, new double[] {10, 20, 60});

    @Test
    void writesWhatItReads() {
        byte[] bytes = TraceBytes.write(RAMP);
        Trace read = TraceBytes.read(bytes);
        assertEquals("Strom µ", read.name());
        assertArrayEquals(RAMP.x(), read.x());
        assertArrayEquals(RAMP.y(), read.y());
        assertArrayEquals(bytes, TraceBytes.write(read));
    }

    @Test
    void aCutOrForeignFileNamesTheByte() {
        byte[] bytes = TraceBytes.write(RAMP);
        for (int length = 0; length < bytes.length; length++) {
            byte[] cut = Arrays.copyOf(bytes, length);
            assertTrue(
                    assertThrows(IllegalArgumentException.class, () -> TraceBytes.read(cut))
                            .getMessage()
                            .startsWith("byte "),
                    "cut to " + length);
        }
        byte[] png = {(byte) 0x89, 'P', 'N', 'G'};
        assertEquals(
                "byte 0: these bytes do not begin as a trace does",
                assertThrows(IllegalArgumentException.class, () -> TraceBytes.read(png))
                        .getMessage());
    }

    @Test
    void isKnownOnlyWhereItWasMeasured() {
        assertEquals(40, RAMP.at(2), 1e-12);
        assertEquals(60, RAMP.at(3));
        for (double outside : new double[] {-0.1, 3.1, Double.NaN, Double.POSITIVE_INFINITY}) {
            assertTrue(Double.isNaN(RAMP.at(outside)), "at " + outside);
        }
        Trace later = new Trace(
                "", Unit.MILLISECOND, Unit.KILOAMPERE, new double[] {500, 2000, 9000}, new double[] {0.016, 0.05, 1});
        double[] difference = later.minus(RAMP);
        assertArrayEquals(new double[] {0.001, 0.010, Double.NaN}, difference, 1e-12);
        assertThrows(
                UnitMismatchException.class,
                () -> RAMP.minus(new Trace("", Unit.SECOND, Unit.VOLT, new double[] {0}, new double[] {0})));
    }

    @Test
    void whatIsNoTraceIsRefused() {
        double[][][] wrong = {
            {{}, {}},
            {{0, 1}, {0}},
            {{0, 0}, {1, 1}},
            {{1, 0}, {1, 1}},
            {{0, Double.NaN}, {1, 1}},
            {{0}, {Double.NaN}},
            {{0}, {Double.NEGATIVE_INFINITY}}
        };
        for (double[][] w : wrong) {
            assertThrows(
                    IllegalArgumentException.class,
                    () -> new Trace("", Unit.SECOND, Unit.AMPERE, w[0], w[1]),
                    Arrays.deepToString(w));
        }
    }
}
