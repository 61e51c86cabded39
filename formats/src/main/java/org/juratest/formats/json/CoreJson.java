package org.juratest.formats.json;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.annotation.JsonProperty;
import com.fasterxml.jackson.annotation.JsonSetter;
import com.fasterxml.jackson.annotation.JsonSubTypes;
import com.fasterxml.jackson.annotation.JsonTypeInfo;
import com.fasterxml.jackson.annotation.Nulls;
import java.text.Normalizer;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Function;
import org.juratest.core.curve.ElementShape;
import org.juratest.core.curve.InverseTimeCurve;
import org.juratest.core.curve.LogLogTable;
import org.juratest.core.curve.TimeCurrentBand;
import org.juratest.core.limit.Envelope;
import org.juratest.core.limit.LimitKind;
import org.juratest.core.limit.LimitSpec;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Actor;
import org.juratest.core.run.RunEvents;
import tools.jackson.core.JacksonException;
import tools.jackson.core.JsonGenerator;
import tools.jackson.core.JsonParser;
import tools.jackson.core.StreamReadFeature;
import tools.jackson.databind.DeserializationContext;
import tools.jackson.databind.KeyDeserializer;
import tools.jackson.databind.MapperFeature;
import tools.jackson.databind.SerializationContext;
import tools.jackson.databind.ValueDeserializer;
import tools.jackson.databind.ValueSerializer;
import tools.jackson.databind.cfg.MapperConfig;
import tools.jackson.databind.deser.jdk.StringDeserializer;
import tools.jackson.databind.exc.InvalidFormatException;
import tools.jackson.databind.introspect.AnnotatedClass;
import tools.jackson.databind.introspect.JacksonAnnotationIntrospector;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.module.SimpleModule;

/**
 * The one mapping between core types and JSON, for events, procedures, curves and the API. Absent instead of null; enum
 * constants in lower camel case; units, keys and actors as the text they print; texts in Unicode NFC; a number that is
 * not finite is refused.
 */
public final class CoreJson {

    private static final JsonMapper MAPPER = configured(JsonMapper.builder()).build();

    private CoreJson() {}

    /** The shared mapper; immutable. */
    public static JsonMapper mapper() {
        return MAPPER;
    }

    /** Puts the mapping onto a builder, so that the server's own mapper speaks the same. */
    public static <B extends tools.jackson.databind.cfg.MapperBuilder<?, B>> B configured(B builder) {
        return builder.addModule(module())
                .annotationIntrospector(new CamelCaseEnums())
                .addMixIn(LimitKind.class, LimitKindNames.class)
                .addMixIn(ElementShape.class, ElementShapeNames.class)
                .addMixIn(RunEvents.Opened.class, OpenedNames.class)
                .addMixIn(RunEvents.DeviceIdentity.class, DeviceNames.class)
                .changeDefaultPropertyInclusion(v -> v.withValueInclusion(JsonInclude.Include.NON_NULL))
                .withConfigOverride(List.class, o -> o.setNullHandling(JsonSetter.Value.forValueNulls(Nulls.AS_EMPTY)))
                .withConfigOverride(Set.class, o -> o.setNullHandling(JsonSetter.Value.forValueNulls(Nulls.AS_EMPTY)))
                .withConfigOverride(Map.class, o -> o.setNullHandling(JsonSetter.Value.forValueNulls(Nulls.AS_EMPTY)))
                .disable(MapperFeature.ALLOW_COERCION_OF_SCALARS)
                .enable(StreamReadFeature.STRICT_DUPLICATE_DETECTION);
    }

    /**
     * Where in a document something could not be read: {@code limit.high} or {@code steps[4].points}; empty for the
     * whole.
     */
    public static String path(JacksonException e) {
        StringBuilder path = new StringBuilder();
        for (JacksonException.Reference step : e.getPath()) {
            if (step.getPropertyName() != null) {
                path.append(path.isEmpty() ? "" : ".").append(step.getPropertyName());
            } else if (step.getIndex() >= 0) {
                path.append('[').append(step.getIndex()).append(']');
            }
        }
        return path.toString();
    }

    private static SimpleModule module() {
        SimpleModule module = new SimpleModule("juratest-core");
        module.setDeserializerModifier(new RequiredComponents());
        text(module, Unit.class, Unit::code, Unit::of);
        text(module, PointKey.class, PointKey::toString, PointKey::parse);
        text(module, Actor.class, Actor::toString, Actor::parse);
        module.addAbstractTypeMapping(Envelope.class, TimeCurrentBand.class);
        module.addDeserializer(String.class, new Words());
        module.addKeyDeserializer(String.class, new KeyDeserializer() {
            @Override
            public Object deserializeKey(String key, DeserializationContext context) {
                return storable(key, context.getParser());
            }
        });
        module.addSerializer(LimitSpec.class, new LimitSpecJson.Writer());
        module.addDeserializer(LimitSpec.class, new LimitSpecJson.Reader());
        module.addSerializer(LogLogTable.class, new ValueSerializer<>() {
            @Override
            public void serialize(LogLogTable table, JsonGenerator out, SerializationContext context) {
                out.writeStartObject();
                out.writePOJOProperty("x", table.x());
                out.writePOJOProperty("y", table.y());
                out.writeEndObject();
            }
        });
        module.addDeserializer(LogLogTable.class, new ValueDeserializer<>() {
            @Override
            public LogLogTable deserialize(JsonParser in, DeserializationContext context) {
                Points points = context.readValue(in, Points.class);
                return LogLogTable.of(points.x, points.y);
            }
        });
        module.addSerializer(
                String.class, writer((text, out) -> out.writeString(Normalizer.normalize(text, Normalizer.Form.NFC))));
        ValueSerializer<Double> finite = writer((number, out) -> {
            if (!(Math.abs(number) <= Double.MAX_VALUE)) {
                throw new IllegalArgumentException("a number that is not finite cannot be stored: " + number);
            }
            out.writeNumber(number);
        });
        module.addSerializer(Double.class, finite);
        module.addSerializer(double.class, finite);
        return module;
    }

