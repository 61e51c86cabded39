/** Variants of procedures: saved, revised, exchanged. */
@NullMarked
package org.juratest.server.variant;

import org.jspecify.annotations.NullMarked;
