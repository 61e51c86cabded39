package org.juratest.core.correction;

import java.util.List;

/**
 * What a cable, an attenuator or several in line take off a signal, by frequency. Between points it is linear in dB
 * over the root of frequency, as the skin effect makes the loss of a cable (IEC 61196-1); beyond them it stays as at
 * the nearest, and {@link #covers} says that it does.
 *
 * @param points at least one, ascending in frequency
 */
public record PathLoss(List<LossPoint> points) {

    /**
     * @param megahertz above 0
     * @param decibels loss, positive for what is lost
     */
    public record LossPoint(double megahertz, double decibels) {
        public LossPoint {
            if (!(megahertz > 0 && megahertz <= 1e6)) {
                throw new IllegalArgumentException("a frequency of " + megahertz + " MHz makes no sense");
            }
            if (!(Math.abs(decibels) <= 200)) {
                throw new IllegalArgumentException("a loss of " + decibels + " dB makes no sense");
            }
        }
    }

    public PathLoss {
        points = List.copyOf(points);
        if (points.isEmpty()) {
            throw new IllegalArgumentException("a path loss needs at least one point");
        }
        for (int n = 1; n < points.size(); n++) {
            if (!(points.get(n).megahertz > points.get(n - 1).megahertz)) {
                throw new IllegalArgumentException("points ascend in frequency; " + points.get(n).megahertz
                        + " MHz comes after " + points.get(n - 1).megahertz);
            }
        }
    }

    /** Loss at a frequency in Hz, dB. */
    public double at(double hertz) {
        double megahertz = hertz / 1e6;
        if (!(megahertz > points.get(0).megahertz)) {
            return points.get(0).decibels;
        }
        for (int n = 1; n < points.size(); n++) {
            LossPoint above = points.get(n);
            if (megahertz <= above.megahertz) {
                LossPoint below = points.get(n - 1);
                double share = (Math.sqrt(megahertz) - Math.sqrt(below.megahertz))
                        / (Math.sqrt(above.megahertz) - Math.sqrt(below.megahertz));
                return below.decibels + share * (above.decibels - below.decibels);
            }
        }
        return points.get(points.size() - 1).decibels;
    }

    /** Whether a frequency in Hz lies between the first and the last point. */
    public boolean covers(double hertz) {
        double megahertz = hertz / 1e6;
        return megahertz >= points.get(0).megahertz && megahertz <= points.get(points.size() - 1).megahertz;
    }
}
