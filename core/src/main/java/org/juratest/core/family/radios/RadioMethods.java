package org.juratest.core.family.radios;

import java.util.List;
import java.util.stream.Stream;
import org.juratest.core.method.LeadCharacterisation;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodFamily;

/** The methods for radios. */
public final class RadioMethods implements MethodFamily {

    @Override
    public List<Method> methods() {
        return Stream.of(Transmitter.methods(), Receiver.methods(), List.<Method>of(new Supply()), Alignment.methods())
                .flatMap(List::stream)
                .toList();
    }

    @Override
    public List<LeadCharacterisation> leads() {
        return List.of(new Characterising());
    }
}
