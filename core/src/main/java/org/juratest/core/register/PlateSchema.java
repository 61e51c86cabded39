package org.juratest.core.register;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;

/**
 * What the nameplates of a class of assets may and must say.
 *
 * @param fields in the order shown
 */
public record PlateSchema(List<PlateField> fields) {

    private static final int MOST = 100;
    /** Before the key of a plate value where problems name it. */
    public static final String PREFIX = "plate.";

    public PlateSchema {
        fields = List.copyOf(fields);
    }

    /** What is wrong with the schema itself. */
    public List<FieldProblem> problems() {
        List<FieldProblem> problems = new ArrayList<>();
        Set<String> keys = new HashSet<>();
        for (int i = 0; i < fields.size(); i++) {
            PlateField field = fields.get(i);
            problems.addAll(field.problems("fields[" + i + "]"));
            if (!keys.add(field.key())) {
                problems.add(new FieldProblem(
                        "fields[" + i + "].key",
                        "The key " + field.key() + " is there twice; each value needs its own."));
            }
        }
        if (fields.size() > MOST) {
            problems.add(
                    new FieldProblem("fields", "A plate has at most " + MOST + " values, not " + fields.size() + "."));
        }
        return problems;
    }

    public Optional<PlateField> field(String key) {
        return fields.stream().filter(f -> f.key().equals(key)).findFirst();
    }

    /** What is wrong with a plate: values out of range, of another kind, missing or not foreseen. */
    public List<FieldProblem> check(Nameplate plate) {
        List<FieldProblem> problems = new ArrayList<>();
        for (PlateField field : fields) {
            String wrong = wrong(field, plate);
            if (wrong != null) {
                problems.add(new FieldProblem(PREFIX + field.key(), wrong));
            }
        }
        Set<String> unforeseen = new java.util.TreeSet<>(plate.ratings().keySet());
        unforeseen.addAll(plate.texts().keySet());
        fields.forEach(f -> unforeseen.remove(f.key()));
        unforeseen.forEach(key -> problems.add(new FieldProblem(
                PREFIX + key,
                "The plates of this class have no value \"" + TypedQuantity.shortened(key)
                        + "\"; add it to the class, or take it out.")));
        return problems;
    }

    private static @Nullable String wrong(PlateField field, Nameplate plate) {
        Quantity number = plate.ratings().get(field.key());
        String text = plate.texts().get(field.key());
        if (number == null && text == null) {
            return field.required() ? field.label() + " is missing; every asset of this class needs it." : null;
        }
        if (field.kind() == PlateField.Kind.NUMBER) {
            return number == null ? field.label() + " is a number, not words." : field.wrong(number);
        }
        return text == null ? field.label() + " is a word, not a number." : field.wrong(text);
    }

    /**
     * Reads a plate from what was typed, and says what is wrong with it.
     *
     * @param typed by key; blank is as good as absent
     * @param problems gets what is wrong; the plate holds what is right
     */
    public Nameplate read(Map<String, String> typed, List<FieldProblem> problems) {
        Map<String, Quantity> ratings = new LinkedHashMap<>();
        Map<String, String> texts = new LinkedHashMap<>();
        Set<String> unread = new HashSet<>();
        typed.forEach((key, text) -> {
            if (!text.isBlank()) {
                PlateField field = field(key).orElse(null);
                if (field != null && field.kind() == PlateField.Kind.NUMBER) {
                    try {
                        ratings.put(key, TypedQuantity.parse(text, java.util.Objects.requireNonNull(field.unit())));
                    } catch (IllegalArgumentException e) {
                        problems.add(new FieldProblem(PREFIX + key, field.label() + ": " + e.getMessage() + "."));
                        unread.add(PREFIX + key);
                    }
                } else {
                    texts.put(key, field == null ? text.strip() : field.kept(text));
                }
            }
        });
        Nameplate plate = new Nameplate(ratings, texts);
        check(plate).stream().filter(p -> !unread.contains(p.field())).forEach(problems::add);
        return plate;
    }

    /**
     * A plate as it would be typed: by key, in the order of the fields; values the class does not foresee come last.
     */
    public Map<String, String> print(Nameplate plate) {
        Map<String, String> typed = new LinkedHashMap<>();
        fields.forEach(f -> {
            if (plate.ratings().containsKey(f.key())) {
                typed.put(
                        f.key(),
                        TypedQuantity.print(plate.ratings().get(f.key()), f.unit() == null ? Unit.ONE : f.unit()));
            } else if (plate.texts().containsKey(f.key())) {
                typed.put(f.key(), plate.texts().get(f.key()));
            }
        });
        plate.ratings().forEach((key, value) -> typed.putIfAbsent(key, TypedQuantity.print(value, Unit.ONE)));
        plate.texts().forEach(typed::putIfAbsent);
        return typed;
    }
}
