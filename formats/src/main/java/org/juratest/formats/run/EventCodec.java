package org.juratest.formats.run;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.util.HexFormat;
import java.util.Map;
import java.util.UUID;
import org.erdtman.jcs.JsonCanonicalizer;
import org.juratest.core.run.Actor;
import org.juratest.core.run.Event;
import org.juratest.core.run.EventData;
import org.juratest.core.run.UnknownEvent;
import org.juratest.formats.json.CoreJson;
import tools.jackson.core.JacksonException;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Events as bytes. The canonical form is RFC 8785 over the whole envelope; its SHA-256, in lower-case hex, is what the
 * next event names as {@code prev}.
 */
public final class EventCodec {

    private EventCodec() {}

    /** The canonical bytes of an event. */
    public static byte[] write(Event event) {
        ObjectNode envelope = CoreJson.mapper().createObjectNode();
        envelope.put("id", event.id().toString());
        envelope.put("run", event.run().toString());
        envelope.put("n", event.n());
        if (event.prev() != null) {
            envelope.put("prev", event.prev());
        }
        envelope.put("at", event.at().toString());
        envelope.put("by", event.by().toString());
        envelope.put("origin", event.origin());
        envelope.put("type", event.data().type());
        envelope.put("v", event.data().version());
        envelope.set("data", data(event.data()));
        return canonical(CoreJson.mapper().writeValueAsBytes(envelope));
    }

    private static JsonNode data(EventData data) {
        return CoreJson.mapper().valueToTree(data instanceof UnknownEvent unknown ? unknown.content() : data);
    }

    /**
     * The canonical form of a JSON text (RFC 8785).
     *
     * @throws UncheckedIOException if it is not JSON
     */
    public static byte[] canonical(byte[] json) {
        try {
            return new JsonCanonicalizer(json).getEncodedUTF8();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /**
     * Reads an event. A type or version this program does not know becomes an {@link UnknownEvent}.
     *
     * @throws IllegalArgumentException naming the field that is missing or cannot be read
     */
    public static Event read(byte[] body) {
        JsonNode envelope;
        try {
            envelope = CoreJson.mapper().readTree(body);
        } catch (JacksonException e) {
            throw new IllegalArgumentException("the event is not JSON: " + e.getOriginalMessage(), e);
        }
        String prev = envelope.path("prev").isMissingNode() ? null : text(envelope, "prev");
        try {
            return new Event(
                    UUID.fromString(text(envelope, "id")),
                    UUID.fromString(text(envelope, "run")),
                    number(envelope, "n"),
                    prev,
                    Instant.parse(text(envelope, "at")),
                    Actor.parse(text(envelope, "by")),
                    text(envelope, "origin"),
                    data(text(envelope, "type"), (int) number(envelope, "v"), envelope.path("data")));
        } catch (DateTimeParseException e) {
            throw new IllegalArgumentException("the event's \"at\" is not a time: " + e.getParsedString(), e);
        }
    }

    private static String text(JsonNode envelope, String field) {
        JsonNode node = envelope.path(field);
        if (!node.isString()) {
            throw new IllegalArgumentException("the event's \"" + field + "\" is missing or not a text");
        }
        return node.asString();
    }

    private static long number(JsonNode envelope, String field) {
        JsonNode node = envelope.path(field);
        if (!node.isIntegralNumber() || !node.canConvertToLong()) {
            throw new IllegalArgumentException("the event's \"" + field + "\" is missing or not a whole number");
        }
        return node.asLong();
    }

    /**
     * The data of an event of a type.
     *
     * @throws IllegalArgumentException naming the field at fault
     */
    public static EventData data(String type, int version, JsonNode data) {
        if (!data.isObject()) {
            throw new IllegalArgumentException("the data of \"" + type + "\" is not an object");
        }
        Class<? extends EventData> known = EventTypes.of(type, version);
        if (known == null) {
            return new UnknownEvent(
                    type, version, CoreJson.mapper().convertValue(data, new TypeReference<Map<String, Object>>() {}));
        }
        try {
            return CoreJson.mapper().treeToValue(data, known);
        } catch (JacksonException e) {
            throw new EventDataException(type, e);
        }
    }

    /** SHA-256 in lower-case hex. */
    public static String hash(byte[] bytes) {
        try {
            return HexFormat.of().formatHex(MessageDigest.getInstance("SHA-256").digest(bytes));
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }
}
