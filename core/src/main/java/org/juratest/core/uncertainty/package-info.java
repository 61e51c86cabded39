/** Measurement uncertainty after JCGM 100:2008. */
@NullMarked
package org.juratest.core.uncertainty;

import org.jspecify.annotations.NullMarked;
