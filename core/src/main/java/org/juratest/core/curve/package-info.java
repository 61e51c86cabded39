/** Time-current curves: standard formulas, makers' bands, the library's models. */
@NullMarked
package org.juratest.core.curve;

import org.jspecify.annotations.NullMarked;
