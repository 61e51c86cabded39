package org.juratest.core.family.meters;

/**
 * A sinusoidal quantity.
 *
 * @param re real part, rms
 * @param im imaginary part, rms
 */
public record Phasor(double re, double im) {

    public static final Phasor ZERO = new Phasor(0, 0);

    /** @param degrees by which it leads */
    public static Phasor of(double rms, double degrees) {
        double a = Math.toRadians(degrees);
        return new Phasor(rms * Math.cos(a), rms * Math.sin(a));
    }

    public double rms() {
        return Math.hypot(re, im);
    }

    /** Degrees, above -180, at most 180; 0 for nothing. */
    public double degrees() {
        double a = Math.toDegrees(Math.atan2(im, re));
        return a <= -180 ? a + 360 : a;
    }

    public Phasor plus(Phasor other) {
        return new Phasor(re + other.re, im + other.im);
    }

    public Phasor times(double factor) {
        return new Phasor(re * factor, im * factor);
    }

    /** Turned on by so many degrees. */
    public Phasor turned(double degrees) {
        double a = Math.toRadians(degrees);
        return new Phasor(re * Math.cos(a) - im * Math.sin(a), re * Math.sin(a) + im * Math.cos(a));
    }

    /** Degrees by which it lags behind another, from -180 to 180: the angle of a load's current behind its voltage. */
    public double behind(Phasor other) {
        double a = other.degrees() - degrees();
        double turned = Math.IEEEremainder(a, 360);
        return turned <= -180 ? 180 : turned;
    }
}
