package org.juratest.formats.sor;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.juratest.formats.sor.SorBuilder.row;
import static org.juratest.formats.sor.SorBuilder.signs;

import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Trace files: every value in its place, what is not known kept, what cannot be refused by block and byte. */
class SorTest {

    private static final int MUTANTS = 20_000;
    private static final long SEED = 4731;

    /** The check value of this CRC in catalogues of them, of the nine digits. */
    @Test
    void theCheckSumIsTheOneOfTheCatalogues() {
        byte[] digits = "123456789".getBytes(StandardCharsets.US_ASCII);
        assertEquals(0x29b1, SorCrc.of(digits, digits.length));
        assertEquals(0x29b1, SorBuilder.crc(digits));
    }

    @ParameterizedTest
    @ValueSource(ints = {1, 2})
    void everyValueIsReadAndWrittenWhereItStands(int edition) {
        byte[] bytes = SorBuilder.full(edition).bytes();
        SorFile file = SorReader.read(bytes);
        boolean two = edition == 2;
        assertEquals(edition, file.edition());
        assertEquals(List.of(), file.warnings());
        SorFile.General general = file.general().orElseThrow();
        assertEquals(
                new SorFile.General(
                                200,
                                "EN",
                                "VAL-7",
                                "F\u00fcnf",
                                two ? 652 : 0,
                                1550,
                                "MFR",
                                "COL",
                                "C\u00b5",
                                "BC",
                                -125,
                                two ? -13 : 0,
                                "tavel",
                                "after the repair",
                                general.rest())
                        .toString(),
                general.toString());
        SorFile.Supplier supplier = file.supplier().orElseThrow();
        assertEquals(
                List.of("Halmic", "T1", "17", "M4", "18", "2.1", ""),
                List.of(
                        supplier.supplier(),
                        supplier.mainframe(),
                        supplier.mainframeSerial(),
                        supplier.module(),
                        supplier.moduleSerial(),
                        supplier.software(),
                        supplier.other()));
        SorFile.Fixed fixed = file.fixed();
        assertEquals(
                new SorFile.Fixed(
                                200,
                                1_764_000_000L,
                                "km",
                                15_501,
                                -40,
                                two ? -4 : 0,
                                List.of(new SorFile.Pulse(30, 50_000, 5), new SorFile.Pulse(300, 100_000, 3)),
                                146_800,
                                815,
                                64_000,
                                two ? 150 : 0,
                                2_000_000,
                                two ? 408 : 0,
                                7,
                                42_000,
                                1000,
                                12_345,
                                50,
                                65_000,
                                3000,
                                two ? "ST" : "",
                                two ? List.of(1, -2, 3, 4) : List.of(),
                                fixed.rest())
                        .toString(),
                fixed.toString());
        SorFile.KeyEvents events = file.events().orElseThrow();
        assertEquals(
                List.of(
                        new SorFile.KeyEvent(
                                1,
                                0,
                                0,
                                0,
                                -45_123,
                                "1F9999",
                                "LS",
                                two ? List.of(1L, 2L, 3L, 4L, 5L) : List.of(),
                                "front"),
                        new SorFile.KeyEvent(
                                2,
                                61_500,
                                -3,
                                -120,
                                0,
                                "0E9999",
                                "2P",
                                two ? List.of(6L, 7L, 8L, 9L, 4_000_000_000L) : List.of(),
                                "")),
                events.events());
        assertEquals(
                List.of(1_234, 0, 61_500, 31_500, 0, 61_500),
                List.of(
                        events.loss(),
                        events.lossFrom(),
                        events.lossTo(),
                        events.returnLoss(),
                        events.returnFrom(),
                        events.returnTo()));
        assertEquals(
                List.of(new SorFile.Landmark(
                        1, "SC", 30_000, 2, 712_345, -4_512_345, 150, 10, 20, "mt", two ? 920 : 0, "closure 7")),
                file.link().orElseThrow().landmarks());
        SorFile.Data data = file.data();
        assertEquals(8, data.points());
        assertEquals(
                List.of(10.0, 10.4, 65.535, 0.0, 40.0),
                List.of(0, 1, 2, 3, 4).stream()
                        .map(i -> data.traces().get(0).below(i))
                        .toList());
        assertEquals(0.006, data.traces().get(1).below(2), 1e-12, "by its own scale");
        assertArrayEquals(bytes, SorWriter.write(file));
    }

    /** 50,000 x 10^-14 s a sample at 1.468: 0.5 ns x 204.2 mm/ns. */
    @Test
    void distancesFollowFromTimesAndTheGroupIndex() {
        SorFile.Fixed fixed = SorReader.read(SorBuilder.full(2).bytes()).fixed();
        assertEquals(0.102109, fixed.metres(fixed.pulses().get(0)), 1e-6);
        assertEquals(1255.94, fixed.metresOf(61_500), 0.01);
    }

