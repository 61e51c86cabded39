package org.juratest.formats.comtrade;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.time.LocalDateTime;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;
import org.juratest.formats.comtrade.Comtrade.Analog;
import org.juratest.formats.comtrade.Comtrade.Form;
import org.juratest.formats.comtrade.Comtrade.Rate;
import org.juratest.formats.comtrade.Comtrade.Status;

class ComtradeTest {

    private static final String CONFIGURATION =
            """
            Montfrel,REC-4,1999
            4,2A,2D
            1,IA,A,Feeder 2,A,0.5,-1,0,-32767,32767,200,1,S
            2,UA,A,Feeder 2,kV,0.01,0,3.5,-32767,32767,100,1,P
            1,Trip,A,Pole A,0
            2,Spring charged,,Drive,1
            50
            2
            1000,3
            500,5
            07/03/2026,14:05:09.250000
            07/03/2026,14:05:09.252000
            %s
            1
            """;

    private static byte[] bytes(String text) {
        return text.getBytes(StandardCharsets.UTF_8);
    }

    private static Comtrade read(String configuration, String data) {
        return ComtradeReader.read(bytes(configuration), bytes(data));
    }

    private static final String TEXT =
            """
            1,0,100,1500,0,1
            2,1000,-100,1510,0,1
            3,2000,99999,1520,1,1
            4,4000,0,1530,1,0
            5,6000,2,,1,0
            """;

    @Test
    void textIsReadWithItsScaleItsRatesAndItsContacts() {
        Comtrade r = read(CONFIGURATION.formatted("ASCII"), TEXT);
        assertEquals("Montfrel", r.station());
        assertEquals("REC-4", r.device());
        assertEquals(LocalDateTime.of(2026, 3, 7, 14, 5, 9, 250_000_000), r.start());
        assertEquals(LocalDateTime.of(2026, 3, 7, 14, 5, 9, 252_000_000), r.trigger());
        assertEquals(50, r.lineFrequency());
        assertArrayEquals(new double[] {49, -51, Double.NaN, -1, 0}, r.values()[0], 1e-12);
        assertArrayEquals(new double[] {15, 15.1, 15.2, 15.3, Double.NaN}, r.values()[1], 1e-12);
        assertEquals(9800, r.primary(0)[0], 1e-9, "49 A behind 200 to 1");
        assertEquals(15, r.primary(1)[0], 1e-12, "primary already");
        // Three samples at 1 kHz, two at 500 Hz.
        assertArrayEquals(new double[] {0, 0.001, 0.002, 0.004, 0.006}, r.time(), 1e-12);
        assertEquals("{2, 3, 4}", r.states().get(0).toString());
        assertEquals("{0, 1, 2}", r.states().get(1).toString());
        assertTrue(r.statuses().get(1).normal());
        assertNull(r.clock());
    }

    @Test
    void binaryIsReadByItsWordsWithBitsFromTheLowest() {
        ByteBuffer data = ByteBuffer.allocate(5 * 14).order(ByteOrder.LITTLE_ENDIAN);
        int[][] samples = {{100, 1500, 2}, {-100, 1510, 2}, {-32768, 1520, 3}, {0, 1530, 1}, {2, -32768, 1}};
        for (int i = 0; i < samples.length; i++) {
            data.putInt(i + 1).putInt(-1);
            for (int word : samples[i]) {
                data.putShort((short) word);
            }
        }
        Comtrade r = ComtradeReader.read(bytes(CONFIGURATION.formatted("BINARY")), data.array());
        Comtrade text = read(CONFIGURATION.formatted("ASCII"), TEXT);
        assertArrayEquals(text.values()[0], r.values()[0]);
        assertArrayEquals(text.values()[1], r.values()[1]);
        assertArrayEquals(text.time(), r.time());
        assertEquals(text.states(), r.states());
    }

    @Test
    void theEditionOf1991HasMonthsFirstAndFewerFields() {
        Comtrade r = read(
                """
                Pravelle,7
                2,1A,1D
                1,I,A,,A,2,0,0,-9999,9999
                1,Open,0
                60
                1
                4000,2
                3/7/94,1:02:03.5
                3/7/94,1:02:03.500250
                ascii
                """,
                "1,0,5,0\n2,250,6,1\n\u001a\n");
        assertEquals(1991, r.year());
        assertEquals(LocalDateTime.of(1994, 3, 7, 1, 2, 3, 500_000_000), r.start());
        assertArrayEquals(new double[] {10, 12}, r.values()[0]);
        assertEquals(0.00025, r.time()[1], 1e-12);
    }

