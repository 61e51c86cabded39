package org.juratest.simulators.family.breakers;

import java.util.SplittableRandom;

/**
 * One operation of a spring-driven breaker as its parts make it: the armature of the coil pulled in by the square of
 * its current, the latch it frees, the drive that a spring moves and a damper stops, contacts that part or touch on the
 * way. Worked out step by step; nothing of it is a recorded curve.
 */
final class Mechanism {

    /** Samples a second, as they are recorded. */
    static final double RATE = 20_000;
    /** Before the command, s. */
    static final double BEFORE = 0.01;

    private static final int INNER = 10;
    private static final double OHMS = 52;
    private static final double HENRY = 0.5;
    /** What the inductance grows by as the armature closes its gap, of what it was. */
    private static final double GAP = 0.8;
    /** Current at which the armature begins to move, A, with latches as made. */
    private static final double PULLS = 0.9;
    /** Of the armature's way per second squared and ampere squared above the pull. */
    private static final double ARMATURE = 60_000;
    /** Of the drive, mm. */
    private static final double STROKE = 14;
    /** How far the drive goes before contacts part: their springs, mm. */
    private static final double WIPE = 3.2;

    private static final double DRIVE = 90_000;
    private static final double DAMPER_FROM = 10.5;
    /** From the latch to the drive with parts as made, s. */
    private static final double TRAIN = 0.004;
    /** When the armature strikes with parts as made, s. */
    private static final double STRUCK = 0.0145;

    /**
     * What one command does.
     *
     * @param struck when the armature strikes, s from the command
     * @param moments of each pole: its first change and its last, s from the command
     * @param speed over 6 mm at the contacts, m/s
     */
    record Run(float[] travel, float[] coil, float[][] contacts, double struck, double[][] moments, double speed) {}

    private final MvBreakers.MvBreaker truth;
    private final SplittableRandom random;

    Mechanism(MvBreakers.MvBreaker truth, SplittableRandom random) {
        this.truth = truth;
        this.random = random;
    }

    /**
     * Runs it.
     *
     * @param closes whether it closes
     * @param opens whether it opens; after it closed where it does both
     * @param moves whether it is in the state for it
     * @param seconds of the record after the command
     */
    Run run(boolean closes, boolean opens, boolean moves, double voltage, double seconds) {
        int n = (int) ((BEFORE + seconds) * RATE);
        double[] coil = new double[n];
        double[] place = new double[n];
        double scatter = 1 + 0.006 * (random.nextDouble() - 0.5);
        double aim = (closes ? truth.closing() : truth.opening()) * scatter / 1000;
        double struck = coil(coil, 0, voltage, aim, seconds);
        double begins = moves ? begin(struck, aim, closes) : Double.POSITIVE_INFINITY;
        double second = Double.POSITIVE_INFINITY;
        if (closes && opens) {
            // The trip coil gets its command as soon as it has closed: the leads of both are recorded as one.
            double again = aim + 0.03;
            double struckAgain = coil(coil, again, voltage, truth.opening() / 1000, seconds);
            second = moves ? again + begin(struckAgain, truth.opening() * scatter / 1000, false) : second;
        }
        double closed = closes ? 0 : STROKE;
        drive(place, closed, closes, begins, second);
        float[][] contacts = new float[truth.lag().size()][n];
        double[][] moments = new double[contacts.length][];
        for (int pole = 0; pole < contacts.length; pole++) {
            moments[pole] = contact(contacts[pole], place, truth.lag().get(pole) / 1000, closes);
        }
        return new Run(noisy(place, 0.01), noisy(coil, 0.006), contacts, struck, moments, speed(place, closes));
    }

    /** Friction of the latch adds to the way from the armature to the drive. */
    private double begin(double struck, double aim, boolean closes) {
        double asMade = aim - reach(closes) - TRAIN;
        return struck + Math.max(0.002, asMade - STRUCK) + TRAIN * truth.friction();
    }

    /** From when the drive moves until contacts part or touch, s. */
    private static double reach(boolean closes) {
        return Math.sqrt(2 * (closes ? STROKE - WIPE : WIPE) / DRIVE);
    }

