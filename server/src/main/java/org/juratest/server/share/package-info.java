/** Proposals: open jobs shared out over people and weeks by the program, taken up by people. */
@NullMarked
package org.juratest.server.share;

import org.jspecify.annotations.NullMarked;
