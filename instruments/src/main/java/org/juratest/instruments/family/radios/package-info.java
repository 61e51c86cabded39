/** Radios over their data port. */
@NullMarked
package org.juratest.instruments.family.radios;

import org.jspecify.annotations.NullMarked;
