/** Nameplate schemas as JSON Schema. */
@NullMarked
package org.juratest.formats.register;

import org.jspecify.annotations.NullMarked;
