/** What the API has in common: problems, JSON, description. */
@NullMarked
package org.juratest.server.web;

import org.jspecify.annotations.NullMarked;
