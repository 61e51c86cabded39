package org.juratest.core.family.fibre;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class CableMapTest {

    @ParameterizedTest
    @CsvSource(
            delimiter = ';',
            value = {
                "A; ''; 8; 1 2 3 4 5 6 7 8",
                "B; ''; 12; 12 11 10 9 8 7 6 5 4 3 2 1",
                "C; ''; 8; 2 1 4 3 6 5 8 7",
                "own map; 1-3, 2 - 2,3-1; 3; 3 2 1"
            })
    void whereEachFibreComesOut(String type, String own, int fibres, String expected) {
        CableMap map = CableMap.of(type, own, fibres);
        assertEquals(
                expected,
                IntStream.rangeClosed(1, fibres)
                        .mapToObj(n -> String.valueOf(map.to().get(n)))
                        .collect(Collectors.joining(" ")));
    }

    /** Whatever the type, and however many there are: each place is taken once, and what goes there comes back. */
    @ParameterizedTest
    @ValueSource(strings = {"A", "B", "C"})
    void everyTypeTakesEachPlaceOnce(String type) {
        for (int fibres : new int[] {2, 8, 12, 16, 24, 32}) {
            CableMap map = CableMap.of(type, "", fibres);
            assertEquals(fibres, map.to().values().stream().distinct().count());
            map.to().forEach((from, to) -> assertEquals(from, map.to().get(to), type + " of " + fibres));
        }
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = ';',
            value = {"D; ''", "own map; ''", "own map; 1-2, 1-3", "own map; 1-2, 3-2", "own map; 1-13", "own map; one-2"
            })
    void whatIsNoMapIsToldInWords(String type, String own) {
        String said = assertThrows(IllegalArgumentException.class, () -> CableMap.of(type, own, 12))
                .getMessage();
        assertTrue(said.contains("A, B, C or own map") || said.contains("such as 1-12, 2-11"), said);
    }

    /** Parts of one picture, each a little aside of where the camera says, make the picture again. */
    @Test
    void partsAreJoinedToTheWhole() {
        Random random = new Random(7);
        GreyPicture whole = new MadeArray(ArrayLayout.of("1x8", "all"), 1).picture();
        int width = 900;
        List<ArrayCamera.Piece> pieces = new ArrayList<>();
        for (int from = 0; from + width <= whole.width(); from += 600) {
            double off = pieces.isEmpty() ? 0 : 8 * random.nextDouble() - 4;
            pieces.add(new ArrayCamera.Piece(
                    new byte[0], whole.part(from, 0, from + width, whole.height()), from + off, off / 2));
        }
        assertTrue(pieces.size() >= 3);
        GreyPicture joined = JoinedPicture.of(pieces, 1);
        int covered = 600 * (pieces.size() - 1) + width;
        assertEquals(covered, joined.width());
        assertEquals(whole.height(), joined.height());
        for (int y = 0; y < joined.height(); y += 7) {
            for (int x = 0; x < covered; x += 11) {
                assertEquals(whole.at(x, y), joined.at(x, y), "at " + x + ", " + y);
            }
        }
        assertThrows(IllegalArgumentException.class, () -> JoinedPicture.of(List.of(), 1));
        for (double bad : new double[] {Double.NaN, Double.POSITIVE_INFINITY, -1e12}) {
            ArrayCamera.Piece odd = new ArrayCamera.Piece(new byte[0], whole, bad, 0);
            assertThrows(IllegalArgumentException.class, () -> JoinedPicture.of(List.of(pieces.get(0), odd), 1));
            assertThrows(IllegalArgumentException.class, () -> JoinedPicture.of(pieces, bad));
        }
        ArrayCamera.Piece far = new ArrayCamera.Piece(new byte[0], whole, 1e6, 0);
        assertThrows(IllegalArgumentException.class, () -> JoinedPicture.of(List.of(pieces.get(0), far), 1));
    }
}
