package org.juratest.core.procedure;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.juratest.core.quantity.Unit;

/**
 * What a measuring method declares of itself; a step that uses it is held to this before its procedure is published.
 *
 * @param name in procedure documents
 * @param hazard what of it can hurt
 * @param ports roles of the gear it needs; each is played by the step's gear or by further gear of the step
 * @param params parameters by name
 * @param maxima greatest values a step must state, by name
 * @param points what it can read, by the id a step's point has
 * @param captures names of the traces, sounds and pictures it keeps
 * @param features rows it may discover, by the id a step's feature has
 * @param files whether its captures also come as files; a step without gear gets them by files only
 * @param tables groups of tables of standards that it judges by
 * @param byHand whether its output is on only while a person holds it, who raises and lowers it
 * @param learned parameters that set what drives a test, and are learned from one device of a type for the next; each
 *     with the parameter that says what is wanted
 */
public record MethodSpec(
        String name,
        Hazard hazard,
        Set<String> ports,
        Map<String, Param> params,
        Map<String, Param> maxima,
        Map<String, Unit> points,
        Set<String> captures,
        Map<String, Feature> features,
        boolean files,
        Set<String> tables,
        boolean byHand,
        Map<String, String> learned) {

    /** What can hurt. */
    public enum Hazard {
        NONE,
        CURRENT,
        VOLTAGE,
        RADIATION,
        LIGHT,
        MOTION,
        PRESSURE,
        HEAT
    }

    /**
     * A parameter.
     *
     * @param unit of the range; a step may state any unit of its dimension
     * @param low least value, in {@code unit}
     * @param high greatest value, in {@code unit}
     * @param byDefault value where a step states none, in {@code unit}; absent: a step must state one
     */
    public record Param(Unit unit, double low, double high, @Nullable Double byDefault) {
        public Param {
            if (!(low <= high) || byDefault != null && !(byDefault >= low && byDefault <= high)) {
                throw new IllegalArgumentException(
                        "a parameter's range goes from a value up to another, with its default in it, not from " + low
                                + " to " + high + " with " + byDefault);
            }
        }

        /** Whether a value lies in the range; NaN never does. */
        public boolean has(double value, Unit of) {
            double here = of.convert(value, unit);
            return here >= low && here <= high;
        }
    }

    /**
     * Rows that it may discover.
     *
     * @param key of what dimension their key is
     * @param columns what it reads of each, by the id a column has
     */
    public record Feature(Unit key, Map<String, Unit> columns) {
        public Feature {
            columns = Collections.unmodifiableMap(new LinkedHashMap<>(columns));
        }
    }

    public MethodSpec {
        ports = Collections.unmodifiableSet(new LinkedHashSet<>(ports));
        params = Collections.unmodifiableMap(new LinkedHashMap<>(params));
        maxima = Collections.unmodifiableMap(new LinkedHashMap<>(maxima));
        points = Collections.unmodifiableMap(new LinkedHashMap<>(points));
        captures = Collections.unmodifiableSet(new LinkedHashSet<>(captures));
        features = Collections.unmodifiableMap(new LinkedHashMap<>(features));
        tables = Collections.unmodifiableSet(new LinkedHashSet<>(tables));
        learned = Collections.unmodifiableMap(new LinkedHashMap<>(learned));
    }

    /** Begins a specification. */
    public static Builder named(String name) {
        return new Builder(name);
    }

    /** Puts a specification together. */
    public static final class Builder {

        private final String name;
        private Hazard hazard = Hazard.NONE;
        private final Set<String> ports = new LinkedHashSet<>();
        private final Map<String, Param> params = new LinkedHashMap<>();
        private final Map<String, Param> maxima = new LinkedHashMap<>();
        private final Map<String, Unit> points = new LinkedHashMap<>();
        private final Set<String> captures = new LinkedHashSet<>();
        private final Map<String, Feature> features = new LinkedHashMap<>();

        private final Set<String> tables = new LinkedHashSet<>();
        private boolean files;
        private boolean byHand;
        private final Map<String, String> learned = new LinkedHashMap<>();

        private Builder(String name) {
            this.name = name;
        }

        public Builder hazard(Hazard what) {
            hazard = what;
            return this;
        }

        public Builder ports(String... roles) {
            ports.addAll(List.of(roles));
            return this;
        }

        /** A parameter that a step must state. */
        public Builder param(String param, Unit unit, double low, double high) {
            params.put(param, new Param(unit, low, high, null));
            return this;
        }

        /** A parameter that has a value where a step states none. */
        public Builder param(String param, Unit unit, double low, double high, double byDefault) {
            params.put(param, new Param(unit, low, high, byDefault));
            return this;
        }

        /** Rows it may discover. */
        public Builder feature(String id, Unit key, Map<String, Unit> columns) {
            features.put(id, new Feature(key, columns));
            return this;
        }

        /** A greatest value that a step must state. */
        public Builder maximum(String param, Unit unit, double high) {
            maxima.put(param, new Param(unit, 0, high, null));
            return this;
        }

        public Builder point(String id, Unit unit) {
            points.put(id, unit);
            return this;
        }

        public Builder captures(String... names) {
            captures.addAll(List.of(names));
            return this;
        }

        /** Its captures also come as files that other gear wrote. */
        public Builder alsoFromFiles() {
            files = true;
            return this;
        }

        /** Its output is on only while a person holds it. */
        public Builder byHand() {
            byHand = true;
            return this;
        }

        /**
         * A parameter that sets what drives the test, learned from one device of a type for the next.
         *
         * @param wanted parameter that says what is wanted of it
         */
        public Builder learned(String param, String wanted) {
            if (!params.containsKey(param) || !params.containsKey(wanted)) {
                throw new IllegalArgumentException(name + " has no parameters " + param + " and " + wanted);
            }
            learned.put(param, wanted);
            return this;
        }

        /** It judges by a table of this group, the one its device is meant for. */
        public Builder table(String group) {
            tables.add(group);
            return this;
        }

        public MethodSpec build() {
            return new MethodSpec(
                    name, hazard, ports, params, maxima, points, captures, features, files, tables, byHand, learned);
        }
    }
}
