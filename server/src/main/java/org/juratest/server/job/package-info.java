/** Jobs: what is due. */
@NullMarked
package org.juratest.server.job;

import org.jspecify.annotations.NullMarked;
