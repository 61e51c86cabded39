package org.juratest.instruments.family.meters;

import java.util.List;
import java.util.Set;
import org.juratest.instruments.Driver;
import org.juratest.instruments.DriverFactory;
import org.juratest.instruments.DriverFamily;

/** The drivers for energy meters and instrument transformers. */
public final class MeterDrivers implements DriverFamily {

    @Override
    public List<DriverFactory> drivers() {
        return List.of(
                new Driver("scpi-reference-standard", Set.of("reference-standard"), ScpiReferenceStandard::new),
                new Driver("scpi-load-source", Set.of("load-source"), ScpiLoadSource::new),
                new Driver("scpi-burden-set", Set.of("burden-set"), ScpiBurdenSet::new),
                new Driver("scpi-transformer-analyser", Set.of("transformer-analyser"), ScpiTransformerAnalyser::new),
                new Driver("mode-c-meter", Set.of("meter-port"), ModeCMeter::new));
    }
}
