/** Arrays measured against time or distance. */
@NullMarked
package org.juratest.core.trace;

import org.jspecify.annotations.NullMarked;
