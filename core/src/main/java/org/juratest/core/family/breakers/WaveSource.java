package org.juratest.core.family.breakers;

import org.juratest.core.port.SetPoint;

/**
 * Injects currents that are not held until something trips: pulses, ramps, and currents that may come and go; and
 * digitises what flows.
 */
public interface WaveSource extends CurrentSource {

    /**
     * What flowed since the output went on last.
     *
     * @param perSecond samples a second
     * @param samples A
     */
    record Wave(double perSecond, float[] samples) {

        /** Times of the samples, s. */
        double[] time() {
            double[] time = new double[samples.length];
            for (int i = 0; i < time.length; i++) {
                time[i] = i / perSecond;
            }
            return time;
        }

        double[] value() {
            double[] value = new double[samples.length];
            for (int i = 0; i < value.length; i++) {
                value[i] = samples[i];
            }
            return value;
        }
    }

    /**
     * Prepares one pulse; it ends by itself.
     *
     * @param current A rms of its alternating part
     * @param range greatest current of the range to use, A rms
     * @param seconds how long it is
     * @param degrees point on the wave where it begins
     */
    void preparePulse(
            @SetPoint("current") double current, double range, @SetPoint("time") double seconds, double degrees);

    /**
     * Prepares a current that grows evenly, then stays.
     *
     * @param to where it ends, A rms
     * @param range greatest current of the range to use, A rms
     * @param from where it begins, A rms
     * @param perSecond how much it grows, A/s
     * @param timeLimit s after which the gear switches off by itself
     */
    void prepareRamp(
            @SetPoint("current") double to,
            double range,
            @SetPoint("current") double from,
            double perSecond,
            @SetPoint("time") double timeLimit);

    /**
     * Prepares a current that is given as it comes, without being held, whatever opens and closes meanwhile.
     *
     * @param current A rms
     * @param range greatest current of the range to use, A rms
     * @param timeLimit s after which the gear switches off by itself
     */
    void prepareSustained(@SetPoint("current") double current, double range, @SetPoint("time") double timeLimit);

    /** What was digitised since the output went on last; the output is off. */
    Wave wave();
}
