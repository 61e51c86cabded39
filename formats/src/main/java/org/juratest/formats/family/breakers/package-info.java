/** Files of breakers, reclosers and their protection. */
@NullMarked
package org.juratest.formats.family.breakers;

import org.jspecify.annotations.NullMarked;
