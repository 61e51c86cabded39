package org.juratest.formats.wav;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.Arrays;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class WavTest {

    private static final Wav WAV = new Wav(48_000, new double[][] {{0, 0.5, -1, 0.999}, {0.25, -0.25, 0.125, 0}});

    @Test
    void whatIsWrittenReadsBack() {
        Wav floating = Wav.read(WAV.float32());
        assertEquals(48_000, floating.rate());
        for (int c = 0; c < 2; c++) {
            assertArrayEquals(WAV.channels()[c], floating.channels()[c], 1e-7);
            assertArrayEquals(WAV.channels()[c], Wav.read(WAV.pcm16()).channels()[c], 0.5 / 32768);
        }
        assertArrayEquals(
                new double[] {32767 / 32768.0, -1},
                Wav.read(new Wav(8000, new double[][] {{3, -3}}).pcm16()).channels()[0]);
        assertEquals(0, Wav.read(new Wav(8000, new double[1][0]).pcm16()).channels()[0].length);
    }

    /** A file by hand, so that the reader is not only tried on the writer. */
    private static byte[] file(int tag, int bits, boolean extensible, int... data) {
        int fmt = extensible ? 40 : 16;
        ByteBuffer out =
                ByteBuffer.allocate(12 + 8 + 5 + 1 + 8 + fmt + 8 + data.length).order(ByteOrder.LITTLE_ENDIAN);
        out.put("RIFF".getBytes())
                .putInt(out.capacity() - 8)
                .put("WAVELIST".getBytes())
                .putInt(5)
                .put("odd..".getBytes())
                .put((byte) 0);
        out.put("fmt ".getBytes())
                .putInt(fmt)
                .putShort((short) (extensible ? 0xFFFE : tag))
                .putShort((short) 1)
                .putInt(8000)
                .putInt(8000 * bits / 8)
                .putShort((short) (bits / 8))
                .putShort((short) bits);
        if (extensible) {
            out.putShort((short) 22)
                    .putShort((short) bits)
                    .putInt(4)
                    .putShort((short) tag)
                    .put(new byte[14]);
        }
        out.put("data".getBytes()).putInt(data.length);
        for (int b : data) {
            out.put((byte) b);
        }
        return out.array();
    }

    @Test
    void everyWidthHasItsFullScale() {
        assertArrayEquals(
                new double[] {-1, 0, 127 / 128.0},
                Wav.read(file(1, 8, false, 0, 128, 255)).channels()[0]);
        assertArrayEquals(
                new double[] {-1, 0.5},
                Wav.read(file(1, 16, false, 0, 0x80, 0, 0x40)).channels()[0]);
        assertArrayEquals(
                new double[] {-1, 0.5, -1 / 8388608.0},
                Wav.read(file(1, 24, true, 0, 0, 0x80, 0, 0, 0x40, 0xFF, 0xFF, 0xFF))
                        .channels()[0]);
        assertArrayEquals(
                new double[] {-1}, Wav.read(file(1, 32, false, 0, 0, 0, 0x80)).channels()[0]);
        assertArrayEquals(
                new double[] {1}, Wav.read(file(3, 32, true, 0, 0, 0x80, 0x3F)).channels()[0]);
        assertArrayEquals(
                new double[] {1},
                Wav.read(file(3, 64, false, 0, 0, 0, 0, 0, 0, 0xF0, 0x3F)).channels()[0]);
    }

    @ParameterizedTest
    @CsvSource({"0, 0, no WAVE", "34, 2, coded as 2", "36, 0, 0 channels", "48, 12, 12 bits"})
    void aByteAtFaultIsNamed(int at, int value, String words) {
        byte[] bad = file(1, 16, false, 0, 0);
        bad[at] = (byte) value;
        WavException refused = assertThrows(WavException.class, () -> Wav.read(bad));
        assertTrue(
                refused.getMessage().contains(words) && refused.getMessage().contains("byte " + at),
                refused.getMessage());
        assertEquals(at, refused.at());
    }

    @Test
    void aFileCutOffAnywhereIsRefusedAndNeverReadShort() {
        byte[] whole = file(1, 16, false, 1, 2, 3, 4);
        for (int length = 0; length < whole.length; length++) {
            byte[] cut = Arrays.copyOf(whole, length);
            assertThrows(WavException.class, () -> Wav.read(cut), "cut at " + length);
        }
        assertTrue(assertThrows(WavException.class, () -> Wav.read(file(1, 16, false, 1, 2, 3)))
                .getMessage()
                .contains("last sample is cut off"));
    }

    @Test
    void aSampleThatIsNoNumberIsNamed() {
        WavException refused =
                assertThrows(WavException.class, () -> Wav.read(file(3, 32, false, 0, 0, 0, 0, 0, 0, 0xC0, 0x7F)));
        assertTrue(refused.getMessage().contains("sample 1"), refused.getMessage());
        assertThrows(IllegalArgumentException.class, () -> new Wav(8000, new double[][] {{Double.NaN}}).pcm16());
        assertThrows(IllegalArgumentException.class, () -> new Wav(8000, new double[][] {{0}, {0, 0}}).float32());
        assertThrows(IllegalArgumentException.class, () -> new Wav(8000, new double[0][]).float32());
    }
}
