package org.juratest.instruments.family.lamps;

import java.util.List;
import java.util.Locale;
import java.util.Set;
import org.juratest.core.family.lamps.LampLink;
import org.juratest.core.family.lamps.LampTester;
import org.juratest.core.port.GearException;
import org.juratest.core.port.GearIdentity;
import org.juratest.core.run.RunEvents;
import org.juratest.instruments.Driver;
import org.juratest.instruments.DriverFactory;
import org.juratest.instruments.DriverFamily;
import org.juratest.instruments.scpi.ScpiConnection;
import org.juratest.instruments.scpi.ScpiOutput;

/** The drivers for signal lamps. */
public final class LampDrivers implements DriverFamily {

    @Override
    public List<DriverFactory> drivers() {
        return List.of(
                new Driver("scpi-lamp-tester", Set.of("lamp-tester"), Tester::new),
                new Driver("scpi-lamp-link", Set.of("lamp-link"), Link::new));
    }

    private static final class Tester extends ScpiOutput implements LampTester {

        Tester(String host, int port) {
            super(host, port);
        }

        @Override
        public void prepare(double volts) {
            connection().command(String.format(Locale.ROOT, "SOUR:VOLT %.6g", volts));
        }

        @Override
        public double illuminance() {
            return connection().numbers("MEAS:ILL?", 1)[0];
        }

        @Override
        public double current() {
            return connection().numbers("MEAS:CURR?", 1)[0];
        }

        @Override
        public Seen look() {
            double[] format = connection().numbers("CAM:FORM?", 2);
            byte[] block = connection().block("CAM:DATA?");
            int width = (int) format[0];
            if (width < 1 || block.length % width != 0) {
                throw new GearException(
                        GearException.Fault.GARBLED, block.length + " bytes hold no rows of " + width + " pixels");
            }
            int[] grey = new int[block.length];
            for (int n = 0; n < grey.length; n++) {
                grey[n] = block[n] & 0xff;
            }
            return new Seen(grey, width, format[1]);
        }
    }

    private static final class Link implements LampLink {

        private final ScpiConnection connection;

        Link(String host, int port) {
            connection = new ScpiConnection(host, port);
        }

        @Override
        public GearIdentity identify() {
            connection.open();
            return GearIdentity.parse(connection.query("*IDN?"));
        }

        @Override
        public void connectTo(String label) {
            connection.command("ROUT:LAB \"" + label + "\"");
        }

        @Override
        public double timeFactor() {
            return 1;
        }

        @Override
        public RunEvents.DeviceIdentity device() {
            String[] fields = connection.query("DEV:IDN?").split(",", -1);
            return new RunEvents.DeviceIdentity(fields[0], fields[1], fields[2], fields[3], null, List.of());
        }

        @Override
        public Setting setting(String name) {
            double[] is = connection.numbers(
                    "DEV:BRIG:"
                            + name.replace("brightness", "").replace(".", "").toUpperCase(Locale.ROOT) + "?",
                    3);
            return new Setting((int) is[0], (int) is[1], (int) is[2]);
        }

        @Override
        public void set(String name, int value) {
            connection.command("DEV:BRIG " + name.replace("brightness.", "") + "," + value);
        }

        @Override
        public void close() {
            connection.close();
        }
    }
}
