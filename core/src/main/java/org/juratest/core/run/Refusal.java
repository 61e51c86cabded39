package org.juratest.core.run;

import org.jspecify.annotations.Nullable;

/** Something a person asked for that the run cannot do now. Nothing has changed. */
public final class Refusal extends RuntimeException {

    private final String code;
    private final @Nullable String field;

    /**
     * @param code stable name of the reason, such as {@code hold-open}
     * @param message what is the matter and what to do, as a sentence for a technician
     * @param field the part of the request at fault; absent if none is
     */
    public Refusal(String code, String message, @Nullable String field) {
        super(message);
        this.code = code;
        this.field = field;
    }

    public Refusal(String code, String message) {
        this(code, message, null);
    }

    public String code() {
        return code;
    }

    public @Nullable String field() {
        return field;
    }
}
