package org.juratest.server.register;

import java.util.List;

/**
 * Families of assets: what a procedure, its methods and its stage are made for. Those without any yet have register
 * data only.
 */
public final class Families {

    public static final List<String> ALL = List.of(
            "meters", "cables", "fibre", "radios", "breakers", "standby power", "medical", "machines", "networks");

    private Families() {}
}
