/** Corrections applied to raw values, each visible in the reading. */
@NullMarked
package org.juratest.core.correction;

import org.jspecify.annotations.NullMarked;
