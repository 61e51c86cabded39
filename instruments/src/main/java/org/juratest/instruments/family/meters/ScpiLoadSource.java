package org.juratest.instruments.family.meters;

import org.juratest.core.family.meters.LoadSource;

/** A three-phase source with a reference in it that speaks SCPI over TCP. */
public final class ScpiLoadSource extends ScpiMeterGear implements LoadSource {

    public ScpiLoadSource(String host, int port) {
        super(host, port);
    }

    @Override
    public void prepare(Load load, double seconds) {
        set("SOUR:VOLT", load.volts());
        set("SOUR:CURR", load.amperes());
        set("SOUR:CURR:ANGL", load.degrees());
        set("SOUR:PHAS", load.phase());
        set("SOUR:FREQ", load.hertz());
        set("SOUR:CURR:FIFT", load.fifth());
        set("SOUR:TIME:LIM", seconds);
    }

    @Override
    public boolean contact() {
        return connection().numbers("SENS:CONT?", 1)[0] == 1;
    }

    @Override
    public Given given() {
        return fetched();
    }

    @Override
    public void count(Energy of, long pulses, double seconds) {
        begin(of, pulses, seconds);
    }

    @Override
    public Count counted() {
        return stands();
    }
}
