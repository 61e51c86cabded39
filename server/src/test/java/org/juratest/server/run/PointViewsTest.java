package org.juratest.server.run;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.quantity.Unit;

/** Figures and words as people read them. */
class PointViewsTest {

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "Bit errors at -60 dBm | Bit errors at \u221260 dBm",
                "-119.0 dBm of them | \u2212119.0 dBm of them",
                "(-6 dB) | (\u22126 dB)",
                "no. UA-04687 | no. UA-04687",
                "5-10 W | 5-10 W",
                "2026-11-27 | 2026-11-27",
                "-20/+26 % | \u221220/+26 %",
                "a well-known one | a well-known one",
                "(x)-3 | (x)-3"
            })
    void aHyphenBeforeAFigureIsAMinusSign(String words, String shown) {
        assertEquals(shown, PointViews.words(words));
    }

    @Test
    void levelsHaveATenthAndDifferencesNoMoreThanTheyHave() {
        assertEquals("\u2212120.4", PointViews.figure(-120.4321, Qualifier.EQUAL, null, Unit.DBM));
        assertEquals("> \u221260.0", PointViews.figure(-60, Qualifier.MORE, null, Unit.DBM));
        assertEquals("\u22121.3", PointViews.change(-1.27, -120.43, -119.16, null, Unit.DBM));
        assertEquals("±0", PointViews.change(0.04, -120.43, -120.47, null, Unit.DBM));
        assertEquals(
                "0.250\u2006\u00b5V across 50\u2006\u03a9",
                PointViews.also(-119.03, Qualifier.EQUAL, Unit.DBM),
                "potential difference, not electromotive force");
        assertEquals("> 224\u2006\u00b5V across 50\u2006\u03a9", PointViews.also(-60.0, Qualifier.MORE, Unit.DBM));
        assertNull(PointViews.also(3.0, Qualifier.EQUAL, Unit.WATT));
        assertEquals("+12", PointViews.change(12.4, 1512.4, 1500, null, Unit.HERTZ));
    }
}
