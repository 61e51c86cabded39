package org.juratest.formats.curve;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import org.juratest.core.curve.ElementShape;

class CurvePointsTest {

    @ParameterizedTest
    @ValueSource(
            strings = {
                "2\t10\t40\n3\t4.5\t15",
                "multiple;shortest;longest\r\n2;10;40\r\n3;4,5;15\r\n",
                "2,10,40\n3,4.5,15\n",
                "  2   10   40 \n\n 3 4.5 15",
                "2; 10; 40\n3; 4,5; 15"
            })
    void tablesArePastedAsTheyCome(String text) {
        ElementShape.Points points = CurvePoints.read(text);
        assertEquals(List.of(2.0, 3.0), points.lowestMultiples());
        assertEquals(List.of(10.0, 4.5), points.lowestTimes());
        assertEquals(List.of(40.0, 15.0), points.highestTimes());
    }

    @Test
    void aTimeThatIsNotStatedIsLeftOut() {
        ElementShape.Points points = CurvePoints.read("1.1\t3600\t-\n1.3\t250\t7200\n2\t44\t150\n6\t-\t8");
        assertEquals(List.of(1.1, 1.3, 2.0), points.lowestMultiples());
        assertEquals(List.of(1.3, 2.0, 6.0), points.highestMultiples());
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "2;10;40%2;5;20 | Line 2",
                "2;10;40%3;50;20 | Line 2",
                "2;10%3;5;20 | Line 1",
                "2;10;40%x;5;20 | Line 2 multiple",
                "2;-1;40%3;5;20 | Line 1 shortest",
                "2;10;1e99%3;5;20 | Line 1 longest",
                "2;10;40 | at least two"
            })
    void whatIsWrongIsToldByItsLine(String text, String words) {
        var fault = assertThrows(IllegalArgumentException.class, () -> CurvePoints.read(text.replace('%', '\n')));
        assertTrue(String.valueOf(fault.getMessage()).contains(words), fault.getMessage());
    }
}
