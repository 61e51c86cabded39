package org.juratest.core.limit;

/** What a reading says of the true value: equal, or only a bound ("did not happen in 60 s" is {@code > 60 s}). */
public enum Qualifier {
    EQUAL("="),
    LESS("<"),
    AT_MOST("<="),
    MORE(">"),
    AT_LEAST(">=");

    private final String sign;

    Qualifier(String sign) {
        this.sign = sign;
    }

    public String sign() {
        return sign;
    }

    /** Whether the true value lies at or above the figure. */
    boolean isLowerBound() {
        return this == MORE || this == AT_LEAST;
    }

    /**
     * The qualifier of a sign.
     *
     * @throws IllegalArgumentException for any other text
     */
    public static Qualifier ofSign(String sign) {
        for (Qualifier qualifier : values()) {
            if (qualifier.sign.equals(sign)) {
                return qualifier;
            }
        }
        throw new IllegalArgumentException("qualifier must be one of = < <= > >=, not \"" + sign + "\"");
    }
}
