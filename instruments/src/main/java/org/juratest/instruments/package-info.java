/** Clients for test gear and devices over open protocols. */
@NullMarked
package org.juratest.instruments;

import org.jspecify.annotations.NullMarked;
