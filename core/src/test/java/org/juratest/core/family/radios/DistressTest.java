package org.juratest.core.family.radios;

import static org.junit.jupiter.api.Assertions.assertDoesNotThrow;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.juratest.core.run.Refusal;

class DistressTest {

    @ParameterizedTest
    @ValueSource(
            doubles = {
                2_182_000,
                2_187_500,
                16_804_500,
                121.5e6,
                156.525e6,
                156.8e6,
                156.8e6 + 12_000,
                156.8e6 - 12_000,
                406.025e6,
                406e6,
                406.1e6
            })
    void isNeverKeyed(double hertz) {
        Refusal refusal = assertThrows(Refusal.class, () -> Distress.check(hertz));
        assertEquals("distress-frequency", refusal.code());
        assertTrue(String.valueOf(refusal.getMessage()).contains("Choose another"));
    }

    @ParameterizedTest
    @ValueSource(doubles = {156.775e6, 156.825e6, 155e6, 405.9e6, 406.2e6, 121.6e6, 440e6, 2_170_000})
    void itsNeighboursAreChannelsLikeOthers(double hertz) {
        assertDoesNotThrow(() -> Distress.check(hertz));
    }

    @ParameterizedTest
    @ValueSource(doubles = {Double.NaN, 0, -1, Double.POSITIVE_INFINITY})
    void whatIsNoFrequencyIsRefused(double hertz) {
        assertEquals(
                "params.frequency",
                assertThrows(Refusal.class, () -> Distress.check(hertz)).field());
    }
}
