package org.juratest.core.correction;

/**
 * A lead with what is in it, between a device and the gear that tests it.
 *
 * @param loss by frequency
 * @param greatest power it bears, W
 */
public record RfPath(PathLoss loss, double greatest) {
    public RfPath {
        if (!(greatest > 0 && greatest <= 1e5)) {
            throw new IllegalArgumentException("a greatest power of " + greatest + " W makes no sense");
        }
    }
}
