package org.juratest.server.condition;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotEquals;

import java.util.UUID;
import org.junit.jupiter.api.Test;
import org.juratest.server.condition.States.Key;

/** Rows are found again where they were, and not where others are. */
class RowPlacesTest {

    private static final Key LOSS = new Key("L-1", "loss", "7");
    private final RowPlaces places = new RowPlaces();
    private final UUID first = new UUID(0, 1);
    private final UUID second = new UUID(0, 2);
    private final UUID third = new UUID(0, 3);

    private String lane(Double row, UUID run) {
        return places.of(LOSS, row, 10, run).lane();
    }

    @Test
    void whatIsNoRowKeepsItsLane() {
        assertEquals(LOSS, places.of(LOSS, null, 0, first));
    }

    @Test
    void aRowThatWandersALittleEachTimeIsStillTheSame() {
        assertEquals("7@512", lane(512.4, first));
        assertEquals("7@512", lane(520.0, second));
        // Nearer than the reach to where it was last, though not to where it was first.
        assertEquals("7@512", lane(527.0, third));
    }

    @Test
    void twoRowsOfOneVisitAreNeverOne() {
        String one = lane(500.0, first);
        String other = lane(506.0, first);
        assertNotEquals(one, other);
        // Each is found again by what is nearest to it.
        assertEquals(one, lane(501.0, second));
        assertEquals(other, lane(505.5, second));
    }

    @Test
    void rowsAtOnePlaceHaveNamesOfTheirOwn() {
        assertEquals("7@500", lane(500.0, first));
        assertEquals("7@500+", lane(500.2, first));
    }

    @Test
    void otherLanesAndOtherSeriesHaveRowsOfTheirOwn() {
        lane(500.0, first);
        assertEquals(
                "8@503",
                places.of(new Key("L-1", "loss", "8"), 503.0, 10, second).lane());
        assertEquals(
                "7@503",
                places.of(new Key("L-1", "mean", "7"), 503.0, 10, second).lane());
    }

    @Test
    void aRowThatWasNotSeenForAVisitIsFoundAgain() {
        String one = lane(500.0, first);
        lane(900.0, second);
        assertEquals(one, lane(504.0, third));
    }

    @Test
    void aKeyThatOnlyCountsIsNamedAsItIs() {
        assertEquals("7@2", places.of(LOSS, 2.0, 0, first).lane());
        assertEquals("7@2", places.of(LOSS, 2.0, 0, second).lane());
        assertEquals("7@3", places.of(LOSS, 3.0, 0, second).lane());
    }
}
