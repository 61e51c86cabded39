/** What was due, what came of it, and why not. */
@NullMarked
package org.juratest.server.compliance;

import org.jspecify.annotations.NullMarked;
