/** Methods for radios: transmitter, receiver, alignment. */
@NullMarked
package org.juratest.core.family.radios;

import org.jspecify.annotations.NullMarked;
