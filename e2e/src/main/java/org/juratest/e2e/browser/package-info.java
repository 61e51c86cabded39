/** A technician at a browser, for journeys, pictures and figures on speed. */
@NullMarked
package org.juratest.e2e.browser;

import org.jspecify.annotations.NullMarked;
