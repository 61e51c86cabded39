package org.juratest.formats.json;

import java.time.Instant;
import java.time.LocalDate;
import java.util.Arrays;
import java.util.Collection;
import java.util.Map;
import java.util.UUID;
import java.util.stream.Collectors;
import tools.jackson.core.JacksonException;
import tools.jackson.core.TokenStreamLocation;
import tools.jackson.databind.exc.InvalidFormatException;
import tools.jackson.databind.exc.InvalidNullException;
import tools.jackson.databind.exc.InvalidTypeIdException;
import tools.jackson.databind.exc.MismatchedInputException;
import tools.jackson.databind.exc.UnrecognizedPropertyException;

/**
 * Says in words of the trade what is wrong in a document: never the names of our classes, which help nobody who wrote
 * it.
 */
public final class JsonFault {

    private static final int LONGEST = 40;

    private JsonFault() {}

    /** What is wrong, as the end of a sentence without its full stop. */
    public static String words(JacksonException e) {
        if (e instanceof UnrecognizedPropertyException unknown) {
            return "there is no field \"" + shortened(unknown.getPropertyName()) + "\" here; there are "
                    + unknown.getKnownPropertyIds().stream()
                            .map(String::valueOf)
                            .sorted()
                            .collect(Collectors.joining(", "));
        } else if (e instanceof InvalidNullException) {
            return "one of its elements is empty";
        } else if (e instanceof InvalidTypeIdException kind) {
            return kind.getTypeId() == null
                    ? "its kind is missing"
                    : "there is no kind \"" + shortened(kind.getTypeId()) + "\"";
        } else if (e instanceof InvalidFormatException wrong) {
            return ours(wrong)
                    ? wrong.getOriginalMessage()
                    : "\"" + shortened(String.valueOf(wrong.getValue())) + "\" is not "
                            + expected(wrong.getTargetType());
        } else if (e instanceof MismatchedInputException mismatch && !ours(mismatch)) {
            return "here belongs " + expected(mismatch.getTargetType());
        } else if (e.getCause() instanceof IllegalArgumentException cause
                && cause.getMessage() != null
                && !(cause instanceof NumberFormatException)) {
            return cause.getMessage();
        }
        return ours(e) ? e.getOriginalMessage() : syntax(e);
    }

    /** Whether the words are ours, and not a library's, which name types. */
    private static boolean ours(JacksonException e) {
        String text = String.valueOf(e.getOriginalMessage());
        return !text.contains("`")
                && !text.contains("org.juratest")
                && !text.contains("java.")
                && !text.contains("jackson")
                && !text.startsWith("Cannot ")
                && !text.contains("[Source");
    }

    private static String syntax(JacksonException e) {
        TokenStreamLocation at = e.getLocation();
        return at == null || at.getLineNr() < 1
                ? "it is not JSON of this form"
                : "line " + at.getLineNr() + ", column " + at.getColumnNr() + " is not JSON of this form";
    }

    private static String expected(Class<?> type) {
        if (type == null) {
            return "something else";
        } else if (type.isEnum()) {
            return "one of "
                    + Arrays.stream(type.getEnumConstants())
                            .map(c -> CoreJson.constantName((Enum<?>) c))
                            .collect(Collectors.joining(", "));
        } else if (type == String.class) {
            return "a text";
        } else if (type == boolean.class || type == Boolean.class) {
            return "true or false";
        } else if (type == int.class || type == long.class || type == Integer.class || type == Long.class) {
            return "a whole number";
        } else if (type.isPrimitive() || Number.class.isAssignableFrom(type)) {
            return "a number";
        } else if (Collection.class.isAssignableFrom(type) || type.isArray()) {
            return "a list";
        } else if (type == LocalDate.class) {
            return "a day such as 2026-11-27";
        } else if (type == Instant.class) {
            return "a time such as 2026-11-27T08:30:00Z";
        } else if (type == UUID.class) {
            return "an identifier in 32 hexadecimal digits with dashes";
        }
        return Map.class.isAssignableFrom(type) || type.isRecord() || type.isInterface()
                ? "an object with its fields"
                : "a text of another form";
    }

    private static String shortened(String text) {
        return text.length() <= LONGEST ? text : text.substring(0, LONGEST - 1) + "\u2026";
    }
}
