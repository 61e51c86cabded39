package org.juratest.simulators.family.meters;

import java.util.Locale;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.family.meters.Installations.Installation;
import org.juratest.simulators.scpi.GearClock;
import org.juratest.simulators.scpi.LineGear;

/** Meters behind an adapter, read in mode C of IEC 62056-21; the adapter itself is at {@code ADAPTER}. */
final class MeterAdapter implements LineGear {

    private static final char ACK = 6;
    private static final char STX = 2;
    private static final char ETX = 3;
    /** Over which it forms the demand, s. */
    private static final double INTERVAL = 900;

    private final String serial;
    private final Site site;
    private final GearClock clock = new GearClock();
    private @Nullable Installation chosen;

    MeterAdapter(String serial, Site site) {
        this.serial = serial;
        this.site = site;
    }

    void factor(double now) {
        clock.factor(now);
    }

    @Override
    public synchronized String line(String line, boolean controller) {
        String said = line.strip();
        if (said.startsWith("/?") && said.endsWith("!")) {
            String address = said.substring(2, said.length() - 1);
            chosen = site.installation(address);
            return address.equals("ADAPTER")
                    ? "/BRN5OH-1 " + serial + " 1.0\r\n"
                    : chosen == null ? "" : "/DRA5EM-" + (chosen.transformers().isEmpty() ? "1" : "3") + "\r\n";
        }
        Installation at = chosen;
        if (at == null || said.isEmpty() || said.charAt(0) != ACK) {
            return "";
        }
        double share = at.amperes().stream().mapToDouble(a -> a).average().orElse(0) / at.rated();
        double error = at.meter().error(share, Math.cos(Math.toRadians(at.lag())));
        double watts = Math.abs(at.watts()) * (1 + error / 100);
        double dial = at.register() + watts * (1 + at.meter().dial() / 100) * clock.time() / 3.6e6;
        double begun = clock.time() % INTERVAL;
        // A meter on transformers counts what is at its terminals, which is little: it shows more digits of it.
        int digits = at.transformers().isEmpty() || at.volts() > 100 ? 3 : 4;
        String data = "F.F(00000000)\r\n0.0.0(" + at.position() + ")\r\n"
                + register("1.8.0", dial, digits, "kWh")
                + register("2.8.0", 0, digits, "kWh")
                + register("1.4.0", watts / 1000 * begun / INTERVAL, 4, "kW")
                + register("1.5.0", watts / 1000, 4, "kW")
                + register("1.6.0", at.rated() * at.volts() * 3 / 1000 * 0.6, 4, "kW") + "!\r\n" + ETX;
        int check = 0;
        for (char c : data.toCharArray()) {
            check ^= c;
        }
        return STX + data + (char) check;
    }

    private static String register(String code, double value, int digits, String unit) {
        return code + String.format(Locale.ROOT, "(%0" + (7 + digits) + "." + digits + "f*%s)\r\n", value, unit);
    }

    @Override
    public boolean framed() {
        return true;
    }

    @Override
    public void lost() {
        chosen = null;
    }
}
