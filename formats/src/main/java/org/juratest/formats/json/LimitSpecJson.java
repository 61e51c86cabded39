package org.juratest.formats.json;

import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.DecisionRule;
import org.juratest.core.limit.LimitKind;
import org.juratest.core.limit.LimitSpec;
import tools.jackson.core.JsonGenerator;
import tools.jackson.core.JsonParser;
import tools.jackson.databind.DeserializationContext;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.SerializationContext;
import tools.jackson.databind.ValueDeserializer;
import tools.jackson.databind.ValueSerializer;
import tools.jackson.databind.exc.InvalidFormatException;
import tools.jackson.databind.node.ObjectNode;

/** A limit is one flat object: its kind and the kind's own fields beside {@code when}, {@code source} and the rule. */
final class LimitSpecJson {

    private static final Set<String> COMMON =
            Set.of("when", "source", "rule", "marginalLow", "marginalHigh", "severeBeyond");

    private LimitSpecJson() {}

    static final class Writer extends ValueSerializer<LimitSpec> {
        @Override
        public void serialize(LimitSpec limit, JsonGenerator out, SerializationContext context) {
            ObjectNode flat = CoreJson.mapper().valueToTree(limit.kind());
            flat.set("when", CoreJson.mapper().valueToTree(limit.when()));
            flat.put("source", limit.source());
            if (limit.rule() != null) {
                flat.set("rule", CoreJson.mapper().valueToTree(limit.rule()));
            }
            put(flat, "marginalLow", limit.marginalLow());
            put(flat, "marginalHigh", limit.marginalHigh());
            put(flat, "severeBeyond", limit.severeBeyond());
            out.writeTree(flat);
        }

        private static void put(ObjectNode node, String name, @Nullable Double value) {
            if (value != null) {
                node.put(name, value);
            }
        }
    }

    static final class Reader extends ValueDeserializer<LimitSpec> {
        @Override
        public LimitSpec deserialize(JsonParser in, DeserializationContext context) {
            JsonNode tree = context.readTree(in);
            if (!(tree instanceof ObjectNode node)) {
                throw InvalidFormatException.from(in, "a limit is an object with its kind", "", LimitSpec.class);
            }
            ObjectNode own = node.deepCopy();
            own.remove(COMMON);
            try {
                LimitKind kind = context.readTreeAsValue(own, LimitKind.class);
                JsonNode when = node.path("when");
                JsonNode rule = node.path("rule");
                return new LimitSpec(
                        kind,
                        when.isMissingNode()
                                ? LimitSpec.When.START
                                : context.readTreeAsValue(when, LimitSpec.When.class),
                        source(in, node),
                        rule.isMissingNode() ? null : context.readTreeAsValue(rule, DecisionRule.class),
                        number(in, node, "marginalLow"),
                        number(in, node, "marginalHigh"),
                        number(in, node, "severeBeyond"));
            } catch (IllegalArgumentException e) {
                throw InvalidFormatException.from(in, String.valueOf(e.getMessage()), "", LimitSpec.class);
            }
        }

        private static String source(JsonParser in, ObjectNode node) {
            JsonNode source = node.path("source");
            String fault = source.isString()
                    ? TextFault.of(source.asString())
                    : source.isMissingNode() ? null : "a source is words";
            if (fault != null) {
                throw at(in, "source", fault);
            }
            return source.asString("");
        }

        private static @Nullable Double number(JsonParser in, ObjectNode node, String name) {
            JsonNode value = node.path(name);
            if (!value.isMissingNode() && !value.isNull() && !value.isNumber()) {
                throw at(in, name, "here belongs a number");
            }
            return value.isNumber() ? (Double) value.asDouble() : null;
        }

        private static InvalidFormatException at(JsonParser in, String field, String what) {
            InvalidFormatException e = InvalidFormatException.from(in, what, "", LimitSpec.class);
            e.prependPath(LimitSpec.class, field);
            return e;
        }
    }
}
