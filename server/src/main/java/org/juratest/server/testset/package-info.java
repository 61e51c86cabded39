/** Sets of tests: what is tested in one go at a position. */
@NullMarked
package org.juratest.server.testset;

import org.jspecify.annotations.NullMarked;
