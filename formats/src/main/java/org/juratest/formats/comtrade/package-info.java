/** Records of currents and voltages as disturbance recorders and test sets write them (IEEE C37.111, IEC 60255-24). */
@NullMarked
package org.juratest.formats.comtrade;

import org.jspecify.annotations.NullMarked;
