package org.juratest.core.family.fibre;

import java.util.Locale;

/**
 * Whether the connection at the front is good enough to measure through: a bad one spoils all that comes behind it. It
 * is told from a short first shot: by what the connection reflects and loses, and by the level of the backscatter
 * before it.
 *
 * @param quality of the connection
 * @param words what was seen, and what to do about it
 */
public record LaunchCheck(Quality quality, String words) {

    /** Reflectance of a port that is still good, dB. */
    private static final double GOOD = -40;
    /** And one that is none any more. */
    private static final double POOR = -30;
    /** Loss of the connection, or of level against what the instrument has with a good one, dB. */
    private static final double LOST = 0.5;

    private static final double LOST_POOR = 1.5;

    /** Grades. */
    public enum Quality {
        GOOD,
        FAIR,
        POOR,
        /** There is no backscatter at all. */
        NONE
    }

    /**
     * Judges a first shot.
     *
     * @param expected level of the backscatter at the front with a good connection, dB on the scale of the trace; NaN
     *     where it is not known
     */
    public static LaunchCheck of(OtdrAnalysis shot, double expected) {
        if (shot.events().isEmpty()) {
            return new LaunchCheck(
                    Quality.NONE, "No light comes back: is the right fibre connected, and the connector seated?");
        }
        OtdrEvent port = shot.events().get(0);
        double reflectance = port.reflectance() == null ? -70 : port.reflectance();
        double lost = expected - shot.frontLevel();
        double loss = port.loss() == null ? 0 : port.loss();
        boolean poor = reflectance > POOR || lost > LOST_POOR || loss > LOST_POOR;
        boolean good = reflectance <= GOOD && !(lost > LOST || loss > LOST);
        String seen = String.format(
                Locale.ROOT,
                "it reflects %s%.0f dB%s%s",
                port.atLeast() ? "at least " : "",
                reflectance,
                loss > LOST ? String.format(Locale.ROOT, " and loses %.1f dB", loss) : "",
                lost > LOST
                        ? String.format(Locale.ROOT, ", %.1f dB less light than with a good connection", lost)
                        : "");
        return good
                ? new LaunchCheck(Quality.GOOD, "Connection good: " + seen + ".")
                : new LaunchCheck(
                        poor ? Quality.POOR : Quality.FAIR,
                        "Connection " + (poor ? "poor" : "fair") + ": " + seen
                                + ". Clean both end faces, inspect them, connect again.");
    }
}
