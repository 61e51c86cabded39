/** Sampled sound and baseband as RIFF/WAVE files. */
@NullMarked
package org.juratest.formats.wav;

import org.jspecify.annotations.NullMarked;
