package org.juratest.server.register;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
import org.juratest.core.quantity.Unit;
import tools.jackson.databind.JsonNode;

/** Rows of the register before and after, in words. */
final class Differences {

    private static final Map<String, String> FIELDS = Map.ofEntries(
            Map.entry("name", "name"),
            Map.entry("km", "km along the line"),
            Map.entry("altitude", "altitude in m"),
            Map.entry("zone", "time zone"),
            Map.entry("title", "title"),
            Map.entry("family", "family"),
            Map.entry("part_of", "part of"),
            Map.entry("part", "part"),
            Map.entry("retired_at", "retired"),
            Map.entry("retired_why", "why retired"),
            Map.entry("do_not_use", "not to be used"),
            Map.entry("do_not_use_since", "not to be used since"),
            Map.entry("do_not_use_by", "not to be used, said by"),
            Map.entry("maker", "maker"),
            Map.entry("model", "model"),
            Map.entry("serial", "serial number"),
            Map.entry("curve", "curve"),
            Map.entry("class", "class"),
            Map.entry("site", "site"),
            Map.entry("position", "position"),
            Map.entry("asset", "asset"),
            Map.entry("during", "from and to"),
            Map.entry("status", "job"),
            Map.entry("mark", "mark"),
            Map.entry("label", "label"),
            Map.entry("caption", "caption"));
    private static final List<String> SILENT = List.of(
            "id",
            "code",
            "sha256",
            "thumbnail",
            "media_type",
            "at",
            "by",
            "kind",
            "key",
            "search",
            "bytes",
            "procedure",
            "reason",
            "due");

    private Differences() {}

    /** What a row is, for people. */
    static String what(String table, String key, JsonNode row) {
        return switch (table) {
            case "measuring_installation" -> "measuring installation " + key;
            case "asset_class" -> "class " + key;
            case "installation" ->
                row.isObject()
                        ? row.path("asset").asString("") + " at "
                                + row.path("position").asString("")
                        : "where a device stands";
            case "extra_field" -> row.isObject() ? "field " + row.path("label").asString("") : "an own field";
            case "attachment" -> row.isObject() ? "file " + row.path("name").asString("") : "a file";
            case "job" -> "job " + key;
            default -> table + " " + key;
        };
    }

    /** Values that differ; a row that came or went is told by the values it has. */
    static List<Acts.ChangeView> of(String table, String key, JsonNode before, JsonNode after) {
        String of = what(table, key, after.isObject() ? after : before);
        Map<String, String> was = flat(before);
        Map<String, String> is = flat(after);
        TreeSet<String> names = new TreeSet<>(was.keySet());
        names.addAll(is.keySet());
        List<Acts.ChangeView> changes = new ArrayList<>();
        for (String name : names) {
            String b = was.get(name);
            String a = is.get(name);
            if (b == null ? a != null : !b.equals(a)) {
                changes.add(new Acts.ChangeView(of, name, b, a));
            }
        }
        return changes;
    }

    private static Map<String, String> flat(JsonNode row) {
        Map<String, String> values = new TreeMap<>();
        row.properties().forEach(p -> {
            switch (p.getKey()) {
                case "nameplate" -> {
                    p.getValue()
                            .path("ratings")
                            .properties()
                            .forEach(r -> values.put(r.getKey(), quantity(r.getValue())));
                    p.getValue()
                            .path("texts")
                            .properties()
                            .forEach(t -> values.put(t.getKey(), t.getValue().asString("")));
                }
                case "extra" ->
                    p.getValue()
                            .properties()
                            .forEach(e -> values.put(e.getKey(), e.getValue().asString("")));
                case "nameplate_schema" ->
                    p.getValue().at("/properties").properties().forEach(part -> part.getValue()
                            .path("properties")
                            .properties()
                            .forEach(f -> values.put(
                                    "plate value " + f.getKey(),
                                    f.getValue().path("title").asString(f.getKey()))));
                default -> put(values, p.getKey(), p.getValue());
            }
        });
        return values;
    }

    private static void put(Map<String, String> values, String column, JsonNode value) {
        String text = value.isNull() ? null : value.isString() ? value.asString() : value.toString();
        if (!SILENT.contains(column) && text != null && !text.isEmpty()) {
            values.put(
                    FIELDS.getOrDefault(column, column),
                    column.equals("during")
                            ? during(text)
                            : column.endsWith("_at") || column.endsWith("_since") ? day(text) : text);
        }
    }

    private static String quantity(JsonNode rating) {
        double value = rating.path("value").asDouble();
        String number = value == Math.rint(value) && Math.abs(value) < 1e15
                ? String.valueOf((long) value)
                : String.valueOf(value);
        Unit unit = Unit.known(rating.path("unit").asString("1"));
        return unit == null || unit.symbol().isEmpty() ? number : number + " " + unit.symbol();
    }

    /** A range of times as the database prints it, by days. */
    private static String during(String range) {
        String[] ends = range.replaceAll("[\\[\\]()\"]", "").split(",", -1);
        return "from " + day(ends[0]) + (ends.length > 1 && !ends[1].isEmpty() ? " to " + day(ends[1]) : "");
    }

    private static String day(String time) {
        return time.length() >= 10 ? time.substring(0, 10) : time;
    }
}
