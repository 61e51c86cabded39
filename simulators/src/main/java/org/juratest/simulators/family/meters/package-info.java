/** Energy meters and instrument transformers: their gear, and what is behind it. */
@NullMarked
package org.juratest.simulators.family.meters;

import org.jspecify.annotations.NullMarked;
