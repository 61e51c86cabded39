package org.juratest.formats.run;

import org.juratest.formats.json.CoreJson;
import org.juratest.formats.json.JsonFault;
import tools.jackson.core.JacksonException;

/** The data of an event cannot be read; names the field at fault. */
public final class EventDataException extends IllegalArgumentException {

    private final String field;

    EventDataException(String type, JacksonException cause) {
        super(
                "the data of \"" + type + "\" cannot be read"
                        + (CoreJson.path(cause).isEmpty() ? "" : " at " + CoreJson.path(cause)) + ": "
                        + JsonFault.words(cause),
                cause);
        this.field = CoreJson.path(cause);
    }

    /** Path of the field, such as {@code limit.high}; empty if the whole is at fault. */
    public String field() {
        return field;
    }
}
