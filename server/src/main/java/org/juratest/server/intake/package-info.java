/** Files that other gear wrote: brought in, matched to assets, steps and lanes, looked over, made records of. */
@NullMarked
package org.juratest.server.intake;

import org.jspecify.annotations.NullMarked;
