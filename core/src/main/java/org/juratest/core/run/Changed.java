package org.juratest.core.run;

import org.jspecify.annotations.Nullable;

/**
 * What of a step is otherwise in a run than its procedure says.
 *
 * @param name of a parameter, or id of the point whose limit it is
 * @param lane on which; absent for all
 */
public record Changed(String step, String name, @Nullable String lane) {

    /** The same on all lanes. */
    Changed onAll() {
        return new Changed(step, name, null);
    }

    /** The same on one lane. */
    Changed on(String other) {
        return new Changed(step, name, other);
    }

    /** Whether it is of the same thing, on whatever lanes. */
    boolean isOf(Changed other) {
        return step.equals(other.step) && name.equals(other.name);
    }

    @Override
    public String toString() {
        return step + "/" + name + (lane == null ? "" : "/" + lane);
    }
}