    @Test
    void whatIsNotKnownIsKeptByteByByte() {
        byte[] tail = {9, 8, 7};
        byte[] bytes =
                SorBuilder.full(2).block("SecondOwn", 3, (Object) new byte[300]).bytes();
        SorFile file = SorReader.read(bytes);
        assertEquals(
                List.of("MakersOwn", "SecondOwn"),
                file.blocks().stream()
                        .filter(SorFile.Other.class::isInstance)
                        .map(SorFile.Block::name)
                        .toList());
        assertArrayEquals(bytes, SorWriter.write(file));
        byte[] longer = new SorBuilder(2)
                .block("FxdParams", 200, fixedBody(), tail)
                .block("DataPts", 200, 1L, 1, 1L, 1000, 5, tail)
                .bytes();
        SorFile more = SorReader.read(longer);
        assertArrayEquals(tail, more.fixed().rest());
        assertArrayEquals(tail, more.data().rest());
        assertArrayEquals(longer, SorWriter.write(more));
    }

    private static byte[] fixedBody() {
        return row(
                0L,
                signs("km"),
                13_100,
                0L,
                0L,
                1,
                10,
                50_000L,
                1L,
                146_800L,
                800,
                1L,
                0,
                1L,
                0L,
                0L,
                1,
                1,
                1,
                1,
                1,
                1,
                signs("ST"),
                0L,
                0L,
                0L,
                0L);
    }

    @Test
    void aWrongCheckSumIsAWarningAndTheDataIsShown() {
        SorFile file = SorReader.read(SorBuilder.full(2).bytes(1));
        assertEquals(1, file.warnings().size());
        assertTrue(
                file.warnings().get(0).startsWith("the check sum does not fit"),
                file.warnings().toString());
        assertEquals(8, file.data().points());
        SorFile mended = SorReader.read(SorWriter.write(file));
        assertEquals(List.of(), mended.warnings(), "what is written has its own");
    }

