/** Runs over the sockets of stand-ins, without server and browser. */
@NullMarked
package org.juratest.e2e.rig;

import org.jspecify.annotations.NullMarked;
