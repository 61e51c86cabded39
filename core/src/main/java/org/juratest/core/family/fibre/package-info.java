/** Fibre links: what a trace of backscatter says of a fibre, and of several traces together. */
@NullMarked
package org.juratest.core.family.fibre;

import org.jspecify.annotations.NullMarked;
