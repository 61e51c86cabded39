/** Plans, the jobs they lay ahead, the load of people and sites, and what came of it. */
@NullMarked
package org.juratest.server.plan;

import org.jspecify.annotations.NullMarked;
