/** Runs on breakers and reclosers of the valley. */
@NullMarked
package org.juratest.e2e.breakers;

import org.jspecify.annotations.NullMarked;
