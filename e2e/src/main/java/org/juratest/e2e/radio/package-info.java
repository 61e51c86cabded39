/** A run on a radio against the stand-ins, without server and browser. */
@NullMarked
package org.juratest.e2e.radio;

import org.jspecify.annotations.NullMarked;
