/** One asset: what it is, where it stood, what was measured on it over its life. */
@NullMarked
package org.juratest.server.asset;

import org.jspecify.annotations.NullMarked;
