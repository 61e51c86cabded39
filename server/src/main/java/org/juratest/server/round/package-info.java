/** The day: what is due, where along the line, and what to take along. */
@NullMarked
package org.juratest.server.round;

import org.jspecify.annotations.NullMarked;
