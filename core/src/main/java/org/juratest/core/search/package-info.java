/** Searches that turn a level or a setting until something holds. */
@NullMarked
package org.juratest.core.search;

import org.jspecify.annotations.NullMarked;
