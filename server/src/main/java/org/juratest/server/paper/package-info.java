/** Paper: pages of markup as PDF, in the fonts of the program. */
@NullMarked
package org.juratest.server.paper;

import org.jspecify.annotations.NullMarked;
