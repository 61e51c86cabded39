/** A run as a list of events, the fold over it, its rules and its judgement. */
@NullMarked
package org.juratest.core.run;

import org.jspecify.annotations.NullMarked;
