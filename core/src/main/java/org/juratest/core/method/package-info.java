/** Measuring methods: a bench of ports and parameters in, readings out. */
@NullMarked
package org.juratest.core.method;

import org.jspecify.annotations.NullMarked;
