/** Runs on fibre links of the valley. */
@NullMarked
package org.juratest.e2e.fibre;

import org.jspecify.annotations.NullMarked;
