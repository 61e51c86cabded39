package org.juratest.formats.analyse;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;
import java.util.ServiceLoader;
import java.util.Set;
import java.util.TreeMap;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** The analyses there are, and what they print in common. */
public final class Analyses {

    private static final Map<String, Analysis> ALL = found();

    private Analyses() {}

    private static Map<String, Analysis> found() {
        Map<String, Analysis> all = new TreeMap<>();
        ServiceLoader.load(AnalysisFamily.class, Analyses.class.getClassLoader())
                .forEach(family -> family.analyses().forEach(analysis -> {
                    if (all.put(analysis.kind(), analysis) != null) {
                        throw new IllegalStateException("two analyses are called \"" + analysis.kind() + "\"");
                    }
                }));
        return all;
    }

    public static Optional<Analysis> byKind(String kind) {
        return Optional.ofNullable(ALL.get(kind));
    }

    /** Kinds in their order. */
    public static Set<String> kinds() {
        return java.util.Collections.unmodifiableSet(ALL.keySet());
    }

    /** Writes a figure, or null. */
    public static void put(ObjectNode node, String name, OptionalDouble value) {
        if (value.isPresent()) {
            node.put(name, value.getAsDouble());
        } else {
            node.putNull(name);
        }
    }

    /** Writes a count, or null. */
    public static void put(ObjectNode node, String name, OptionalInt value) {
        if (value.isPresent()) {
            node.put(name, value.getAsInt());
        } else {
            node.putNull(name);
        }
    }

    /** Ends an object with its warnings. */
    public static ObjectNode warned(ObjectNode result, List<String> warnings) {
        ArrayNode list = result.putArray("warnings");
        warnings.forEach(list::add);
        return result;
    }
}
