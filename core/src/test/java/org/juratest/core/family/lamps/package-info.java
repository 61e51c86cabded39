/** A family for tests alone: signal lamps. It shows that a family touches nothing but its own folders. */
@NullMarked
package org.juratest.core.family.lamps;

import org.jspecify.annotations.NullMarked;
