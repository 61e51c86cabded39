/** What an asset's plate may say, and what is wrong with what is typed into the register. */
@NullMarked
package org.juratest.core.register;

import org.jspecify.annotations.NullMarked;
