/** Events as bytes: canonical form, hash, chain. */
@NullMarked
package org.juratest.formats.run;

import org.jspecify.annotations.NullMarked;