    /** Texts as they come; what no database and no file in UTF-8 can hold is refused by name. */
    private static final class Words extends StringDeserializer {
        @Override
        public String deserialize(JsonParser in, DeserializationContext context) {
            String text = super.deserialize(in, context);
            // A null has no characters; what must be there is asked elsewhere.
            return text == null ? text : storable(text, in);
        }
    }

    private static String storable(String text, JsonParser in) {
        String fault = TextFault.of(text);
        if (fault != null) {
            throw InvalidFormatException.from(in, fault, "", String.class);
        }
        return text;
    }

    private record Points(double[] x, double[] y) {}

    private interface Writing<T> {
        void write(T value, JsonGenerator out);
    }

    private static <T> ValueSerializer<T> writer(Writing<T> writing) {
        return new ValueSerializer<>() {
            @Override
            public void serialize(T value, JsonGenerator out, SerializationContext context) {
                writing.write(value, out);
            }
        };
    }

    private static <T> void text(
            SimpleModule module, Class<T> type, Function<T, String> print, Function<String, T> parse) {
        module.addSerializer(type, writer((value, out) -> out.writeString(print.apply(value))));
        module.addDeserializer(type, new ValueDeserializer<T>() {
            @Override
            public T deserialize(JsonParser in, DeserializationContext context) {
                String text = in.getString();
                try {
                    return parse.apply(text);
                } catch (IllegalArgumentException e) {
                    throw InvalidFormatException.from(in, String.valueOf(e.getMessage()), text, type);
                }
            }
        });
    }

    /**
     * How a constant stands in JSON: {@code marginalInside}; a qualifier by its sign, an inverse-time curve by its id.
     */
    public static String constantName(Enum<?> constant) {
        if (constant instanceof Qualifier qualifier) {
            return qualifier.sign();
        }
        if (constant instanceof InverseTimeCurve curve) {
            return curve.id();
        }
        StringBuilder camel = new StringBuilder();
        boolean up = false;
        for (char c : constant.name().toCharArray()) {
            if (c == '_') {
                up = true;
            } else {
                camel.append(up ? c : Character.toLowerCase(c));
                up = false;
            }
        }
        return camel.toString();
    }

    /** Enum constants by {@link #constantName}. */
    private static final class CamelCaseEnums extends JacksonAnnotationIntrospector {
        @Override
        public String[] findEnumValues(
                MapperConfig<?> config, AnnotatedClass annotated, Enum<?>[] values, String[] names) {
            for (int i = 0; i < values.length; i++) {
                names[i] = constantName(values[i]);
            }
            return names;
        }
    }

    /** What devices cover was first the bands of radios; events keep their name. */
    private interface DeviceNames {
        @JsonProperty("bands")
        List<RunEvents.DeviceSpan> spans();
    }

    /** The curve of a device was the first of its kind to be kept; events keep its name. */
    private interface OpenedNames {
        @JsonProperty("band")
        Envelope envelope();
    }

    @JsonTypeInfo(use = JsonTypeInfo.Id.NAME, property = "kind")
    @JsonSubTypes({
        @JsonSubTypes.Type(name = "fixed", value = LimitKind.Fixed.class),
        @JsonSubTypes.Type(name = "atMost", value = LimitKind.AtMost.class),
        @JsonSubTypes.Type(name = "atLeast", value = LimitKind.AtLeast.class),
        @JsonSubTypes.Type(name = "nominal", value = LimitKind.Nominal.class),
        @JsonSubTypes.Type(name = "table", value = LimitKind.Table.class),
        @JsonSubTypes.Type(name = "standard", value = LimitKind.Standard.class),
        @JsonSubTypes.Type(name = "band", value = LimitKind.DeviceCurve.class),
        @JsonSubTypes.Type(name = "along", value = LimitKind.Along.class),
        @JsonSubTypes.Type(name = "formula", value = LimitKind.Formula.class),
        @JsonSubTypes.Type(name = "spread", value = LimitKind.Spread.class),
        @JsonSubTypes.Type(name = "change", value = LimitKind.Change.class)
    })
    private interface LimitKindNames {}

    @JsonTypeInfo(use = JsonTypeInfo.Id.NAME, property = "kind")
    @JsonSubTypes({
        @JsonSubTypes.Type(name = "points", value = ElementShape.Points.class),
        @JsonSubTypes.Type(name = "power", value = ElementShape.Power.class),
        @JsonSubTypes.Type(name = "inverse", value = ElementShape.Inverse.class),
        @JsonSubTypes.Type(name = "spots", value = ElementShape.Spots.class)
    })
    private interface ElementShapeNames {}
}
