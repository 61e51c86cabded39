package org.juratest.core.method;

import org.jspecify.annotations.Nullable;
import org.juratest.core.port.GearException;
import org.juratest.core.run.OutputEvents;

/** The measurement was told to stop. */
public final class StopException extends RuntimeException {

    private final OutputEvents.OffReason reason;
    private final transient @Nullable GearException fault;

    StopException(OutputEvents.OffReason reason, String words, @Nullable GearException fault) {
        super(words, null, false, false);
        this.reason = reason;
        this.fault = fault;
    }

    /** What the gear did where that is why; absent where something else is. */
    public @Nullable GearException fault() {
        return fault;
    }

    public OutputEvents.OffReason reason() {
        return reason;
    }
}
