package org.juratest.core.family.fibre;

import org.jspecify.annotations.Nullable;

/**
 * Something along a fibre, as one trace shows it.
 *
 * @param position of the rising edge of its reflection, or of the begin of its step, m
 * @param loss in the direction of the trace, negative for a gainer, dB; absent at the front, at the end, and where the
 *     fibre beside it is too short for a line
 * @param lossSigma standard deviation of the loss, dB; 0 where there is none
 * @param reflectance dB; absent where nothing reflects
 * @param atLeast whether the peak is cut off, so that it reflects at least so much
 * @param cumulative loss from position 0 to before it, dB
 * @param settled where the trace is backscatter again, m
 */
public record OtdrEvent(
        double position,
        Type type,
        @Nullable Double loss,
        double lossSigma,
        @Nullable Double reflectance,
        boolean atLeast,
        double cumulative,
        double settled) {

    /** Kinds of events. */
    public enum Type {
        /** Where the link begins: the port of the instrument, or the end of the launch lead. */
        LAUNCH,
        REFLECTIVE,
        NON_REFLECTIVE,
        END
    }
}
