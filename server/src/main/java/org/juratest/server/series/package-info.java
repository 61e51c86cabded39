/** Series of like devices at one place: the number of the next, and its run in one act. */
@NullMarked
package org.juratest.server.series;

import org.jspecify.annotations.NullMarked;
