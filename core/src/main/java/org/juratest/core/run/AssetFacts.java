package org.juratest.core.run;

import org.juratest.core.procedure.Nameplate;
import org.jspecify.annotations.Nullable;

/** The asset of a run as it was when the run was opened. */
public record AssetFacts(String asset, String position, String site, String siteName, String assetClass, String maker,
    String model, String serial, Nameplate nameplate, @Nullable String curve) {
}
