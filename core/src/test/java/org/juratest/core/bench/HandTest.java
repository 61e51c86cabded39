package org.juratest.core.bench;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.junit.jupiter.api.Assertions.fail;

import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.juratest.core.method.Hand;
import org.juratest.core.method.StopException;
import org.juratest.core.method.StopSignal;

/** An output that is held to run goes off with the hand, whether the method minds it or not. */
class HandTest {

    private final StopSignal stop = new StopSignal();
    private final Hand hand = stop.hand();
    private final LiveGuard guard = new LiveGuard(() -> new LiveGuard.Lease(true, null), stop);

    private static long at(double seconds) {
        return (long) (seconds * 1e9);
    }

    @BeforeEach
    void held() {
        hand.begun(at(100));
        guard.heldBy(hand);
    }

    @Test
    void thePressThatSwitchedOnCountsUntilTheFirstWordOfTheHand() {
        assertTrue(hand.isHeld(at(101.4)));
        assertTrue(guard.tick(at(101.4)));
        assertTrue(hand.holds(1, at(101.4)));
        assertEquals(1, hand.change(at(101.5)));
        assertTrue(hand.holds(-7, at(101.9)), "heard again within 0.7 s");
        assertEquals(-1, hand.change(at(102)));
        assertTrue(hand.holds(0, at(102.2)));
        assertEquals(0, hand.change(at(102.2)));
    }

    @Test
    void whoIsNotHeardHasLetGoAndCannotTakeHoldAgain() {
        assertTrue(hand.holds(1, at(100.2)));
        assertTrue(hand.isHeld(at(100.85)));
        assertFalse(hand.isHeld(at(100.95)), "0.75 s after the last word");
        assertEquals(0, hand.change(at(100.95)));
        assertFalse(hand.holds(1, at(101)), "another press arms anew");
        assertFalse(hand.isHeld(at(101)));
    }

    @Test
    void aMethodThatMindsNoHandIsSwitchedOffByTheGuard() {
        assertTrue(hand.holds(1, at(100.2)));
        assertTrue(guard.tick(at(101.3)), "the method has a moment to end by itself");
        assertFalse(guard.tick(at(101.5)));
        assertEquals(
                "nobody was heard to hold the output any more",
                assertThrows(StopException.class, stop::check).getMessage());
    }

    @Test
    void aHandThatSaysItLetGoIsFollowedByTheGuardAsWell() {
        assertTrue(hand.holds(1, at(100.5)));
        hand.letGo();
        assertFalse(hand.isHeld(at(100.5)));
        assertTrue(guard.tick(at(100.6)));
        assertFalse(guard.tick(at(101.8)));
        assertTrue(stop.requested());
    }

    /** Between the press and the output, or between one output of a measurement and the next. */
    @Test
    void whatWasLetGoBeforeItWasOnStaysOff() {
        hand.begun(System.nanoTime());
        guard.check();
        hand.letGo();
        assertEquals(
                "it was let go before it was on",
                assertThrows(StopException.class, guard::check).getMessage());
        assertThrows(StopException.class, () -> stop.switchOn(() -> fail("nothing goes on")));
    }

    @Test
    void nobodyHoldsWhatWasNotBegunByHand() {
        Hand other = new StopSignal().hand();
        assertFalse(other.holds(1, at(1)));
        assertFalse(other.isHeld(at(1)));
        assertFalse(other.isLost(at(1000)), "and nothing of it goes off for that");
    }

    @Test
    void aGuardWithoutAHandGoesOn() {
        guard.heldBy(null);
        assertTrue(guard.tick(at(1000)));
        assertFalse(stop.requested());
    }
}
