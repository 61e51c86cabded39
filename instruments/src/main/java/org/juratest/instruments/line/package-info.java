/** Lines of text over TCP, one exchange at a time. */
@NullMarked
package org.juratest.instruments.line;

import org.jspecify.annotations.NullMarked;
