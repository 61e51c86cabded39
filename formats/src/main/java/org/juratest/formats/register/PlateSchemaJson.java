package org.juratest.formats.register;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import org.juratest.core.quantity.Unit;
import org.juratest.core.register.FieldProblem;
import org.juratest.core.register.PlateField;
import org.juratest.core.register.PlateField.Kind;
import org.juratest.core.register.PlateSchema;
import org.juratest.core.route.Route;
import org.juratest.formats.json.CoreJson;
import org.juratest.formats.json.TextFault;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Nameplate schemas as JSON Schema (draft 2020-12) of the plate as it is stored: {@code ratings} by key with
 * {@code value} and {@code unit}, {@code texts} by key. {@code x-unit} is the unit that is usual and that the range is
 * in, {@code x-order} the place among all values, {@code x-route} what may stand along a route. A document that says
 * more than this is refused, so that no rule is in it that nobody keeps.
 */
public final class PlateSchemaJson {

    private static final String DRAFT = "https://json-schema.org/draft/2020-12/schema";
    private static final Set<String> TOP =
            Set.of("$schema", "$id", "title", "description", "type", "required", "properties", "additionalProperties");
    private static final Set<String> NUMBER = Set.of(
            "title", "description", "type", "x-unit", "x-order", "required", "properties", "additionalProperties");
    private static final Set<String> TEXT =
            Set.of("title", "description", "type", "enum", "maxLength", "x-order", "x-route");

    private PlateSchemaJson() {}

    /** Writes a schema as a JSON Schema document. */
    public static ObjectNode write(String title, PlateSchema schema) {
        ObjectNode document = CoreJson.mapper()
                .createObjectNode()
                .put("$schema", DRAFT)
                .put("title", title)
                .put("type", "object");
        ObjectNode ratings =
                CoreJson.mapper().createObjectNode().put("type", "object").put("additionalProperties", false);
        ObjectNode texts =
                CoreJson.mapper().createObjectNode().put("type", "object").put("additionalProperties", false);
        ObjectNode numbers = ratings.putObject("properties");
        ObjectNode words = texts.putObject("properties");
        List<String> neededNumbers = new ArrayList<>();
        List<String> neededWords = new ArrayList<>();
        for (int i = 0; i < schema.fields().size(); i++) {
            PlateField field = schema.fields().get(i);
            if (field.kind() == Kind.NUMBER) {
                numbers.set(field.key(), number(field, i));
            } else {
                ObjectNode text = CoreJson.mapper()
                        .createObjectNode()
                        .put("title", field.label())
                        .put("type", "string")
                        .put("maxLength", longest(field.kind() == Kind.ROUTE))
                        .put("x-order", i);
                if (field.kind() == Kind.CHOICE) {
                    field.choices().forEach(text.putArray("enum")::add);
                } else if (field.kind() == Kind.ROUTE) {
                    field.choices().forEach(text.putArray("x-route")::add);
                }
                words.set(field.key(), text);
            }
            if (field.required()) {
                (field.kind() == Kind.NUMBER ? neededNumbers : neededWords).add(field.key());
            }
        }
        neededNumbers.forEach(ratings.putArray("required")::add);
        neededWords.forEach(texts.putArray("required")::add);
        document.putArray("required").add("ratings").add("texts");
        document.putObject("properties").<ObjectNode>set("ratings", ratings).set("texts", texts);
        return document;
    }

    private static int longest(boolean route) {
        return route ? Route.LONGEST : PlateField.LONGEST;
    }

    private static ObjectNode number(PlateField field, int order) {
        ObjectNode number = CoreJson.mapper()
                .createObjectNode()
                .put("title", field.label())
                .put("type", "object")
                .put("x-unit", java.util.Objects.requireNonNull(field.unit()).code())
                .put("x-order", order)
                .put("additionalProperties", false);
        number.putArray("required").add("value").add("unit");
        ObjectNode properties = number.putObject("properties");
        ObjectNode value = properties.putObject("value").put("type", "number");
        // The range is in the usual unit: plain JSON Schema can only hold it where no other unit is.
        if (field.min() != null) {
            value.put("minimum", field.min());
        }
        if (field.max() != null) {
            value.put("maximum", field.max());
        }
        properties.putObject("unit").put("type", "string");
        return number;
    }

