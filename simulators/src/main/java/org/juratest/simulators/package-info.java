/** Simulated stand-ins for gear and assets, as servers on loopback. */
@NullMarked
package org.juratest.simulators;

import org.jspecify.annotations.NullMarked;
