/** The shipped program as processes, and what is tried on it. */
@NullMarked
package org.juratest.e2e;

import org.jspecify.annotations.NullMarked;
