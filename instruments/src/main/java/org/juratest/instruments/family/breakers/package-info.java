/** Breakers: injection and contact resistance. */
@NullMarked
package org.juratest.instruments.family.breakers;

import org.jspecify.annotations.NullMarked;
