package org.juratest.core.family.breakers;

/**
 * What a breaker did after a command, sampled evenly, from a little before the command on.
 *
 * @param perSecond samples a second
 * @param contacts pole by sample: 1 closed, 0 open
 * @param travel of the drive, mm, in either direction
 * @param coil current of the coil, A
 */
public record SwitchingRecord(double perSecond, float[][] contacts, float[] travel, float[] coil) {

    /** Most samples of a channel. */
    public static final int MOST = 200_000;

    /** @throws IllegalArgumentException if channels are not of one length, empty, too long, or hold no numbers */
    public SwitchingRecord {
        int n = travel.length;
        if (!(perSecond > 0 && perSecond <= 1e7) || n < 10 || n > MOST || coil.length != n || contacts.length == 0) {
            throw new IllegalArgumentException(
                    n + " samples at " + perSecond + " a second are no record of an operation");
        }
        for (float[] pole : contacts) {
            if (pole.length != n) {
                throw new IllegalArgumentException("a pole has " + pole.length + " samples of " + n);
            }
            finite(pole);
        }
        finite(travel);
        finite(coil);
    }

    private static void finite(float[] channel) {
        for (int i = 0; i < channel.length; i++) {
            if (!(Math.abs(channel[i]) <= Float.MAX_VALUE)) {
                throw new IllegalArgumentException("sample " + i + " is " + channel[i]);
            }
        }
    }
}
