/** The safe expression language of limits, parameters and derivations. */
@NullMarked
package org.juratest.core.formula;

import org.jspecify.annotations.NullMarked;
