package org.juratest.core.family.breakers;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.Arrays;
import java.util.Map;
import java.util.TreeMap;
import java.util.UUID;
import org.junit.jupiter.api.Test;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.RunState;
import org.juratest.core.trace.Trace;

class DigitisedCurrentTest {

    private static AttemptEvents.Captured captured(Trace trace, Map<String, String> facts) {
        return new AttemptEvents.Captured(
                new UUID(0, 1),
                AttemptEvents.CaptureKind.TRACE,
                trace.name(),
                "a".repeat(64),
                RunState.TRACE_TYPE,
                facts);
    }

    /** Two operations with a pause of 2 s between them: all of what flowed, two cycles around it, nothing else. */
    @Test
    void pausesAreNotKeptAndWhatFlowedIsWhole() {
        MadeCurrent made = new MadeCurrent(4800, 50, 7)
                .pause(0.5)
                .piece(0.1, t -> 560 * Math.sqrt(2) * Math.sin(2 * Math.PI * 50 * t))
                .pause(2)
                .piece(0.3, t -> 500 * Math.sqrt(2) * Math.sin(2 * Math.PI * 50 * t))
                .pause(1);
        double[] time = made.time();
        double[] value = made.value();
        DigitisedCurrent current = new DigitisedCurrent(time, value, 50);
        Trace kept = current.kept();
        assertEquals(4800 * (0.1 + 0.3 + 4 * 0.04), kept.x().length, 12);
        for (int i = 0; i < kept.x().length; i++) {
            int at = Arrays.binarySearch(time, kept.x()[i]);
            assertTrue(at >= 0, "a sample as it was taken");
            assertEquals(value[at], kept.y()[i]);
        }
        Operations whole = Operations.of(time, value, 50);
        Operations again = Operations.of(kept.x(), kept.y(), 50);
        assertEquals(whole.all().size(), again.all().size());
        for (int i = 0; i < whole.all().size(); i++) {
            assertEquals(whole.all().get(i).tripTime(), again.all().get(i).tripTime(), 5e-4);
            assertEquals(
                    whole.all().get(i).rms(),
                    again.all().get(i).rms(),
                    0.01 * whole.all().get(i).rms());
        }

        AttemptEvents.Captured capture = captured(kept, current.facts());
        assertTrue(DigitisedCurrent.is(capture));
        assertTrue(capture.keptForFiles(), "not for drawing");
        assertArrayEquals(kept.y(), DigitisedCurrent.of(kept, capture).current());
        Map<String, String> other = new TreeMap<>(current.facts());
        other.remove("frequency");
        assertFalse(DigitisedCurrent.is(captured(kept, other)));
        assertThrows(IllegalArgumentException.class, () -> DigitisedCurrent.of(kept, captured(kept, other)));
    }

    @Test
    void whereNothingFlowedThatIsKept() {
        assertEquals(
                3,
                new DigitisedCurrent(new double[] {0, 1, 2}, new double[3], 50)
                        .kept()
                        .x()
                        .length);
        assertThrows(
                IllegalArgumentException.class, () -> new DigitisedCurrent(new double[] {0, 1}, new double[] {1}, 50));
        assertThrows(IllegalArgumentException.class, () -> new DigitisedCurrent(new double[0], new double[0], 50));
    }
}
