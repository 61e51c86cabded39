package org.juratest.core.procedure;

import org.jspecify.annotations.Nullable;

/**
 * Gear a procedure needs.
 *
 * @param role role of the gear: {@code current-source}, {@code micro-ohmmeter}, {@code insulation-tester}
 * @param needs what it must be able to do, in words
 * @param measures false for what measures nothing itself (a data port), and so needs no calibration; absent: true
 */
public record GearNeed(String id, String role, String needs, @Nullable Boolean measures) {

    public GearNeed(String id, String role, String needs) {
        this(id, role, needs, null);
    }

    /** Whether its calibration must hold. */
    public boolean calibrated() {
        return !Boolean.FALSE.equals(measures);
    }
}
