/** Injection set and micro-ohmmeter, and the breakers behind them. */
@NullMarked
package org.juratest.simulators.breaker;

import org.jspecify.annotations.NullMarked;
