package org.juratest.core.family.breakers;

import java.time.Duration;
import java.util.Locale;
import java.util.Map;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.port.GearException;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.ReadBack;

/**
 * Whether the leads are on well, by a small current before any large one: it finds the impedance of the circuit, which
 * decides the output range.
 *
 * @param good whether the large current may follow
 * @param isOpen whether nothing flows at all
 * @param range greatest current of the range to use, A
 * @param words what was found
 */
record CircuitCheck(boolean good, boolean isOpen, double range, String words) {

    /** The check injection ends by itself after this time, s. */
    static final double LIMIT = 2;

    private static final Duration CHECK = Duration.ofMillis(200);
    /** Share of the check current below which the circuit counts as open. */
    private static final double OPEN_BELOW = 0.5;
    /** Voltage kept in hand for the device's resistance rising as it heats. */
    private static final double HEADROOM = 1.1;

    private static final String CURRENT = "checkCurrent";
    private static final String IMPEDANCE = "greatestImpedance";

    /** The parameters it needs, put to those of a method. */
    static MethodSpec.Builder params(MethodSpec.Builder to) {
        return to.param(CURRENT, Unit.AMPERE, 0.1, 1000).param(IMPEDANCE, Unit.MILLIOHM, 0.001, 10_000);
    }

    /** The small current, A. */
    static double current(MethodBench bench) {
        return bench.param(CURRENT);
    }

    /**
     * Checks.
     *
     * @param current that is to follow, A
     */
    static CircuitCheck of(MethodBench bench, CurrentSource source, double current) {
        double checkCurrent = bench.param(CURRENT);
        source.prepare(checkCurrent, source.ranges().get(0).current(), LIMIT);
        bench.stop().switchOn(source::outputOn);
        bench.stop().pause(CHECK);
        CurrentSource.Injection seen = source.read();
        ReadBack off = source.makeSafe();
        if (!off.off()) {
            throw new GearException(
                    GearException.Fault.SILENT, "it did not confirm that the check current is off: " + off.words());
        }
        CircuitCheck check = judged(bench, source, seen, checkCurrent, current);
        double ohms = seen.current() > 0 ? seen.voltage() / seen.current() : Double.NaN;
        bench.connectionChecked(
                check.good,
                check.words,
                ohms <= Double.MAX_VALUE
                        ? Map.of("impedance", new Quantity(Unit.OHM.convert(ohms, Unit.MILLIOHM), Unit.MILLIOHM))
                        : Map.of());
        return check;
    }

    private static CircuitCheck judged(
            MethodBench bench,
            CurrentSource source,
            CurrentSource.Injection seen,
            double checkCurrent,
            double current) {
        if (!(seen.current() >= OPEN_BELOW * checkCurrent) || seen.cause() == CurrentSource.OffCause.OPEN) {
            return new CircuitCheck(
                    false,
                    true,
                    0,
                    String.format(
                            Locale.ROOT, "the circuit is open: %.3g A flowed of %.3g A", seen.current(), checkCurrent));
        }
        double ohms = seen.voltage() / seen.current();
        double greatest = bench.param(IMPEDANCE);
        if (!(ohms <= greatest)) {
            return new CircuitCheck(
                    false,
                    false,
                    0,
                    String.format(
                            Locale.ROOT,
                            "the connection is poor: %.3g mΩ, at most %.3g mΩ. Clean and tighten the clamps",
                            ohms * 1e3,
                            greatest * 1e3));
        }
        for (CurrentSource.Range range : source.ranges()) {
            if (range.current() >= current && range.compliance() >= HEADROOM * current * ohms) {
                return new CircuitCheck(
                        true,
                        false,
                        range.current(),
                        String.format(Locale.ROOT, "the connection is good: %.3g mΩ", ohms * 1e3));
            }
        }
        return new CircuitCheck(
                false,
                false,
                0,
                String.format(
                        Locale.ROOT,
                        "no range of the gear drives %.4g A through %.3g mΩ. Use shorter or thicker leads",
                        current,
                        ohms * 1e3));
    }

    /** How a measurement ends whose check was not good. */
    Method.Result failed(MethodBench bench, String point) {
        return isOpen
                ? open(bench, point, words)
                : new Method.Result(Attempt.Outcome.CONNECTION_FAILED, OutputEvents.OffReason.CIRCUIT_OPEN, words);
    }

    /** Where nothing flows it may be a lead that is off, or a device that does not close: a person says which. */
    static Method.Result open(MethodBench bench, String point, String words) {
        bench.noValue(point, words);
        return new Method.Result(
                Attempt.Outcome.UNCLEAR,
                OutputEvents.OffReason.CIRCUIT_OPEN,
                words + ". Are the leads on, and is the breaker closed?");
    }

    /** How a measurement ends that the gear ended; absent where it ended by itself. */
    static Method.Result ended(MethodBench bench, CurrentSource.OffCause cause) {
        switch (cause) {
            case ESTOP:
                return new Method.Result(
                        Attempt.Outcome.ABORTED,
                        OutputEvents.OffReason.EMERGENCY_STOP,
                        "the emergency stop of the gear was pressed");
            case WATCHDOG:
                return new Method.Result(
                        Attempt.Outcome.ABORTED,
                        OutputEvents.OffReason.GEAR_WATCHDOG,
                        "the gear's watchdog switched it off");
            default:
                bench.stop().check();
                return new Method.Result(
                        Attempt.Outcome.ABORTED, OutputEvents.OffReason.STOPPED, "the output was switched off");
        }
    }
}
