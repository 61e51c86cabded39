package org.juratest.core.family.meters;

/**
 * What a voltage and a current say of one phase (IEEE 1459-2010, 3.1.2): all of it, and its fundamental alone.
 *
 * @param voltage rms of all of it, V
 * @param voltageAngle of its fundamental, degrees from -180 to 180, against that of the first voltage there is
 * @param current rms of all of it, A
 * @param currentAngle likewise; NaN where no current flows
 * @param active P, W: the mean of u i, harmonics and direct part with it; positive into the load
 * @param reactive Q1 of the fundamental, var; positive where the current lags
 * @param apparent S = U I, VA
 * @param distortion D: what of S is neither P nor Q1, var
 * @param powerFactor P / S; NaN where S is 0
 * @param displacement cosine of the angle between the fundamentals; NaN where one of them is 0
 * @param voltageThd what of the voltage is no fundamental, as a share of the fundamental, without its direct part
 * @param currentThd likewise of the current; NaN where no current flows
 */
public record PhaseQuantities(
        double voltage,
        double voltageAngle,
        double current,
        double currentAngle,
        double active,
        double reactive,
        double apparent,
        double distortion,
        double powerFactor,
        double displacement,
        double voltageThd,
        double currentThd) {}
