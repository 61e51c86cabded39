package org.juratest.core.family.fibre;

import java.util.List;
import org.juratest.core.port.Energising;

/** A detector with a place for each fibre of an array connector: where the light of a channel comes out. */
public interface PolarityUnit extends Energising {

    /** Places at which light arrives now, from 1, ascending. */
    List<Integer> lit();
}
