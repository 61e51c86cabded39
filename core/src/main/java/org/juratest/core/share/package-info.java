/** Shares jobs out over people and weeks: a proposal that breaks no rule and travels little. */
@NullMarked
package org.juratest.core.share;

import org.jspecify.annotations.NullMarked;
