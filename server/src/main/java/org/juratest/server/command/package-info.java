/** The commands of ./juratest that are not the server. */
@NullMarked
package org.juratest.server.command;

import org.jspecify.annotations.NullMarked;
