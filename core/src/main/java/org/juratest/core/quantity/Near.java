package org.juratest.core.quantity;

/** Equality within rounding, relative to magnitude: the one place where "equal" is not {@code ==}. */
public final class Near {

    /**
     * Relative tolerance of a limit comparison. 1e-9 is far above the rounding of a few double operations (0.1 + 0.2
     * against 0.3) and far below what any gear resolves.
     */
    public static final double RELATIVE = 1e-9;

    private Near() {}

    /** Whether two values agree within {@link #RELATIVE} of the larger magnitude. NaN is near nothing. */
    public static boolean equal(double a, double b) {
        return Math.abs(a - b) <= RELATIVE * Math.max(Math.abs(a), Math.abs(b));
    }

    /** {@code a <= b}, equality within tolerance included. False if either is NaN. */
    public static boolean atMost(double a, double b) {
        return a <= b || equal(a, b);
    }

    /** {@code a >= b}, equality within tolerance included. False if either is NaN. */
    public static boolean atLeast(double a, double b) {
        return a >= b || equal(a, b);
    }
}
