package org.juratest.core.plan;

import java.time.LocalDate;

/** Something that happened to an asset and may ask for an extra test. */
public record Happening(Occasion occasion, LocalDate day) {

    public Happening {
        if (occasion == Occasion.INTERVAL) {
            throw new IllegalArgumentException("an interval is not something that happens");
        }
    }
}
