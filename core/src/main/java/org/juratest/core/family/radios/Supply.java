package org.juratest.core.family.radios;

import java.util.Map;
import java.util.OptionalDouble;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;

/**
 * Current from the supply: points {@code idle} (squelched), {@code receive} (sound at a strong signal) and
 * {@code transmit}.
 */
final class Supply extends RadioMethod {

    /** Level at which it receives, dBm at the radio. */
    private static final double RECEIVING = -60;

    Supply() {
        super("radio.current", true, RadioControl.Mode.FM);
    }

    @Override
    Map<String, Unit> points() {
        return Map.of("idle", Unit.AMPERE, "receive", Unit.AMPERE, "transmit", Unit.AMPERE);
    }

    @Override
    OptionalDouble greatestAtReceiver(Step step) {
        return OptionalDouble.of(RECEIVING);
    }

    @Override
    Result measure(RadioSetup rig) {
        rig.radio().holdSquelchOpen(false);
        rig.settle();
        read(rig, "idle");
        rig.generate(rig.frequency(), RECEIVING, Audio.fm(), rig.testDeviation(), Audio.TONE);
        rig.bench().stop().switchOn(rig.tester()::outputOn);
        rig.radio().holdSquelchOpen(true);
        rig.settle();
        read(rig, "receive");
        rig.tester().level(-140);
        if (rig.asks("transmit")) {
            RadioSetup.Carrier carrier = rig.key(rig.bench().param("ratedPower"));
            if (carrier.weak()) {
                return rig.missing(carrier.lead(), carrier.words());
            }
            try {
                read(rig, "transmit");
            } finally {
                rig.letGo();
            }
        }
        return RadioSetup.measured();
    }

    private static void read(RadioSetup rig, String point) {
        double amperes = rig.tester().supplyCurrent();
        rig.show(Map.of("current", new Quantity(amperes, Unit.AMPERE)));
        rig.reading(point, amperes, Unit.AMPERE, "current");
    }
}
