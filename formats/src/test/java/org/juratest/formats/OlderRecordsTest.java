package org.juratest.formats;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import org.juratest.core.limit.Verdict;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.Event;
import org.juratest.core.run.PointJudgement;
import org.juratest.core.run.Reading;
import org.juratest.core.run.RunJudgement;
import org.juratest.core.run.RunState;
import org.juratest.core.run.UnknownEvent;
import org.juratest.formats.run.EventChain;
import org.juratest.formats.run.EventCodec;

/**
 * Records as earlier versions of the program stored them, byte for byte: they stay readable, their chains hold, and
 * what they came to is still what the same readings come to. One was measured at the bench, the others are the demo's.
 */
class OlderRecordsTest {

    private static List<byte[]> bodies(String name) throws IOException {
        try (InputStream in =
                Objects.requireNonNull(OlderRecordsTest.class.getResourceAsStream("/records/" + name + ".jsonl"))) {
            List<byte[]> bodies = new ArrayList<>();
            for (String line : new String(in.readAllBytes(), StandardCharsets.UTF_8).split("\n")) {
                bodies.add(line.getBytes(StandardCharsets.UTF_8));
            }
            return bodies;
        }
    }

    private static RunState told(String name) throws IOException {
        return RunState.of(bodies(name).stream().map(EventCodec::read).toList());
    }

    @ParameterizedTest
    @ValueSource(strings = {"breaker-measured", "breaker-demo", "radio-demo"})
    void theChainHoldsAndNothingInItIsUnknown(String name) throws IOException {
        List<byte[]> bodies = bodies(name);
        List<Event> events = bodies.stream().map(EventCodec::read).toList();
        assertEquals(
                Optional.empty(),
                EventChain.check(
                        events.get(0).run(), bodies, EventCodec.hash(bodies.get(bodies.size() - 1)), bodies.size()));
        assertTrue(events.stream().noneMatch(e -> e.data() instanceof UnknownEvent));
    }

    /** Figures of the frozen judgement, and of the same readings judged by today's code. */
    @ParameterizedTest
    @ValueSource(strings = {"breaker-measured", "breaker-demo", "radio-demo"})
    void theSameReadingsComeToTheSame(String name) throws IOException {
        RunState state = told(name);
        RunJudgement frozen = Objects.requireNonNull(state.finished()).judgement();
        RunJudgement now = RunJudgement.of(state);
        assertEquals(frozen.verdict(), now.verdict());
        assertEquals(frozen.complete(), now.complete());
        assertEquals(frozen.firstFailed(), now.firstFailed());
        assertFalse(frozen.points().isEmpty());
        assertEquals(frozen.points().size(), now.points().size());
        for (int n = 0; n < frozen.points().size(); n++) {
            PointJudgement then = frozen.points().get(n);
            PointJudgement today = now.points().get(n);
            assertEquals(then.key(), today.key());
            assertEquals(then.verdict(), today.verdict(), then.key().toString());
            assertEquals(then.asFound(), today.asFound(), then.key().toString());
            assertEquals(then.asLeft(), today.asLeft(), then.key().toString());
            assertEquals(then.limit(), today.limit(), then.key().toString());
            assertEquals(then.marginUsed(), today.marginUsed(), then.key().toString());
        }
    }

    @ParameterizedTest
    @CsvSource({
        "breaker-demo, longTime/time/B, 22.522, PASS",
        "breaker-demo, contact/r/C, 268.6, PASS",
        "radio-demo, txSubTone/frequency/vhf, 123.02, PASS"
    })
    void figuresAreWhatTheyWere(String name, String key, double value, Verdict verdict) throws IOException {
        PointJudgement point = RunJudgement.of(told(name)).points().stream()
                .filter(p -> p.key().equals(PointKey.parse(key)))
                .findFirst()
                .orElseThrow();
        assertEquals(value, Objects.requireNonNull(point.counting()).value(), Math.abs(value) * 1e-3);
        assertEquals(verdict, point.verdict());
    }

    @Test
    void whatWasKeptAsATraceIsACapture() throws IOException {
        List<AttemptEvents.Captured> traces = told("breaker-measured").captures(AttemptEvents.CaptureKind.TRACE);
        assertFalse(traces.isEmpty());
        for (AttemptEvents.Captured trace : traces) {
            assertEquals("Injected current", trace.name());
            assertEquals("s", trace.facts().get("xUnit"));
            assertEquals("A", trace.facts().get("yUnit"));
            assertTrue(Integer.parseInt(trace.facts().get("points")) > 5);
        }
    }

    @Test
    void aCorrectionThatWasToldAsAFactorStillIs() throws IOException {
        Reading insulation = told("breaker-demo")
                .attempts("insulation", "A-B")
                .get(0)
                .readings()
                .get(0);
        Reading.Correction correction = insulation.corrections().get(0);
        assertNotNull(insulation.raw());
        assertEquals(insulation.value(), insulation.raw() * Objects.requireNonNull(correction.factor()), 1e-6);
    }
}
