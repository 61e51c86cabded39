package org.juratest.core.method;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.juratest.core.radio.RadioMethods;

/** The measuring methods there are. */
public final class Methods {

    private static final List<Method> ALL = Stream.concat(
                    Stream.of(new ContactResistance(), new LongTimeTrip()), RadioMethods.all().stream())
            .toList();

    private Methods() {}

    public static Optional<Method> byName(String name) {
        return ALL.stream().filter(m -> m.name().equals(name)).findFirst();
    }

    public static Set<String> names() {
        return ALL.stream().map(Method::name).collect(Collectors.toUnmodifiableSet());
    }
}
