/** The demo valley as ordinary events. */
@NullMarked
package org.juratest.server.demo;

import org.jspecify.annotations.NullMarked;
