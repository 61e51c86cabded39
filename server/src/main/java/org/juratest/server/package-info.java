/** The server: wiring of REST, security, JDBC and live measurements around core. */
@NullMarked
package org.juratest.server;

import org.jspecify.annotations.NullMarked;
