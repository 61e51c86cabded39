/** A reflectometer and a camera for end faces, with the fibre links of the valley behind them. */
@NullMarked
package org.juratest.simulators.family.fibre;

import org.jspecify.annotations.NullMarked;
