package org.juratest.core.family.fibre;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotSame;
import static org.junit.jupiter.api.Assertions.assertSame;

import org.junit.jupiter.api.Test;

class SeenTracesTest {

    private static OtdrTrace trace(long seed) {
        return new MadeFibre(2, 100)
                .noise(30, seed)
                .splice(3000, 0.3)
                .end(8000, -14)
                .trace();
    }

    private static OtdrTrace with(OtdrTrace of, double spacing, double pulse, double[] level) {
        return new OtdrTrace(
                of.wavelength(), pulse, of.first(), spacing, of.groupIndex(), of.backscatter(), level, of.top());
    }

    @Test
    void aTraceThatWasKeptIsTheOneThatWasAnalysedAndItsFiguresAreThose() {
        SeenTraces seen = new SeenTraces(1_000_000);
        OtdrTrace trace = trace(1);
        OtdrAnalysis first = seen.of(trace, 1000.0);
        OtdrTrace kept = KeptTrace.of(
                KeptTrace.trace("Trace", trace, first.zero()), KeptTrace.facts(trace, 1000, first.zero(), 10.0));
        assertSame(first, seen.of(kept, 1000.0));
        OtdrAnalysis anew = Otdr.analyse(kept, 1000.0);
        assertEquals(anew.events().size(), first.events().size());
        assertEquals(anew.loss(), first.loss(), 1e-9);
    }

    @Test
    void whatDiffersInOneSampleALeadAPulseOrItsSpacingIsAnalysedByItself() {
        SeenTraces seen = new SeenTraces(1_000_000);
        OtdrTrace trace = trace(1);
        OtdrAnalysis first = seen.of(trace, null);
        double[] other = trace.level().clone();
        other[700] += 1e-9;
        assertNotSame(first, seen.of(with(trace, trace.spacing(), trace.pulse(), other), null));
        assertNotSame(first, seen.of(with(trace, trace.spacing(), 200, trace.level()), null));
        assertNotSame(first, seen.of(trace, 500.0));
        OtdrAnalysis wider = seen.of(with(trace, 2.5, trace.pulse(), trace.level()), null);
        assertEquals(1.25, wider.length() / first.length(), 1e-3);
    }

    @Test
    void theOnesSeenLongestAgoAreLetGo() {
        SeenTraces seen = new SeenTraces(2 * trace(1).level().length);
        OtdrAnalysis first = seen.of(trace(1), null);
        OtdrAnalysis second = seen.of(trace(2), null);
        assertSame(first, seen.of(trace(1), null));
        seen.of(trace(3), null);
        assertSame(first, seen.of(trace(1), null));
        assertNotSame(second, seen.of(trace(2), null));
    }
}
