package org.juratest.core.family.meters;

import org.juratest.core.port.SetPoint;

/** Tests an instrument transformer that is out of service, from its terminals. */
public interface TransformerAnalyser extends MeterOutput {

    /**
     * A direct current through the secondary winding, until its voltage is steady.
     *
     * @param volts alternating: 0
     * @param seconds after which the gear switches off by itself
     */
    void prepareWinding(
            @SetPoint("voltage") double volts, @SetPoint("current") double amperes, @SetPoint("time") double seconds);

    /** Drives the core through its whole loop, then smaller and smaller down to nothing. */
    void prepareDemagnetising(
            @SetPoint("voltage") double volts, @SetPoint("current") double amperes, @SetPoint("time") double seconds);

    /**
     * A voltage on the secondary that grows to a greatest one, or until the greatest current magnetises the core, and
     * falls again.
     *
     * @param points of the curve, from a hundredth of the greatest voltage on
     */
    void prepareExcitation(
            @SetPoint("voltage") double volts,
            @SetPoint("current") double amperes,
            int points,
            @SetPoint("time") double seconds);

    /**
     * A voltage on the secondary, and the voltage over the primary conductor.
     *
     * @param amperes that may magnetise the core meanwhile, at most
     */
    void prepareRatio(
            @SetPoint("voltage") double volts, @SetPoint("current") double amperes, @SetPoint("time") double seconds);

    /**
     * A voltage on the primary of a voltage transformer, and the voltage at its secondary terminals.
     *
     * @param amperes that may flow into the primary, at most
     */
    void prepareVoltageRatio(
            @SetPoint("voltage") double volts, @SetPoint("current") double amperes, @SetPoint("time") double seconds);

    /** Of the last one: the voltage at the secondary, its angle against that on the primary. */
    Phasor secondary();

    /**
     * The curve that was taken last.
     *
     * @param amperes rms, ascending; {@code volts} rms at each
     */
    record Curve(double[] amperes, double[] volts) {}

    Curve curve();

    /** Of the last ratio: the voltage over the primary conductor, its angle against that of the secondary. */
    Phasor primary();
}
