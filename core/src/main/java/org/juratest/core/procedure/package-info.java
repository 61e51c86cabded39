/** Procedures: steps, test points, lane sets, scope. */
@NullMarked
package org.juratest.core.procedure;

import org.jspecify.annotations.NullMarked;
