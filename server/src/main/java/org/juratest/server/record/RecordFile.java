package org.juratest.server.record;

import java.util.List;
import org.juratest.formats.json.CoreJson;
import org.juratest.formats.run.EventCodec;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * A record as a file, the same that its PDF carries: what it says ({@code page}) and the events it says it from
 * ({@code events}), whose canonical forms (RFC 8785) give the chain that ends in {@code head}.
 */
final class RecordFile {

    static final String FORMAT = "juratest-record/1";

    private RecordFile() {}

    /** Canonical bytes; the same record gives the same bytes until something is added to it. */
    static byte[] of(RecordView page, List<byte[]> bodies) {
        ObjectNode file = CoreJson.mapper().createObjectNode();
        file.put("format", FORMAT);
        file.put("number", page.number());
        file.put("run", page.run().toString());
        file.put("head", page.chain().head());
        file.set("page", CoreJson.mapper().valueToTree(page));
        ArrayNode events = file.putArray("events");
        bodies.forEach(body -> events.add(CoreJson.mapper().readTree(body)));
        return EventCodec.canonical(CoreJson.mapper().writeValueAsBytes(file));
    }
}
