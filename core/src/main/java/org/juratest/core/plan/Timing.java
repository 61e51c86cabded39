package org.juratest.core.plan;

/** When a plan is due: ever again, or once after something. */
public sealed interface Timing permits Recurrence, Once {}
