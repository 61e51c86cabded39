package org.juratest.core.method;

import java.util.List;
import org.jspecify.annotations.Nullable;
import org.juratest.core.correction.PathLoss;
import org.juratest.core.run.GearFacts;

/**
 * A way to find what a lead takes off a signal, with gear of one role; conducted, claimed and guarded like a method.
 */
public interface LeadCharacterisation {

    /** Name it is announced under, in place of a method's. */
    String name();

    /** Role of the gear that measures it. */
    String role();

    /**
     * What it will do.
     *
     * @param lead name of the lead
     * @param places where on the frequency axis, MHz, ascending, at least one
     * @throws org.juratest.core.run.Refusal if it cannot be done there
     */
    Announced announce(String lead, List<Double> places);

    /**
     * Measures.
     *
     * @param places as announced
     * @throws org.juratest.core.port.GearException if nothing comes through
     */
    PathLoss of(MethodBench bench, List<Double> places);

    /** Standard uncertainty of the loss it measures with gear, dB; null where the gear's data sheet does not say. */
    default @Nullable Double uncertainty(GearFacts gear, PathLoss loss) {
        return null;
    }
}
