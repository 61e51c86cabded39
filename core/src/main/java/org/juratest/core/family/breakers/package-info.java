/** Breakers: injection and contact resistance. */
@NullMarked
package org.juratest.core.family.breakers;

import org.jspecify.annotations.NullMarked;
