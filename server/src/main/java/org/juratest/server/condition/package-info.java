/** The condition of devices: how each test point stands over time, kept up to date as records come. */
@NullMarked
package org.juratest.server.condition;

import org.jspecify.annotations.NullMarked;
