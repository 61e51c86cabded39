/** What a month came to, on one page for who answers for the fleet. */
@NullMarked
package org.juratest.server.month;

import org.jspecify.annotations.NullMarked;