    /** The coil's current from a command on, A; s from the command to when its armature struck. */
    private double coil(double[] into, double from, double voltage, double aim, double seconds) {
        double dt = 1 / RATE / INNER;
        double current = 0;
        double way = 0;
        double velocity = 0;
        double struck = Double.POSITIVE_INFINITY;
        double pull = PULLS * Math.sqrt(truth.friction());
        double ends = aim + 0.012;
        for (int i = (int) ((BEFORE + from) * RATE); i < into.length; i++) {
            double t = i / RATE - BEFORE - from;
            if (t > Math.min(ends, seconds)) {
                current *= 0.8;
                into[i] += current;
                continue;
            }
            for (int k = 0; k < INNER; k++) {
                double force = way < 1 ? current * current - pull * pull : 0;
                velocity = way < 1 ? Math.max(0, velocity + ARMATURE * force * dt) : 0;
                way = Math.min(1, way + velocity * dt);
                // The nearer the armature, the larger the inductance; while it moves it takes voltage of its own.
                double henry = HENRY * (1 + GAP * way);
                current += (voltage - current * OHMS - current * HENRY * GAP * velocity) / henry * dt;
                if (way >= 1 && struck == Double.POSITIVE_INFINITY) {
                    struck = t + k * dt;
                }
            }
            current = Math.max(0, current);
            into[i] += current;
        }
        return struck;
    }

    /** Where the drive is, mm: 0 open, {@link #STROKE} closed. */
    private void drive(double[] place, double from, boolean closes, double begins, double second) {
        double x = from;
        double v = 0;
        boolean up = closes;
        double dt = 1 / RATE / INNER;
        for (int i = 0; i < place.length; i++) {
            double t = i / RATE - BEFORE;
            if (t >= second) {
                up = false;
            }
            boolean moving = t >= begins;
            for (int k = 0; moving && k < INNER; k++) {
                double done = up ? x : STROKE - x;
                double towards = up ? 1 : -1;
                double a = towards * DRIVE;
                if (done > DAMPER_FROM) {
                    a -= 420 * truth.damper() * v;
                }
                if (done > STROKE) {
                    a -= towards * 9e5 * (done - STROKE) + 200 * v;
                }
                v += a * dt;
                x += v * dt;
            }
            place[i] = x;
        }
    }

    /** Closed or open, sample by sample; gives the moments of its first change and its last, s from the command. */
    private double[] contact(float[] into, double[] place, double lag, boolean closes) {
        int late = (int) Math.round(lag * RATE);
        double touched = Double.NaN;
        double first = Double.NaN;
        double last = Double.NaN;
        double bounce = 0.0006 + 0.0006 * random.nextDouble();
        for (int i = 0; i < place.length; i++) {
            double x = place[Math.max(0, i - late)];
            boolean closed = x > (STROKE - WIPE);
            double t = i / RATE - BEFORE;
            if (closed && Double.isNaN(touched)) {
                touched = t;
            }
            if (closes && closed && t - touched > 0.0004 && t - touched < 0.0004 + bounce) {
                closed = false;
            }
            into[i] = closed ? 1 : 0;
            if (i > 0 && into[i] != into[i - 1]) {
                first = Double.isNaN(first) ? t : first;
                last = t;
            }
        }
        return new double[] {first, last};
    }

    /** Mean over 6 mm at the contacts, m/s. */
    private static double speed(double[] place, boolean closes) {
        double at = STROKE - WIPE;
        double other = at - 6;
        double first = Double.NaN;
        double last = Double.NaN;
        for (int i = 1; i < place.length; i++) {
            if ((place[i] - at) * (place[i - 1] - at) <= 0 && Double.isNaN(first)) {
                first = i / RATE;
            }
            if ((place[i] - other) * (place[i - 1] - other) <= 0 && Double.isNaN(last)) {
                last = i / RATE;
            }
        }
        return 0.006 / Math.abs(closes ? first - last : last - first);
    }

    private float[] noisy(double[] values, double by) {
        float[] told = new float[values.length];
        for (int i = 0; i < told.length; i++) {
            told[i] = (float) (values[i] + by * (random.nextDouble() + random.nextDouble() - 1));
        }
        return told;
    }
}
