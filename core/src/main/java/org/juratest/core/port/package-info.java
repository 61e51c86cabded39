/** What the engine asks of test gear: one small interface per role. */
@NullMarked
package org.juratest.core.port;

import org.jspecify.annotations.NullMarked;
