/** SCPI over TCP: the part of a gear that listens. */
@NullMarked
package org.juratest.simulators.scpi;

import org.jspecify.annotations.NullMarked;
