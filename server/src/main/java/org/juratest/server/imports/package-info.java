/** The register as a table: brought in, checked, stored all or nothing, and handed out. */
@NullMarked
package org.juratest.server.imports;

import org.jspecify.annotations.NullMarked;
