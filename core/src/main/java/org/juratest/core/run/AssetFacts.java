package org.juratest.core.run;

import java.util.Collections;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.Nameplate;

/**
 * The asset of a run as it was when the run was opened.
 *
 * @param siteRange greatest value of each set-point that may be used at the site, in the base unit; absent where the
 *     site states none
 */
public record AssetFacts(
        String asset,
        String position,
        String site,
        String siteName,
        String assetClass,
        String maker,
        String model,
        String serial,
        Nameplate nameplate,
        @Nullable String curve,
        @Nullable Map<String, Double> siteRange) {

    public AssetFacts {
        siteRange =
                siteRange == null || siteRange.isEmpty() ? null : Collections.unmodifiableMap(new TreeMap<>(siteRange));
    }

    public AssetFacts(
            String asset,
            String position,
            String site,
            String siteName,
            String assetClass,
            String maker,
            String model,
            String serial,
            Nameplate nameplate,
            @Nullable String curve) {
        this(asset, position, site, siteName, assetClass, maker, model, serial, nameplate, curve, null);
    }

    /** Greatest value of each set-point at the site, in the base unit; empty where the site states none. */
    public Map<String, Double> siteGreatest() {
        return siteRange == null ? Map.of() : siteRange;
    }
}
