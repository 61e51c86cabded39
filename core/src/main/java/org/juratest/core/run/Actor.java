package org.juratest.core.run;

/**
 * Who made an event: a person, or a process of an installation. Prints as {@code person:id} and parses back.
 *
 * @param id sign-in name, or the process's id
 */
public record Actor(Kind kind, String id) {

    /** Person or process. */
    public enum Kind {
        PERSON,
        PROCESS
    }

    public static Actor person(String id) {
        return new Actor(Kind.PERSON, id);
    }

    public static Actor process(String id) {
        return new Actor(Kind.PROCESS, id);
    }

    /**
     * Parses what {@link #toString()} prints.
     *
     * @throws IllegalArgumentException if the text names neither a person nor a process
     */
    public static Actor parse(String text) {
        if (text.startsWith("person:")) {
            return person(text.substring(7));
        }
        if (text.startsWith("process:")) {
            return process(text.substring(8));
        }
        throw new IllegalArgumentException("an actor reads person:id or process:id, not \"" + text + "\"");
    }

    public boolean isPerson() {
        return kind == Kind.PERSON;
    }

    @Override
    public String toString() {
        return (isPerson() ? "person:" : "process:") + id;
    }
}
