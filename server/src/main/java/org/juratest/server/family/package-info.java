/** What the families of assets bring to the server: files on the class path, and nothing else. */
@NullMarked
package org.juratest.server.family;

import org.jspecify.annotations.NullMarked;
