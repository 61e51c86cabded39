package org.juratest.simulators.family.breakers;

/** What the leads of the injection set are on. Times are seconds of the gear's own time. */
interface Load {

    /** Of the whole loop, leads included, while it is closed, Ohm. */
    double ohms();

    boolean isClosed();

    /** Of the current when its contacts parted, what still flows past the open device; 0 where nothing does. */
    default double past() {
        return 0;
    }

    /** Somebody closes it by hand, where it is not closed; long ago by its own time where the output was off. */
    void closedByHand(double now);

    /**
     * Time passes with a current.
     *
     * @param rms of the alternating part, A; 0 for none
     * @param seconds how long
     * @param now the gear's time
     */
    void flows(double rms, double seconds, double now);
}
