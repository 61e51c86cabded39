package org.juratest.core.family.breakers;

import java.util.List;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodFamily;

/** The methods for breakers. */
public final class BreakerMethods implements MethodFamily {

    @Override
    public List<Method> methods() {
        return List.of(new ContactResistance(), new LongTimeTrip());
    }
}
