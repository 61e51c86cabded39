package org.juratest.core.quantity;

/** Two units of different dimensions met where one dimension was needed. */
public final class UnitMismatchException extends IllegalArgumentException {

    private final transient Unit first;
    private final transient Unit second;

    public UnitMismatchException(Unit first, Unit second) {
        super("units do not agree: " + first.code() + " (" + first.dimension() + ") and " + second.code() + " ("
                + second.dimension() + ")");
        this.first = first;
        this.second = second;
    }

    public Unit first() {
        return first;
    }

    public Unit second() {
        return second;
    }
}
