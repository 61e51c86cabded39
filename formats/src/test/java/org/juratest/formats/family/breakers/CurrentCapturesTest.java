package org.juratest.formats.family.breakers;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.LocalDateTime;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.family.breakers.FiledCurrent;
import org.juratest.core.method.Filed;
import org.juratest.formats.analyse.RefusedInput;
import org.juratest.formats.comtrade.Comtrade;
import org.juratest.formats.comtrade.Comtrade.Analog;
import org.juratest.formats.comtrade.ComtradeBundle;

class CurrentCapturesTest {

    private final CurrentCaptures format = new CurrentCaptures();

    private static Comtrade record(String unit, double frequency, int year) {
        int n = 400;
        double[] time = new double[n];
        double[][] values = new double[2][n];
        for (int i = 0; i < n; i++) {
            time[i] = i / 4000.0;
            values[0][i] = 110 * Math.sin(2 * Math.PI * 50 * time[i]);
            values[1][i] = 2 * Math.sin(2 * Math.PI * 50 * time[i]);
        }
        return new Comtrade(
                "ORE-REC-01",
                "B.2",
                2013,
                List.of(Analog.plain(1, "U", "", "V"), Analog.plain(2, "I", "B", unit)),
                List.of(),
                frequency,
                List.of(),
                LocalDateTime.of(year, 3, 4, 5, 6, 7),
                LocalDateTime.of(year, 3, 4, 5, 6, 7),
                Comtrade.Form.FLOAT32,
                1,
                null,
                time,
                values,
                List.of());
    }

    private static byte[] file(String unit, double frequency, int year) {
        return ComtradeBundle.write(record(unit, frequency, year), Comtrade.Form.FLOAT32);
    }

    @Test
    void aFileTellsItsCurrentAndWhatMayNameItsLane() {
        Filed filed = format.read("Feeder_east_3.cff", file("kA", 50, 2026));
        assertEquals("IEEE C37.111-2013", filed.format());
        assertEquals(Set.of("ORE-REC-01", "Feeder_east_3", "Feeder"), filed.names());
        assertEquals(Instant.parse("2026-03-04T05:06:07Z"), filed.taken());
        FiledCurrent current = (FiledCurrent) filed.content();
        assertEquals(Set.of("feeder", "east", "3", "b.2", "b"), current.names());
        assertEquals(50, current.current().frequency());
        double[] amperes = record("kA", 50, 2026).values()[1].clone();
        for (int i = 0; i < amperes.length; i++) {
            amperes[i] *= 1000;
        }
        assertArrayEquals(amperes, current.current().current(), 1e-3, "the voltage beside it is no current");
    }

    /** What it cannot be analysed without, or what is no such file at all. */
    @ParameterizedTest
    @CsvSource({"V, 50, no channel in A", "A, 0, line frequency"})
    void aFileThatLacksSomethingIsRefusedWithWhat(String unit, double frequency, String words) {
        byte[] file = file(unit, frequency, 2026);
        RefusedInput e = assertThrows(RefusedInput.class, () -> format.read("x.cff", file));
        assertTrue(String.valueOf(e.getMessage()).contains(words), e.getMessage());
    }

    @Test
    void aBrokenFileIsRefusedByItsPlaceAndAClockThatWasNeverSetIsNoDay() {
        byte[] broken = "--- file type: CFG ---\nx\n".getBytes(StandardCharsets.US_ASCII);
        assertTrue(format.recognises("anything.bin", broken));
        assertFalse(format.recognises("anything.bin", new byte[] {1, 2, 3}));
        assertThrows(RefusedInput.class, () -> format.read("anything.bin", broken));
        Filed old = format.read("x.cff", file("A", 50, 1980));
        assertNull(old.taken());
        assertTrue(
                old.warnings().get(0).contains("which cannot be"),
                old.warnings().toString());
    }
}
