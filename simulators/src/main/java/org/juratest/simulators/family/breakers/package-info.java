/** Injection set and micro-ohmmeter, and the breakers behind them. */
@NullMarked
package org.juratest.simulators.family.breakers;

import org.jspecify.annotations.NullMarked;
