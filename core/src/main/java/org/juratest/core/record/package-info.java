/** Records: what a finished run says on paper, compared with others. */
@NullMarked
package org.juratest.core.record;

import org.jspecify.annotations.NullMarked;
