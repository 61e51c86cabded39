/** Tables of standards that methods judge by, as people may edit them. */
@NullMarked
package org.juratest.core.standard;

import org.jspecify.annotations.NullMarked;
