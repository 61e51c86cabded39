/** Methods for radios: transmitter, receiver, alignment. */
@NullMarked
package org.juratest.core.radio;

import org.jspecify.annotations.NullMarked;
