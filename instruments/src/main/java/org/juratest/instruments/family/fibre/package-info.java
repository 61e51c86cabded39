/** Drivers for what fibre links are measured with. */
@NullMarked
package org.juratest.instruments.family.fibre;

import org.jspecify.annotations.NullMarked;
