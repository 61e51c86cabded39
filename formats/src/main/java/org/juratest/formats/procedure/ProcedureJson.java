package org.juratest.formats.procedure;

import com.networknt.schema.Schema;
import com.networknt.schema.SchemaRegistry;
import com.networknt.schema.SpecificationVersion;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.juratest.core.method.Method;
import org.juratest.core.method.Methods;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.procedure.ProcedureCheck;
import org.juratest.formats.json.CoreJson;
import org.juratest.formats.json.JsonFault;
import org.juratest.formats.run.EventCodec;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Procedure documents: checked against the published JSON Schema, then against what the schema cannot say, then bound.
 */
public final class ProcedureJson {

    private static final String SCHEMA = read("procedure-1.schema.json");
    private static final Schema COMPILED = SchemaRegistry.withDefaultDialect(SpecificationVersion.DRAFT_2020_12)
            .getSchema(SCHEMA);

    private ProcedureJson() {}

    /** The published JSON Schema of the format. */
    public static String schema() {
        return SCHEMA;
    }

    /**
     * Reads a document.
     *
     * @throws ProcedureException with every problem and its place
     */
    public static Procedure read(byte[] document) {
        return read(document, true);
    }

    /**
     * Reads a document that was published: what has been asked of procedures since does not make it unreadable.
     *
     * @throws ProcedureException where it has not the shape of a procedure
     */
    public static Procedure published(byte[] document) {
        return read(document, false);
    }

    private static Procedure read(byte[] document, boolean publishing) {
        JsonNode tree;
        try {
            tree = CoreJson.mapper().readTree(document);
        } catch (JacksonException e) {
            throw new ProcedureException(List.of(new ProcedureCheck.Problem(
                    "line " + e.getLocation().getLineNr() + ", column "
                            + e.getLocation().getColumnNr(),
                    "not JSON: " + JsonFault.words(e))));
        }
        List<ProcedureCheck.Problem> problems = new ArrayList<>();
        COMPILED.validate(tree)
                .forEach(e -> problems.add(new ProcedureCheck.Problem(
                        path(e.getInstanceLocation().toString()), e.getMessage().replaceFirst("^[^:]*: ", ""))));
        if (!problems.isEmpty()) {
            throw new ProcedureException(problems);
        }
        Procedure procedure = bind((ObjectNode) tree);
        if (publishing) {
            problems.addAll(ProcedureCheck.problems(procedure, ProcedureJson::spec, Methods.tables()));
        }
        if (!problems.isEmpty()) {
            throw new ProcedureException(problems);
        }
        return procedure;
    }

    private static @Nullable MethodSpec spec(String method) {
        return Methods.byName(method).map(Method::spec).orElse(null);
    }

    /** {@code /steps/4/points/0} as {@code steps[4].points[0]}. */
    private static String path(String pointer) {
        return pointer.replaceAll("^[$]?[/.]?", "")
                .replaceAll("/(\\d+)", "[$1]")
                .replace('/', '.');
    }

    private static Procedure bind(ObjectNode tree) {
        ObjectNode full = tree.deepCopy();
        if (!full.has("rule")) {
            full.put("rule", "simple");
        }
        JsonNode defaults = full.remove("defaults");
        for (JsonNode step : full.path("steps")) {
            ObjectNode s = (ObjectNode) step;
            defaults(s, defaults == null ? null : defaults.get("params"));
            fill(s, "required", true);
            fill(s, "hazard", false);
            if (s.has("more")) {
                fill((ObjectNode) s.get("more"), "shared", false);
                fill((ObjectNode) s.get("more"), "flows", false);
            }
            if (!s.has("repeats")) {
                s.put("repeats", "worst");
            }
            (s.has("points") ? (ArrayNode) s.get("points") : s.putArray("points")).forEach(p -> point((ObjectNode) p));
            s.path("features").forEach(f -> f.path("columns").forEach(c -> point((ObjectNode) c)));
        }
        try {
            return CoreJson.mapper()
                    .readerFor(Procedure.class)
                    .with(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES)
                    .readValue(full);
        } catch (JacksonException e) {
            throw new ProcedureException(List.of(new ProcedureCheck.Problem(CoreJson.path(e), JsonFault.words(e))));
        }
    }

    /**
     * Parameters that the document states for all its steps, and those that a method has a value for by itself, where a
     * step of a method that takes them states none: what is frozen says everything.
     */
    private static void defaults(ObjectNode step, @Nullable JsonNode all) {
        MethodSpec spec = step.has("method") ? spec(step.get("method").asString()) : null;
        if (spec == null) {
            return;
        }
        spec.params().forEach((name, param) -> {
            JsonNode there = step.path("params").get(name);
            JsonNode stated = all == null ? null : all.get(name);
            if (there == null && stated != null) {
                params(step).set(name, stated.deepCopy());
            } else if (there == null && param.byDefault() != null) {
                params(step)
                        .putObject(name)
                        .put("value", param.byDefault())
                        .put("unit", param.unit().code());
            }
        });
    }

    private static ObjectNode params(ObjectNode step) {
        return step.has("params") ? (ObjectNode) step.get("params") : step.putObject("params");
    }

    private static void point(ObjectNode point) {
        fill(point, "required", true);
        if (!point.has("scale")) {
            point.put("scale", "linear");
        }
    }

    private static void fill(ObjectNode node, String name, boolean value) {
        if (!node.has(name)) {
            node.put(name, value);
        }
    }

    /** The canonical bytes a version is frozen with (RFC 8785). */
    public static byte[] canonical(Procedure procedure) {
        return EventCodec.canonical(CoreJson.mapper().writeValueAsBytes(procedure));
    }

    /** SHA-256 of the canonical form. */
    public static String hash(Procedure procedure) {
        return EventCodec.hash(canonical(procedure));
    }

    private static String read(String name) {
        try (InputStream in = ProcedureJson.class.getResourceAsStream(name)) {
            if (in == null) {
                throw new IllegalStateException(name + " is missing from the program");
            }
            return new String(in.readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
