/** What stands where. */
@NullMarked
package org.juratest.server.register;

import org.jspecify.annotations.NullMarked;
