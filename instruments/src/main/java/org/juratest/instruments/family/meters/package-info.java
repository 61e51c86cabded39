/** Drivers for energy meters and instrument transformers. */
@org.jspecify.annotations.NullMarked
package org.juratest.instruments.family.meters;
