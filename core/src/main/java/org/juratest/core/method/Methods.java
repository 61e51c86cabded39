package org.juratest.core.method;

import java.util.Collection;
import java.util.Map;
import java.util.Optional;
import java.util.ServiceLoader;
import java.util.Set;
import java.util.TreeMap;

/** The measuring methods there are, whichever families bring them. */
public final class Methods {

    private static final Map<String, Method> ALL = found();

    private Methods() {}

    private static Map<String, Method> found() {
        Map<String, Method> all = new TreeMap<>();
        ServiceLoader.load(MethodFamily.class, Methods.class.getClassLoader())
                .forEach(family -> family.methods().forEach(method -> {
                    if (all.put(method.name(), method) != null) {
                        throw new IllegalStateException("two methods are called \"" + method.name() + "\"");
                    }
                }));
        return Map.copyOf(all);
    }

    public static Optional<Method> byName(String name) {
        return Optional.ofNullable(ALL.get(name));
    }

    public static Set<String> names() {
        return ALL.keySet();
    }

    public static Collection<Method> all() {
        return ALL.values();
    }
}
