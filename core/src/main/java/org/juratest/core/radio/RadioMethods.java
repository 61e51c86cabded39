package org.juratest.core.radio;

import java.util.List;
import java.util.stream.Stream;
import org.juratest.core.method.Method;

/** The methods for radios. */
public final class RadioMethods {

    private RadioMethods() {}

    public static List<Method> all() {
        return Stream.of(Transmitter.methods(), Receiver.methods(), List.<Method>of(new Supply()), Alignment.methods())
                .flatMap(List::stream)
                .toList();
    }
}
