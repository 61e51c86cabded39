/** Files by what is in them: traces, sounds, photos, attachments. */
@NullMarked
package org.juratest.server.blob;

import org.jspecify.annotations.NullMarked;
