/** Analyses of files, by kind: what {@code analyse} prints. */
@NullMarked
package org.juratest.formats.analyse;

import org.jspecify.annotations.NullMarked;
