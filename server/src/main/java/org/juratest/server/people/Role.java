package org.juratest.server.people;

import java.util.Locale;
import java.util.stream.Stream;

/** What somebody is in the works. Prints as the word that is stored, and parses back. */
public enum Role {
    /** Carries out rounds and tests. */
    TECHNICIAN,
    /** Makes procedures, classes and plans, and keeps the register. */
    ENGINEER,
    /** Shares out the work and reviews records. */
    SUPERVISOR,
    /** Reads everything, changes nothing. */
    AUDITOR,
    /** Looks after people and the installation. */
    ADMINISTRATOR;

    /** @throws IllegalArgumentException if the word is none of the roles */
    public static Role of(String word) {
        return Stream.of(values())
                .filter(r -> r.toString().equals(word))
                .findFirst()
                .orElseThrow(() -> new IllegalArgumentException(
                        "a role is technician, engineer, supervisor, auditor or administrator, not \"" + word + "\""));
    }

    @Override
    public String toString() {
        return name().toLowerCase(Locale.ROOT);
    }
}
