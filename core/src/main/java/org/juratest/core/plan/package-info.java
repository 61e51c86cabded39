/** When what is due: intervals on the calendar and by counters, windows, and what one procedure covers of another. */
@NullMarked
package org.juratest.core.plan;

import org.jspecify.annotations.NullMarked;
