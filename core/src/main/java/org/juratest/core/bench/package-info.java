/** Carrying out a live step: the interlock, the guard over live output, the conductor. */
@NullMarked
package org.juratest.core.bench;

import org.jspecify.annotations.NullMarked;
