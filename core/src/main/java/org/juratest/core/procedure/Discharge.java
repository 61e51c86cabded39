package org.juratest.core.procedure;

/**
 * What is done with an object that stays charged when the output is off: the voltage that is left is measured, then it
 * is earthed by hand, and stays earthed for a time.
 *
 * @param below the residual voltage at which it may be earthed, V
 * @param earthMinutes how long it stays earthed before anything else starts
 * @param text what the person confirms
 */
public record Discharge(double below, double earthMinutes, String text) {
    public Discharge {
        if (!(below > 0 && below <= 1000) || !(earthMinutes >= 0 && earthMinutes <= 1440)) {
            throw new IllegalArgumentException("an object is earthed from a voltage above 0 and up to 1000 V, and for "
                    + "at most a day, not from " + below + " V for " + earthMinutes + " min");
        }
    }
}
