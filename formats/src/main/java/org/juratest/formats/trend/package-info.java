/** Series of readings as tables, and what they say of a trend. */
@NullMarked
package org.juratest.formats.trend;

import org.jspecify.annotations.NullMarked;
