/** What every JDBC class here shares. */
@NullMarked
package org.juratest.server.db;

import org.jspecify.annotations.NullMarked;
