package org.juratest.simulators.family.radios;

/** The test pattern that gear and radios send: 511 bits, each the exclusive or of the fifth and the ninth before it. */
final class Pattern {

    private static final boolean[] BITS = new boolean[511];

    static {
        boolean[] register = {true, true, true, true, true, true, true, true, true};
        for (int n = 0; n < BITS.length; n++) {
            boolean next = register[4] ^ register[8];
            System.arraycopy(register, 0, register, 1, 8);
            register[0] = next;
            BITS[n] = next;
        }
    }

    private Pattern() {}

    static boolean bit(int place) {
        return BITS[Math.floorMod(place, BITS.length)];
    }
}
