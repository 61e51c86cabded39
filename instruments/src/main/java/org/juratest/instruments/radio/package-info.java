/** Radios over their data port. */
@NullMarked
package org.juratest.instruments.radio;

import org.jspecify.annotations.NullMarked;