    @Test
    void withoutRatesEachSampleHasItsTimeInNanosecondsWhereTheStampHasThem() {
        String configuration =
                """
                S,D,2013
                1,1A,0D
                1,I,,,A,1,0,0,-1,1,1,1,P
                0
                0
                0,3
                01/01/2026,00:00:00.000000000
                01/01/2026,00:00:00.000000000
                ASCII
                10
                -5h30,x
                A,3
                """;
        Comtrade r = read(configuration, "1,0,1.5\n2,100,-2.25e1\n3,350,0\n");
        assertArrayEquals(new double[] {0, 1e-6, 3.5e-6}, r.time(), 1e-15);
        assertArrayEquals(new double[] {1.5, -22.5, 0}, r.values()[0]);
        assertEquals("-5h30", r.clock().code());
        assertEquals(3, r.clock().leapSecond());
        assertTrue(assertThrows(ComtradeException.class, () -> read(configuration, "1,0,1\n2,,1\n3,5,1\n"))
                .reason()
                .contains("has no time"));
        assertTrue(assertThrows(ComtradeException.class, () -> read(configuration, "1,9,1\n2,5,1\n3,10,1\n"))
                .reason()
                .contains("before that of the one before it"));
    }

    // ---- written and read again

    private static Comtrade made(int samples, int contacts) {
        Random random = new Random(samples);
        double[][] values = new double[3][samples];
        List<BitSet> states = java.util.stream.IntStream.range(0, contacts)
                .mapToObj(i -> new BitSet())
                .toList();
        double[] time = new double[samples];
        for (int i = 0; i < samples; i++) {
            time[i] = i / 5000.0;
            values[0][i] = 4000 * Math.sin(2 * Math.PI * 50 * time[i]);
            values[1][i] = 1e-3 * random.nextGaussian();
            values[2][i] = i % 7 == 3 ? Double.NaN : 0;
            for (int c = 0; c < contacts; c++) {
                states.get(c).set(i, random.nextBoolean());
            }
        }
        return new Comtrade(
                "Orsel tunnel",
                "IS-3",
                2013,
                List.of(
                        new Analog(1, "I", "A", "Pole A", "A", 1, 0, 0, -1, 1, 600, 5, false),
                        Analog.plain(2, "small", "", "V"),
                        Analog.plain(3, "gaps", "", "V")),
                java.util.stream.IntStream.range(0, contacts)
                        .mapToObj(i -> new Status(i + 1, "K" + i, "", "", i % 2 == 0))
                        .toList(),
                50,
                List.of(new Rate(5000, samples)),
                LocalDateTime.of(2026, 11, 29, 5, 0, 0, 123_456_000),
                LocalDateTime.of(2026, 11, 29, 5, 0, 1),
                Form.ASCII,
                1,
                null,
                time,
                values,
                states);
    }

    @ParameterizedTest
    @EnumSource(Form.class)
    void whatIsWrittenIsReadAgainWithinTheResolutionOfItsForm(Form form) {
        Comtrade made = made(999, 17);
        ComtradeWriter.Files files = ComtradeWriter.write(made, form.bytes() > 2 ? 2013 : 1999, form);
        Comtrade back = ComtradeReader.read(files.configuration(), files.data());
        double part = form == Form.BINARY || form == Form.ASCII ? 0.6 / 32_767 : 1e-7;
        for (int c = 0; c < 3; c++) {
            double largest = c == 0 ? 4000 : 4e-3;
            for (int i = 0; i < made.size(); i++) {
                assertEquals(Double.isNaN(made.values()[c][i]), Double.isNaN(back.values()[c][i]));
                if (!Double.isNaN(made.values()[c][i])) {
                    assertEquals(made.values()[c][i], back.values()[c][i], largest * part);
                }
            }
        }
        assertArrayEquals(made.time(), back.time(), 1e-9);
        assertEquals(made.states(), back.states());
        assertEquals(made.statuses(), back.statuses());
        assertEquals(made.start(), back.start());
        assertEquals(120 * back.values()[0][5], back.primary(0)[5], 1e-9);
        // A second time nothing moves any more.
        ComtradeWriter.Files again = ComtradeWriter.write(back, form.bytes() > 2 ? 2013 : 1999, form);
        assertArrayEquals(files.data(), again.data());
    }

    @Test
    void whatAnEditionDoesNotHaveIsNotWritten() {
        assertThrows(IllegalArgumentException.class, () -> ComtradeWriter.write(made(9, 0), 1999, Form.FLOAT32));
        assertThrows(IllegalArgumentException.class, () -> ComtradeWriter.write(made(9, 0), 2001, Form.ASCII));
        assertThrows(IllegalArgumentException.class, () -> ComtradeWriter.write(made(0, 0), 2013, Form.ASCII));
    }

