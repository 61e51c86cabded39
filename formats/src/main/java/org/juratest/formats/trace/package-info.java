/** Traces as compact bytes. */
@NullMarked
package org.juratest.formats.trace;

import org.jspecify.annotations.NullMarked;
