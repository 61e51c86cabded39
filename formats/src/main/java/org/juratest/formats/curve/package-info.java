/** The curve library's file and curve tables by CSV. */
@NullMarked
package org.juratest.formats.curve;

import org.jspecify.annotations.NullMarked;
