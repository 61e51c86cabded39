/** What sources had to be set to, by type of device: learned from runs, changed by people, shared by everyone. */
@NullMarked
package org.juratest.server.starting;

import org.jspecify.annotations.NullMarked;
