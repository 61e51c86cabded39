/** Tables of standards: what ships, and what people made of it. */
@NullMarked
package org.juratest.server.standard;

import org.jspecify.annotations.NullMarked;
