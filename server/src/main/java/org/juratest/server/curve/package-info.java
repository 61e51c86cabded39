/** The curve library. */
@NullMarked
package org.juratest.server.curve;

import org.jspecify.annotations.NullMarked;
