/** SCPI over TCP: one connection, and a driver for each role of gear. */
@NullMarked
package org.juratest.instruments.scpi;

import org.jspecify.annotations.NullMarked;
