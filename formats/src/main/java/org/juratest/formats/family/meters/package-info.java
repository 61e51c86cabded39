/** Records of voltages and currents in the terms of meters and instrument transformers. */
@NullMarked
package org.juratest.formats.family.meters;

import org.jspecify.annotations.NullMarked;
