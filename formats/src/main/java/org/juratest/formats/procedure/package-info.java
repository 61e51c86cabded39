/** Procedure documents. */
@NullMarked
package org.juratest.formats.procedure;

import org.jspecify.annotations.NullMarked;
