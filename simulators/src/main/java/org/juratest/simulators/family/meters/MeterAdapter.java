package org.juratest.simulators.family.meters;

import java.util.Locale;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.family.meters.Installations.Installation;
import org.juratest.simulators.scpi.LineGear;

/** Meters behind an adapter, read in mode C of IEC 62056-21; the adapter itself is at {@code ADAPTER}. */
final class MeterAdapter implements LineGear {

    private static final char ACK = 6;
    private static final char STX = 2;
    private static final char ETX = 3;

    private final String serial;
    private final Site site;
    private @Nullable Installation chosen;

    MeterAdapter(String serial, Site site) {
        this.serial = serial;
        this.site = site;
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
        String data = "F.F(00000000)\r\n0.0.0(" + at.position() + ")\r\n"
                + register("1.8.0", at.register(), "kWh")
                + register("2.8.0", 0, "kWh")
                + register("1.6.0", at.rated() * at.volts() * 3 / 1000 * 0.6, "kW") + "!\r\n" + ETX;
        int check = 0;
        for (char c : data.toCharArray()) {
            check ^= c;
        }
        return STX + data + (char) check;
    }

    private static String register(String code, double value, String unit) {
        return code + String.format(Locale.ROOT, "(%09.2f*%s)\r\n", value, unit);
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
