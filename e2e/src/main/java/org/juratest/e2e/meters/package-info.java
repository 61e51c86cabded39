/** Runs on Meters and transformers. */
@NullMarked
package org.juratest.e2e.meters;

import org.jspecify.annotations.NullMarked;
