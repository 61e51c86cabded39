package org.juratest.instruments.family.breakers;

import java.util.List;
import java.util.Set;
import org.juratest.instruments.Driver;
import org.juratest.instruments.DriverFactory;
import org.juratest.instruments.DriverFamily;

/** The drivers for breakers. */
public final class BreakerDrivers implements DriverFamily {

    @Override
    public List<DriverFactory> drivers() {
        return List.of(
                new Driver("scpi-injection", Set.of("current-source"), ScpiInjectionSet::new),
                new Driver("scpi-micro-ohmmeter", Set.of("micro-ohmmeter"), ScpiMicroOhmmeter::new),
                new Driver("scpi-breaker-analyser", Set.of("breaker-analyser"), ScpiBreakerAnalyser::new),
                new Driver("scpi-residual-tester", Set.of("residual-tester"), ScpiResidualTester::new),
                new Driver("scpi-relay-test-set", Set.of("relay-test-set"), ScpiRelayTestSet::new),
                new Driver("modbus-relay", Set.of("relay-data-port"), ModbusRelay::new));
    }
}
