package org.juratest.instruments.family.radios;

import java.util.List;
import java.util.Set;
import org.juratest.instruments.Driver;
import org.juratest.instruments.DriverFactory;
import org.juratest.instruments.DriverFamily;

/** The drivers for radios. */
public final class RadioDrivers implements DriverFamily {

    @Override
    public List<DriverFactory> drivers() {
        return List.of(
                new Driver("scpi-radio-test-set", Set.of("radio-test-set"), ScpiRadioTester::new),
                new Driver("scpi-generator", Set.of("second-generator"), ScpiSignalGenerator::new),
                new Driver("line-data-port", Set.of("radio-data-port"), RadioDataPort::new));
    }
}
