/** Test gear and the drivers to it. */
@NullMarked
package org.juratest.server.gear;

import org.jspecify.annotations.NullMarked;
