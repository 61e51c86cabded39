/** Radio test set, data port, and the radios behind them. */
@NullMarked
package org.juratest.simulators.family.radios;

import org.jspecify.annotations.NullMarked;
