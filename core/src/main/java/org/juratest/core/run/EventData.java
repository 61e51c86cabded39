package org.juratest.core.run;

/** What an event says, beside its envelope. Each kind knows what must hold before it and what it changes. */
public interface EventData {

    /** The type as stored: the class's name with a small first letter. */
    default String type() {
        String name = getClass().getSimpleName();
        return Character.toLowerCase(name.charAt(0)) + name.substring(1);
    }

    /** Version of the type's data. */
    default int version() {
        return 1;
    }

    /**
     * Checks whether a person may add this to a run now.
     *
     * @throws Refusal if not, with the reason
     */
    default void check(RunState before) {}

    /**
     * Checks whether this can come after what has happened, whoever adds it: the journal takes nothing that does not
     * fit.
     *
     * @throws Refusal if it does not fit the state
     */
    default void fits(RunState before) {}

    /** Applies the event to a state that is being made. */
    void fold(RunState next, Event event);
}
