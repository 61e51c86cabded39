/** Analysis of sampled signals: audio, frequency modulation, four-level keying, power. */
@NullMarked
package org.juratest.core.signal;

import org.jspecify.annotations.NullMarked;