    /** Cut off anywhere, a file is refused: the map says what there should be. */
    @ParameterizedTest
    @ValueSource(ints = {1, 2})
    void aFileThatIsCutOffIsRefusedWhereverItIs(int edition) {
        byte[] bytes = SorBuilder.full(edition).bytes();
        for (int length = 0; length < bytes.length; length++) {
            byte[] some = Arrays.copyOf(bytes, length);
            SorException refused = assertThrows(SorException.class, () -> SorReader.read(some), length + " bytes");
            assertTrue(refused.offset() <= length, refused.getMessage());
        }
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "DataPts  | 4294967295 samples | DataPts",
                "KeyEvents| 65535 events       | KeyEvents",
                "FxdParams| 0 pulse widths     | FxdParams",
                "FxdParams| group index 0      | FxdParams",
                "FxdParams| spacing 0          | FxdParams",
                "DataPts  | fewer than it says | DataPts",
                "DataPts  | none               | DataPts",
                "FxdParams| not there          | FxdParams",
                "DataPts  | not there          | DataPts",
                "GenParams| twice              | Map",
                "GenParams| no end of a text   | GenParams",
                "GenParams| another name       | GenParams",
            })
    void whatCannotBeIsRefusedByItsBlock(String block, String what, String named) {
        SorBuilder file = new SorBuilder(2);
        byte[] fixed = fixedBody();
        switch (what) {
            case "4294967295 samples" ->
                file.block("FxdParams", 200, fixed).block("DataPts", 200, 0xffff_ffffL, 1, 0xffff_ffffL, 1000, 5);
            case "65535 events" -> file.block("KeyEvents", 200, 65_535, 1);
            case "0 pulse widths" -> {
                fixed[16] = 0;
                file.block("FxdParams", 200, fixed).block("DataPts", 200, 1L, 1, 1L, 1000, 5);
            }
            case "group index 0" -> {
                Arrays.fill(fixed, 28, 32, (byte) 0);
                file.block("FxdParams", 200, fixed).block("DataPts", 200, 1L, 1, 1L, 1000, 5);
            }
            case "spacing 0" -> {
                Arrays.fill(fixed, 20, 24, (byte) 0);
                file.block("FxdParams", 200, fixed).block("DataPts", 200, 1L, 1, 1L, 1000, 5);
            }
            case "fewer than it says" -> file.block("FxdParams", 200, fixed).block("DataPts", 200, 2L, 1, 1L, 1000, 5);
            case "none" -> file.block("FxdParams", 200, fixed).block("DataPts", 200, 0L, 1, 0L, 1000);
            case "not there" ->
                file.block(
                        block.equals("DataPts") ? "FxdParams" : "DataPts",
                        200,
                        block.equals("DataPts") ? fixed : row(1L, 1, 1L, 1000, 5));
            case "twice" -> file.block("GenParams", 200, "x").block("GenParams", 200, "x");
            case "no end of a text" -> file.block("GenParams", 200, signs("ENabc"));
            default -> {
                byte[] bytes = SorBuilder.full(2).bytes();
                int at = new String(bytes, StandardCharsets.ISO_8859_1).lastIndexOf("GenParams");
                bytes[at] = 'X';
                SorException refused = assertThrows(SorException.class, () -> SorReader.read(bytes));
                assertEquals(named, refused.block());
                assertEquals(at, refused.offset());
                return;
            }
        }
        SorException refused = assertThrows(SorException.class, () -> SorReader.read(file.bytes()), what);
        assertEquals(named, refused.block(), refused.getMessage());
    }

    @ParameterizedTest
    @ValueSource(strings = {"", "M", "hello, this is no trace file at all", "\u0089PNG\r\n\u001a\n and so on and on"})
    void whatIsNoTraceFileIsToldSo(String text) {
        SorException refused =
                assertThrows(SorException.class, () -> SorReader.read(text.getBytes(StandardCharsets.ISO_8859_1)));
        assertTrue(Set.of("file", "Map").contains(refused.block()), refused.getMessage());
    }

    @Test
    void whatIsTooLongIsRefusedUnread() {
        assertEquals(
                "file",
                assertThrows(SorException.class, () -> SorReader.read(new byte[SorReader.MOST_BYTES + 1]))
                        .block());
    }

    /**
     * Whatever is done to the bytes: it is read, or refused by block and byte; what was read can be written and read.
     */
    @Test
    void noBytesMakeItFailInAnyOtherWay() {
        Random random = new Random(SEED);
        byte[][] sources = {SorBuilder.full(1).bytes(), SorBuilder.full(2).bytes()};
        Set<String> blocks = new TreeSet<>();
        int read = 0;
        for (int i = 0; i < MUTANTS; i++) {
            byte[] mutant = mutant(sources[i % sources.length], random);
            try {
                SorFile file = SorReader.read(mutant);
                read++;
                byte[] written = SorWriter.write(file);
                assertArrayEquals(written, SorWriter.write(SorReader.read(written)), "mutant " + i);
            } catch (SorException refused) {
                blocks.add(refused.block());
                assertTrue(
                        refused.offset() >= 0 && refused.offset() <= mutant.length,
                        "mutant " + i + ": " + refused.getMessage());
            }
        }
        assertTrue(read > MUTANTS / 5, "some do no harm: " + read);
        assertTrue(
                blocks.containsAll(Set.of("Map", "FxdParams", "KeyEvents", "DataPts", "GenParams", "LnkParams")),
                blocks.toString());
    }

    private static byte[] mutant(byte[] source, Random random) {
        byte[] bytes = source.clone();
        for (int n = 1 + random.nextInt(3); n > 0; n--) {
            int at = random.nextInt(bytes.length);
            switch (random.nextInt(6)) {
                case 0 -> bytes[at] ^= (byte) (1 << random.nextInt(8));
                case 1 -> bytes[at] = (byte) random.nextInt(256);
                case 2 ->
                    Arrays.fill(bytes, at, Math.min(bytes.length, at + 4), (byte) (random.nextBoolean() ? -1 : 0));
                case 3 -> bytes = Arrays.copyOf(bytes, Math.max(1, at));
                case 4 -> {
                    byte[] more = new byte[bytes.length + 1 + random.nextInt(8)];
                    System.arraycopy(bytes, 0, more, 0, at);
                    System.arraycopy(bytes, at, more, at + more.length - bytes.length, bytes.length - at);
                    bytes = more;
                }
                default -> {
                    int length = Math.min(8, bytes.length - at);
                    System.arraycopy(bytes, at, bytes, random.nextInt(bytes.length - length + 1), length);
                }
            }
        }
        return bytes;
    }

    @Test
    void whatDoesNotGoIntoAFileIsNotWritten() {
        SorFile file = SorReader.read(SorBuilder.full(2).bytes());
        SorFile.Supplier s = file.supplier().orElseThrow();
        for (String text : List.of("\u03a9", "a\u0000b", "\ud83d\udd27")) {
            SorFile other = new SorFile(
                    2,
                    200,
                    List.of(
                            new SorFile.Supplier(200, text, "", "", "", "", "", "", s.rest()),
                            file.fixed(),
                            file.data()));
            assertThrows(IllegalArgumentException.class, () -> SorWriter.write(other), text);
        }
        SorFile large = new SorFile(
                2,
                200,
                List.of(
                        file.fixed(),
                        new SorFile.Data(200, List.of(new SorFile.Trace(70_000, new short[] {1})), new byte[0])));
        assertThrows(IllegalArgumentException.class, () -> SorWriter.write(large));
    }
}