    /**
     * Reads a document.
     *
     * @param problems gets what is wrong, by the path in the document; what is returned then is of no use
     */
    public static PlateSchema read(JsonNode document, List<FieldProblem> problems) {
        if (!document.isObject()) {
            problems.add(new FieldProblem("", "A schema is an object."));
            return new PlateSchema(List.of());
        }
        texts(document, "", problems);
        only(document, TOP, "", problems);
        object(document, "", problems);
        List<Ordered> fields = new ArrayList<>();
        document.path("properties").properties().forEach(part -> {
            String path = "properties." + part.getKey();
            if (!part.getKey().equals("ratings") && !part.getKey().equals("texts")) {
                problems.add(new FieldProblem(path, "A plate has ratings and texts, not \"" + part.getKey() + "\"."));
                return;
            }
            only(part.getValue(), TOP, path, problems);
            object(part.getValue(), path, problems);
            Set<String> required = new HashSet<>();
            part.getValue().path("required").forEach(r -> required.add(r.asString("")));
            part.getValue()
                    .path("properties")
                    .properties()
                    .forEach(p -> fields.add(field(
                            p,
                            part.getKey().equals("ratings"),
                            required.remove(p.getKey()),
                            path + ".properties." + p.getKey(),
                            fields.size(),
                            problems)));
            required.forEach(r ->
                    problems.add(new FieldProblem(path + ".required", "\"" + r + "\" is required but not described.")));
        });
        PlateSchema schema = new PlateSchema(fields.stream()
                .sorted(Comparator.comparingDouble(Ordered::order))
                .map(Ordered::field)
                .toList());
        problems.addAll(schema.problems());
        return schema;
    }

    private record Ordered(PlateField field, double order) {}

    private static Ordered field(
            Map.Entry<String, JsonNode> property,
            boolean number,
            boolean required,
            String path,
            int place,
            List<FieldProblem> problems) {
        JsonNode value = property.getValue();
        only(value, number ? NUMBER : TEXT, path, problems);
        kind(value, "title", JsonNode::isString, "a text", path, problems);
        kind(value, "x-order", JsonNode::isNumber, "a number", path, problems);
        kind(value, "x-unit", JsonNode::isString, "the code of a unit", path, problems);
        kind(
                value,
                "enum",
                n -> n.isArray() && n.valueStream().allMatch(JsonNode::isString),
                "a list of texts",
                path,
                problems);
        kind(
                value,
                "x-route",
                n -> n.isArray() && !n.isEmpty() && n.valueStream().allMatch(JsonNode::isString),
                "a list of what may stand at its places",
                path,
                problems);
        boolean route = value.has("x-route");
        if (route && value.has("enum")) {
            problems.add(new FieldProblem(path + ".x-route", "A value is a choice or a route, not both."));
        }
        kind(
                value,
                "maxLength",
                n -> n.isInt() && n.intValue() == longest(route),
                longest(route) + ", the only length that is kept",
                path,
                problems);
        List<String> choices = new ArrayList<>();
        value.path(route ? "x-route" : "enum").forEach(c -> choices.add(c.asString("")));
        Unit unit = null;
        if (number) {
            unit = Unit.known(value.path("x-unit").asString("1"));
            if (unit == null) {
                problems.add(new FieldProblem(
                        path + ".x-unit", "\"" + value.path("x-unit").asString("") + "\" is not a unit known here."));
                unit = Unit.ONE;
            }
        } else if (!value.path("type").asString("string").equals("string")) {
            problems.add(new FieldProblem(
                    path + ".type",
                    "A text is a string, not " + value.path("type").asString("") + "; numbers belong to the ratings."));
        }
        JsonNode range = value.at("/properties/value");
        if (number) {
            object(value, path, problems);
            only(value.path("properties"), Set.of("value", "unit"), path + ".properties", problems);
            only(range, Set.of("type", "minimum", "maximum"), path + ".properties.value", problems);
            only(value.at("/properties/unit"), Set.of("type"), path + ".properties.unit", problems);
            kind(
                    range,
                    "type",
                    n -> n.asString("").equals("number"),
                    "\"number\": a rating is one",
                    path + ".properties.value",
                    problems);
            kind(range, "minimum", JsonNode::isNumber, "a number", path + ".properties.value", problems);
            kind(range, "maximum", JsonNode::isNumber, "a number", path + ".properties.value", problems);
            kind(
                    value.at("/properties/unit"),
                    "type",
                    n -> n.asString("").equals("string"),
                    "\"string\": a unit is written as its code",
                    path + ".properties.unit",
                    problems);
        }
        return new Ordered(
                new PlateField(
                        property.getKey(),
                        value.path("title").asString(property.getKey()),
                        number ? Kind.NUMBER : route ? Kind.ROUTE : choices.isEmpty() ? Kind.TEXT : Kind.CHOICE,
                        unit,
                        bound(range, "minimum"),
                        bound(range, "maximum"),
                        required,
                        choices),
                value.path("x-order").asDouble(place));
    }

