/** Pictures as files: PNG and JPEG, read within bounds. */
@NullMarked
package org.juratest.formats.picture;

import org.jspecify.annotations.NullMarked;
