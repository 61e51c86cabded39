/** Records: read, signed, printed, exported, compared. */
@NullMarked
package org.juratest.server.record;

import org.jspecify.annotations.NullMarked;
