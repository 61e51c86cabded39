package org.juratest.instruments;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.time.LocalDate;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.juratest.core.port.DeviceLink;
import org.juratest.core.port.GearException;
import org.juratest.instruments.family.breakers.ModbusRelay;
import org.juratest.simulators.Ports;
import org.juratest.simulators.Simulators;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.family.breakers.StandIns;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.fleet.FleetGenerator;

/** A relay over its communication port. */
class ModbusRelayTest {

    private static final Fleet FLEET =
            FleetGenerator.generate(1, LocalDate.of(2026, 11, 25), Ports.any(), Simulators.families());

    private final AtomicInteger changes = new AtomicInteger();
    private StandIns standIns;
    private ModbusRelay relay;

    @BeforeEach
    void start() throws IOException {
        standIns = new StandIns(FLEET, Ports.any(), StandInLog.none(), changes::incrementAndGet);
        relay = new ModbusRelay("127.0.0.1", standIns.relayPort());
    }

    @AfterEach
    void stop() throws IOException {
        relay.close();
        standIns.close();
    }

    private static GearException.Fault fault(Runnable action) {
        return assertThrows(GearException.class, action::run).fault();
    }

    @Test
    void itSaysWhoTheRelayIsAndHowItIsSet() {
        assertEquals("BR-5021", relay.identify().serial());
        assertEquals(GearException.Fault.SILENT, fault(relay::device), "its lead is in no relay");
        assertEquals(GearException.Fault.SILENT, fault(() -> relay.setting("timeMultiplier")));
        relay.connectTo("MFR-REL-01");
        assertEquals("PR-5", relay.device().model());
        assertEquals(new DeviceLink.Setting(200, 25, 1500), relay.setting("timeMultiplier"));
        assertEquals(new DeviceLink.Setting(45_000, -90_000, 90_000), relay.setting("characteristicAngle"));
        relay.connectTo("BRU-REL-05");
        assertEquals(250, relay.setting("timeMultiplier").value(), "another relay, set otherwise");
    }

    @Test
    void aSettingIsWrittenWithinItsBoundsAndStays() {
        relay.identify();
        relay.connectTo("MFR-REL-01");
        relay.set("timeMultiplier", 300);
        assertEquals(300, relay.setting("timeMultiplier").value());
        assertEquals(1, changes.get(), "the fleet is told");
        assertEquals(GearException.Fault.REFUSED, fault(() -> relay.set("timeMultiplier", 1501)));
        assertEquals(GearException.Fault.REFUSED, fault(() -> relay.set("frequency", 50)));
        assertEquals(300, relay.setting("timeMultiplier").value());
        relay.connectTo("NOWHERE");
        assertEquals(GearException.Fault.REFUSED, fault(() -> relay.set("timeMultiplier", 100)));
        try (ModbusRelay later = new ModbusRelay("127.0.0.1", standIns.relayPort())) {
            later.identify();
            later.connectTo("MFR-REL-01");
            assertEquals(300, later.setting("timeMultiplier").value(), "kept by the relay");
        }
    }

    @Test
    void whatIsNotThereIsLost() throws IOException {
        assertEquals(GearException.Fault.LOST, fault(() -> relay.setting("timeMultiplier")), "nobody connected");
        relay.identify();
        standIns.close();
        GearException.Fault gone = fault(() -> relay.setting("timeMultiplier"));
        assertTrue(
                gone == GearException.Fault.LOST || gone == GearException.Fault.SILENT,
                () -> "the line is down, not " + gone);
        assertEquals(GearException.Fault.LOST, fault(() -> new ModbusRelay("127.0.0.1", 1).identify()));
    }
}
