package org.juratest.core.family.fibre;

import org.jspecify.annotations.Nullable;

/**
 * A trace that another reflectometer wrote into a file.
 *
 * @param trace positions from the front of that instrument
 * @param lead length of its launch lead, m; 0 where none is told
 * @param fibre as the file names it
 * @param from where it was taken, as the file names it; empty where it does not
 * @param to where the fibre ends, likewise
 * @param reversed whether the file says that it was taken from the far end; absent where it says neither
 */
public record FiledTrace(
        OtdrTrace trace, double lead, String fibre, String from, String to, @Nullable Boolean reversed) {}
