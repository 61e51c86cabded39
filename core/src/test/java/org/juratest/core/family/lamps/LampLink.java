package org.juratest.core.family.lamps;

import org.juratest.core.port.DeviceLink;

/** A signal lamp that talks: its brightness can be set, lamp by lamp. */
public interface LampLink extends DeviceLink {}
