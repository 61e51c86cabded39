/** Tables of text as spreadsheets write them. */
@NullMarked
package org.juratest.formats.table;

import org.jspecify.annotations.NullMarked;