    /** A part that is an object, with rules that are kept for every plate. */
    private static void object(JsonNode node, String path, List<FieldProblem> problems) {
        if (!node.isObject()) {
            problems.add(new FieldProblem(path, "It is an object that describes one."));
        }
        kind(node, "type", n -> n.asString("").equals("object"), "\"object\"", path, problems);
        kind(node, "properties", JsonNode::isObject, "an object", path, problems);
        kind(
                node,
                "required",
                n -> n.isArray() && n.valueStream().allMatch(JsonNode::isString),
                "a list of names",
                path,
                problems);
        kind(
                node,
                "additionalProperties",
                n -> n.isBoolean() && !n.booleanValue(),
                "false: a plate holds what its class foresees",
                path,
                problems);
    }

    private static void kind(
            JsonNode node,
            String name,
            Predicate<JsonNode> allowed,
            String words,
            String path,
            List<FieldProblem> problems) {
        JsonNode value = node.path(name);
        if (!value.isMissingNode() && !allowed.test(value)) {
            problems.add(new FieldProblem(path.isEmpty() ? name : path + "." + name, "It can only be " + words + "."));
        }
    }

    /** Texts and names that cannot be stored. */
    private static void texts(JsonNode node, String path, List<FieldProblem> problems) {
        String fault = node.isString() ? TextFault.of(node.asString()) : null;
        if (fault != null) {
            problems.add(new FieldProblem(path, "It cannot be stored: " + fault + "."));
        }
        node.properties().forEach(p -> {
            String name = TextFault.of(p.getKey());
            if (name == null) {
                texts(p.getValue(), path.isEmpty() ? p.getKey() : path + "." + p.getKey(), problems);
            } else {
                problems.add(new FieldProblem(path, "A name in it cannot be stored: " + name + "."));
            }
        });
        if (node.isArray()) {
            for (int i = 0; i < node.size(); i++) {
                texts(node.get(i), path + "[" + i + "]", problems);
            }
        }
    }

    private static @Nullable Double bound(JsonNode range, String which) {
        return range.path(which).isNumber() ? (Double) range.path(which).asDouble() : null;
    }

    private static void only(JsonNode node, Set<String> known, String path, List<FieldProblem> problems) {
        node.propertyNames().forEach(name -> {
            if (!known.contains(name)) {
                problems.add(new FieldProblem(
                        path.isEmpty() ? name : path + "." + name,
                        "The rule \"" + name + "\" is not one that is kept here; take it out."));
            }
        });
    }
}
