/** Routes of what lies along a line: what stands where, and what a length along the thing itself is on its route. */
@NullMarked
package org.juratest.core.route;

import org.jspecify.annotations.NullMarked;
