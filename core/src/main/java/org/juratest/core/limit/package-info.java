/** Limits, their resolution to plain numbers, decision rules and verdicts. */
@NullMarked
package org.juratest.core.limit;

import org.jspecify.annotations.NullMarked;
