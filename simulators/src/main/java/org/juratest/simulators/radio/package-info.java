/** Radio test set, data port, and the radios behind them. */
@NullMarked
package org.juratest.simulators.radio;

import org.jspecify.annotations.NullMarked;
