/** Files of fibre links as what is measured on them: traces of backscatter, pictures of end faces. */
@NullMarked
package org.juratest.formats.family.fibre;

import org.jspecify.annotations.NullMarked;
