/** Figures on speed, as ratios where they can be: {@code ./juratest bench}. */
@NullMarked
package org.juratest.e2e.bench;

import org.jspecify.annotations.NullMarked;
