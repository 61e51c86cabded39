package org.juratest.core.signal;

/**
 * The pseudo-random sequence of ITU-T O.153, 2.1, as its text has it: a register of nine stages, whose fifth and ninth
 * are added modulo two and fed back to the first. Written apart from the program's own, to be what that is held to.
 */
public final class ShiftRegister {

    private static final int STAGES = 9;

    private ShiftRegister() {}

    /** Bits of the ninth stage, from a register full of ones on. */
    public static boolean[] bits(int count) {
        boolean[] stages = new boolean[STAGES + 1];
        java.util.Arrays.fill(stages, true);
        boolean[] bits = new boolean[count];
        for (int n = 0; n < count; n++) {
            bits[n] = stages[9];
            boolean fed = stages[5] ^ stages[9];
            System.arraycopy(stages, 1, stages, 2, STAGES - 1);
            stages[1] = fed;
        }
        return bits;
    }
}
