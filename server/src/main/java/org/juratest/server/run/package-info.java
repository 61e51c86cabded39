/** Runs: their events in the database, what is projected from them, live measurements, the API. */
@NullMarked
package org.juratest.server.run;

import org.jspecify.annotations.NullMarked;
