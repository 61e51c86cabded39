/** The seeded physical truth of the demo valley. */
@NullMarked
package org.juratest.simulators.fleet;

import org.jspecify.annotations.NullMarked;