    // ---- what cannot be

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            textBlock =
                    """
            ,REC-4,1999    | ,REC-4,2000    | 1 | edition of 2000
            4,2A,2D        | 5,2A,2D        | 2 | 5 channels are not 2 and 2
            4,2A,2D        | 4,2B,2D        | 2 | no number of channels
            4,2A,2D        | 9999999,9999998A,1D | 2 | not a whole number
            A,0.5,-1       | A,zero,-1      | 3 | the multiplier is "zero"
            A,0.5,-1       | A,0,-1         | 3 | would be the same
            A,0.5,-1       | A,1e99,-1      | 3 | not a number
            200,1,S        | 200,1,X        | 3 | neither P, primary, nor S
            200,1,S        | -200,1,S       | 3 | is none
            1,Trip,A,Pole A,0 | 1,Trip      | 5 | 5 are needed
            1000,3         | -5,3           | 9 | not above 0
            500,5          | 500,2          | 10 | last sample of a rate
            500,5          | 500,9e12       | 10 | last sample of a rate
            07/03/2026,14:05:09.250000 | 07/13/2026,14:05:09.2 | 11 | there is no such time
            07/03/2026,14:05:09.250000 | today          | 11 | 2 are needed
            ASCII          | FLOAT32        | 13 | from the edition of 2013 on
            ASCII          | MIDI           | 13 | no form of data
            """)
    void aConfigurationThatCannotBeIsRefusedByItsLine(String right, String wrong, int line, String words) {
        String configuration = CONFIGURATION.formatted("ASCII");
        assertTrue(configuration.contains(right), right);
        ComtradeException e = assertThrows(
                ComtradeException.class,
                () -> read(configuration.replaceFirst(java.util.regex.Pattern.quote(right), wrong), TEXT));
        assertEquals("configuration", e.file());
        assertEquals(line, e.place(), e.getMessage());
        assertTrue(e.reason().contains(words), e.getMessage());
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            textBlock =
                    """
            5,6000,2,,1,0     |                | 5 | 5 samples were announced, 4 are there
            2,1000,-100,1510  | 2,1000,-100    | 2 | 5 fields, 6 are needed
            3,2000,99999,1520 | 3,2000,x,1520  | 3 | "IA" is "x", not a number
            4,4000,0,1530,1,0 | 4,4000,0,1530,2,0 | 4 | "Trip" is 2, neither 0 nor 1
            4,4000,0,1530,1,0 | 4,4000,NaN,1530,1,0 | 4 | not a number
            """)
    void dataThatCannotBeIsRefusedByItsLine(String right, String wrong, int line, String words) {
        ComtradeException e = assertThrows(
                ComtradeException.class,
                () -> read(CONFIGURATION.formatted("ASCII"), TEXT.replace(right, wrong == null ? "" : wrong)));
        assertEquals("data", e.file());
        assertEquals(line, e.place(), e.getMessage());
        assertTrue(e.reason().contains(words), e.getMessage());
    }

    @Test
    void whatIsCutOffOrAnnouncesMoreThanMemoryHoldsIsRefused() {
        ComtradeWriter.Files files = ComtradeWriter.write(made(100, 3), 1999, Form.BINARY);
        ComtradeException cut = assertThrows(
                ComtradeException.class,
                () -> ComtradeReader.read(files.configuration(), Arrays.copyOf(files.data(), 1000)));
        assertTrue(cut.reason().contains("100 samples were announced, 62 are there"), cut.getMessage());
        assertEquals("the file ends before station, device and year", reason(new byte[0], new byte[0]));
        // Many channels and samples that are there, but are more than is read at a time.
        StringBuilder wide = new StringBuilder("S,D,1999\n0,0A,9000D\n".replace("0,0A", "9000,0A"));
        for (int i = 0; i < 9000; i++) {
            wide.append(i).append(",K,,,0\n");
        }
        wide.append("50\n1\n1000,5000\n01/01/2026,0:00:00\n01/01/2026,0:00:00\nBINARY\n1\n");
        assertTrue(
                reason(bytes(wide.toString()), new byte[5000 * (8 + 2 * 563)]).contains("more than are read"));
    }

    private static String reason(byte[] configuration, byte[] data) {
        return assertThrows(ComtradeException.class, () -> ComtradeReader.read(configuration, data))
                .reason();
    }

    /** Whatever the bytes: a record, or a refusal that names file and place. */
    @Test
    void noBytesDoMoreThanBeRefused() {
        Random random = new Random(37_111);
        int read = 0;
        for (int trial = 0; trial < 20_000; trial++) {
            Form form = Form.values()[trial % 4];
            ComtradeWriter.Files files = ComtradeWriter.write(made(20, 2), form.bytes() > 2 ? 2013 : 1999, form);
            byte[] configuration = files.configuration();
            byte[] data = files.data();
            for (int k = 1 + random.nextInt(4); k > 0; k--) {
                byte[] one = random.nextInt(3) == 0 ? data : configuration;
                int at = random.nextInt(one.length);
                one[at] = random.nextBoolean()
                        ? (byte) ",0123456789\n-.eADPS".charAt(random.nextInt(19))
                        : (byte) random.nextInt(256);
            }
            if (random.nextInt(5) == 0) {
                data = Arrays.copyOf(data, random.nextInt(data.length + 1));
            }
            try {
                Comtrade r = ComtradeReader.read(configuration, data);
                assertEquals(r.values().length, r.analogs().size());
                assertFalse(Arrays.stream(r.time()).anyMatch(Double::isNaN));
                read++;
            } catch (ComtradeException e) {
                assertTrue(e.place() >= 0 && !e.reason().isBlank(), e.getMessage());
            }
        }
        assertTrue(read > 2000, read + " of them could be read");
    }

    // ---- both in one file

    @ParameterizedTest
    @EnumSource(Form.class)
    void oneFileHoldsWhatTwoHold(Form form) {
        Comtrade made = made(257, 3);
        byte[] bundle = ComtradeBundle.write(made, form);
        assertTrue(ComtradeBundle.begins(bundle));
        ComtradeWriter.Files files = ComtradeWriter.write(made, 2013, form);
        Comtrade two = ComtradeReader.read(files.configuration(), files.data());
        Comtrade one = ComtradeBundle.read(bundle);
        for (int c = 0; c < 3; c++) {
            assertArrayEquals(two.values()[c], one.values()[c]);
        }
        assertArrayEquals(two.time(), one.time());
        assertEquals(two.states(), one.states());
        assertEquals(two.station(), one.station());
    }

    @Test
    void partsOfInformationArePassedOverAndLinesMayEndEitherWay() {
        String text = new String(ComtradeBundle.write(made(5, 0), Form.ASCII), StandardCharsets.UTF_8)
                .replace("\r\n", "\n")
                .replace("--- file type: INF ---\n", "--- file type: INF ---\n[Public]\nNotes=--\n");
        assertEquals(5, ComtradeBundle.read(bytes(text)).size());
    }

    @ParameterizedTest
    @CsvSource({
        "'--- file type: CFG ---', 'Orsel', 'byte 0: here a line names the part'",
        "'--- file type: DAT ASCII ---', '1,2', 'it ends before its data'",
        "'--- file type: CFG ---', '--- file type: DAT ASCII ---', 'data stand before their configuration'",
        "'DAT ASCII ---', 'DAT ASCII: 99999999 ---', 'announces 99999999 bytes'",
        "'DAT ASCII ---', 'DAT ASCII: 99999999999999999999 ---', 'announces 99999999999999999999 bytes'",
    })
    void aBundleThatCannotBeIsRefusedByItsPlace(String right, String wrong, String words) {
        String text = new String(ComtradeBundle.write(made(5, 0), Form.ASCII), StandardCharsets.UTF_8);
        ComtradeException e =
                assertThrows(ComtradeException.class, () -> ComtradeBundle.read(bytes(text.replace(right, wrong))));
        assertTrue(String.valueOf(e.getMessage()).contains(words), e.getMessage());
    }

    /** Whatever the bytes: a record, or a refusal that names file and place. */
    @Test
    void noBundleDoesMoreThanBeRefused() {
        Random random = new Random(60_255);
        int read = 0;
        for (int trial = 0; trial < 4000; trial++) {
            byte[] bundle = ComtradeBundle.write(made(12, 1), Form.values()[trial % 4]);
            for (int k = 1 + random.nextInt(3); k > 0; k--) {
                bundle[random.nextInt(bundle.length)] = (byte) random.nextInt(256);
            }
            byte[] cut = random.nextInt(4) == 0 ? Arrays.copyOf(bundle, random.nextInt(bundle.length)) : bundle;
            try {
                assertTrue(ComtradeBundle.read(cut).size() > 0);
                read++;
            } catch (ComtradeException e) {
                assertTrue(e.place() >= 0 && !e.reason().isBlank(), e.getMessage());
            }
        }
        assertTrue(read > 200, read + " of them could be read");
    }
}
