/** People, sign-in, sessions. */
@NullMarked
package org.juratest.server.people;

import org.jspecify.annotations.NullMarked;
