/** What the records of an asset say of its condition. */
@NullMarked
package org.juratest.core.condition;

import org.jspecify.annotations.NullMarked;
