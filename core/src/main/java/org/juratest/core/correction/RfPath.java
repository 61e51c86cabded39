package org.juratest.core.correction;

import org.jspecify.annotations.Nullable;

/**
 * A lead with what is in it, between a device and the gear that tests it.
 *
 * @param loss by frequency
 * @param greatest power it bears, W
 * @param u standard uncertainty of the loss, dB; absent where nobody knows it
 */
public record RfPath(PathLoss loss, double greatest, @Nullable Double u) {

    /** One whose loss is known to nobody knows how much. */
    public RfPath(PathLoss loss, double greatest) {
        this(loss, greatest, null);
    }

    public RfPath {
        if (!(greatest > 0 && greatest <= 1e5)) {
            throw new IllegalArgumentException("a greatest power of " + greatest + " W makes no sense");
        }
        if (u != null && !(u >= 0 && u <= 20)) {
            throw new IllegalArgumentException("an uncertainty of the loss of " + u + " dB makes no sense");
        }
    }
}
