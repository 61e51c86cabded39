/** The one mapping between core types and JSON. */
@NullMarked
package org.juratest.formats.json;

import org.jspecify.annotations.NullMarked;
