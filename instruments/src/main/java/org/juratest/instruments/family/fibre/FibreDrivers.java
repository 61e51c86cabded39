package org.juratest.instruments.family.fibre;

import java.util.List;
import java.util.Set;
import org.juratest.instruments.Driver;
import org.juratest.instruments.DriverFactory;
import org.juratest.instruments.DriverFamily;

/** The drivers for fibre links and cables. */
public final class FibreDrivers implements DriverFamily {

    @Override
    public List<DriverFactory> drivers() {
        return List.of(
                new Driver("scpi-reflectometer", Set.of("reflectometer"), ScpiReflectometer::new),
                new Driver("scpi-fibre-camera", Set.of("fibre-camera"), ScpiFaceCamera::new),
                new Driver("scpi-loss-tester", Set.of("loss-tester"), ScpiLossTester::new),
                new Driver("scpi-polarity-unit", Set.of("polarity-unit"), ScpiPolarityUnit::new),
                new Driver("scpi-array-camera", Set.of("array-camera"), ScpiArrayCamera::new));
    }
}
