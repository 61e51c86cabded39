package org.juratest.core.family.breakers;

import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.juratest.core.method.Announced;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Announcement.Bound;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.OutputEvents;

/** What all methods by secondary injection have in common: bounds, one injection, how it ends. */
final class RelayInjection {

    static final String ROLE = "relay-test-set";
    private static final Duration POLL = Duration.ofMillis(25);

    private RelayInjection() {}

    static MethodSpec.Builder spec(String name) {
        return MethodSpec.named(name)
                .hazard(MethodSpec.Hazard.CURRENT)
                .ports(ROLE)
                .maximum("current", Unit.AMPERE, 200)
                .maximum("time", Unit.SECOND, 600);
    }

    /**
     * Announces it.
     *
     * @param current the greatest it will give, A
     * @param voltage likewise, V; 0 for none
     * @param seconds of one injection
     */
    static Announced announced(Step step, String words, double current, double voltage, double seconds) {
        double greatest = Method.base(step.maxima(), "current");
        double longest = Method.base(step.maxima(), "time");
        Method.within("current", current, greatest);
        Method.within("seconds", seconds, longest);
        Map<String, Quantity> settings = new LinkedHashMap<>();
        settings.put("current", Quantity.amperes(current));
        if (voltage > 0) {
            settings.put("voltage", new Quantity(voltage, Unit.VOLT));
        }
        settings.put("time", Quantity.seconds(seconds));
        return new Announced(
                words,
                settings,
                List.of(
                        Bound.upTo("current", current, "A", "announced"),
                        Bound.upTo("current", greatest, "A", "the procedure's greatest current"),
                        Bound.upTo("voltage", voltage, "V", "announced"),
                        Bound.upTo("time", seconds, "s", "announced"),
                        Bound.upTo("time", longest, "s", "the procedure's greatest time")),
                Set.of(RelayTestSet.class),
                seconds);
    }

    /** Lets what was prepared run to its end; what it came to. */
    static CurrentSource.Injection run(MethodBench bench, RelayTestSet set, Map<String, Quantity> told) {
        bench.stop().switchOn(set::outputOn);
        CurrentSource.Injection now = set.read();
        while (now.on()) {
            Map<String, Quantity> values = new LinkedHashMap<>(told);
            values.put("current", Quantity.amperes(now.current()));
            values.put("elapsed", Quantity.seconds(now.elapsed()));
            bench.progress(values);
            bench.stop().pause(POLL);
            now = set.read();
        }
        return now;
    }

    static CurrentSource.OffCause cause(CurrentSource.Injection end) {
        return end.cause() == null ? CurrentSource.OffCause.COMMAND : end.cause();
    }

    /** Whether an injection ended as a measurement does: by a contact, or by its time. */
    static boolean measured(CurrentSource.Injection end) {
        return cause(end) == CurrentSource.OffCause.TRIP || cause(end) == CurrentSource.OffCause.LIMIT;
    }

    /** An open current path is a lead or a shorting link: a person says which. */
    static Method.Result ended(MethodBench bench, CurrentSource.Injection end, String point) {
        if (cause(end) != CurrentSource.OffCause.OPEN) {
            return CircuitCheck.ended(bench, cause(end));
        }
        String words = "no current flows into the relay: are the leads on its side of the test block?";
        bench.connectionChecked(false, words, Map.of());
        bench.noValue(point, words);
        return new Method.Result(Attempt.Outcome.UNCLEAR, OutputEvents.OffReason.CIRCUIT_OPEN, words);
    }
}
