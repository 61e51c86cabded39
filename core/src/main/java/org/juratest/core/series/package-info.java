/** Series of like devices that are tested one after the other, and the numbers they carry. */
package org.juratest.core.series;
