/** Files of reflectometers: traces with all that goes with them (SR-4731, issues 1 and 2). */
@NullMarked
package org.juratest.formats.sor;

import org.jspecify.annotations.NullMarked;
