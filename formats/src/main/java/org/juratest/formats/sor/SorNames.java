package org.juratest.formats.sor;

import java.util.Set;

/** Names of the standard blocks (SR-4731, section 5). */
final class SorNames {

    static final String MAP = "Map";
    static final String GENERAL = "GenParams";
    static final String SUPPLIER = "SupParams";
    static final String FIXED = "FxdParams";
    static final String EVENTS = "KeyEvents";
    static final String LINK = "LnkParams";
    static final String DATA = "DataPts";
    static final String CHECKSUM = "Cksum";

    static final Set<String> STANDARD = Set.of(GENERAL, SUPPLIER, FIXED, EVENTS, LINK, DATA, CHECKSUM);

    private SorNames() {}
}
