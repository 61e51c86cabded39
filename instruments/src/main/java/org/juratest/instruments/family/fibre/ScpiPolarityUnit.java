package org.juratest.instruments.family.fibre;

import java.util.List;
import java.util.stream.Stream;
import org.juratest.core.family.fibre.PolarityUnit;
import org.juratest.core.port.GearException;
import org.juratest.instruments.scpi.ScpiOutput;

/** A polarity detector that speaks SCPI over TCP: places with light between commas, 0 for none. */
public final class ScpiPolarityUnit extends ScpiOutput implements PolarityUnit {

    public ScpiPolarityUnit(String host, int port) {
        super(host, port);
    }

    @Override
    public List<Integer> lit() {
        String said = connection().query("READ:LIT?");
        try {
            return Stream.of(said.split(","))
                    .map(p -> Integer.parseInt(p.strip()))
                    .filter(p -> p > 0)
                    .sorted()
                    .toList();
        } catch (NumberFormatException e) {
            throw new GearException(GearException.Fault.GARBLED, "it says that light is at \"" + said + "\"");
        }
    }
}
