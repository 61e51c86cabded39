/** Files that other gear wrote with what it captured, and captures written as such files. */
@NullMarked
package org.juratest.formats.capture;

import org.jspecify.annotations.NullMarked;
