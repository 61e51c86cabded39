/** Energy meters and instrument transformers: quantities of three phases, wirings, errors, burdens, excitation. */
@NullMarked
package org.juratest.core.family.meters;

import org.jspecify.annotations.NullMarked;
