/** Procedure versions. */
@NullMarked
package org.juratest.server.procedure;

import org.jspecify.annotations.NullMarked;
