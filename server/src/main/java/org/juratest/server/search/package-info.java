/** One search for everything. */
@NullMarked
package org.juratest.server.search;

import org.jspecify.annotations.NullMarked;
