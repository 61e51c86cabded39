package org.juratest.core.run;

import java.time.Instant;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.Discharge;

/**
 * What may still be charged after an output, until it was earthed for its time.
 *
 * @param rule what has to be done
 * @param offAt when the output was switched off
 * @param timeFactor how much faster than the clock the gear's time ran
 * @param residual voltage left, V; absent before it was measured
 * @param earthedAt when it was earthed; absent before
 */
public record Charge(
        Discharge rule, Instant offAt, double timeFactor, @Nullable Double residual, @Nullable Instant earthedAt) {

    /** A step on a lane. */
    public record Place(String step, String lane) {}

    /** When it has been earthed for long enough; absent before it was earthed. */
    public @Nullable Instant free() {
        return earthedAt == null ? null : earthedAt.plusMillis(Math.round(rule.earthMinutes() * 60_000 / timeFactor));
    }

    /** Whether something still has to be done or waited for. */
    public boolean holds(Instant now) {
        Instant free = free();
        return free == null || now.isBefore(free);
    }

    Charge measured(double volts) {
        return new Charge(rule, offAt, timeFactor, volts, null);
    }

    Charge earthed(Instant at) {
        return new Charge(rule, offAt, timeFactor, residual, at);
    }
}
