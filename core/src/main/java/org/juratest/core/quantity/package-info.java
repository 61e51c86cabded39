/** Values with their UCUM units. */
@NullMarked
package org.juratest.core.quantity;

import org.jspecify.annotations.NullMarked;
