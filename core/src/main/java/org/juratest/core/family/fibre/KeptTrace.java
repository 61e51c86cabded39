package org.juratest.core.family.fibre;

import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.juratest.core.quantity.Unit;
import org.juratest.core.trace.Trace;

/** A trace as records keep it: level over distance from the end of the launch lead, and what it was taken with. */
public final class KeptTrace {

    private KeptTrace() {}

    /** A trace as it is kept: level over distance, both as the analysis counts them. */
    static Trace trace(String name, OtdrTrace trace, double zero) {
        double[] x = new double[trace.level().length];
        for (int i = 0; i < x.length; i++) {
            x[i] = trace.position(i) - zero;
        }
        return new Trace(name, Unit.METRE, Unit.DECIBEL, x, trace.level());
    }

    /**
     * What belongs to it, for {@link #of}.
     *
     * @param lead length of the launch lead as it was told, m
     * @param zero where the link begins on the trace, m
     * @param averaging s; absent where it is not known
     */
    static Map<String, String> facts(OtdrTrace trace, double lead, double zero, @Nullable Double averaging) {
        Map<String, String> facts = new TreeMap<>();
        facts.put("wavelength", Double.toString(trace.wavelength()));
        facts.put("pulse", Double.toString(trace.pulse()));
        facts.put("index", Double.toString(trace.groupIndex()));
        facts.put("backscatter", Double.toString(trace.backscatter()));
        facts.put("top", Double.toString(trace.top()));
        facts.put("lead", Double.toString(lead));
        facts.put("zero", Double.toString(zero));
        if (averaging != null) {
            facts.put("averaging", Double.toString(averaging));
        }
        return facts;
    }

    /**
     * The analysis of a trace that was kept.
     *
     * @throws IllegalArgumentException if it was kept without what it was taken with, as earlier versions did
     */
    public static OtdrAnalysis analysis(Trace trace, Map<String, String> facts) {
        return SeenTraces.analysis(of(trace, facts), number(facts, "lead"));
    }

    /** The trace from the front of the instrument; likewise. */
    public static OtdrTrace of(Trace trace, Map<String, String> facts) {
        double[] x = trace.x();
        double spacing = (x[x.length - 1] - x[0]) / (x.length - 1);
        return new OtdrTrace(
                number(facts, "wavelength"),
                number(facts, "pulse"),
                x[0] + number(facts, "zero"),
                spacing,
                number(facts, "index"),
                number(facts, "backscatter"),
                trace.y(),
                number(facts, "top"));
    }

    private static double number(Map<String, String> facts, String name) {
        try {
            return Double.parseDouble(facts.getOrDefault(name, ""));
        } catch (NumberFormatException e) {
            throw new IllegalArgumentException("the trace was kept without its " + name, e);
        }
    }
}
