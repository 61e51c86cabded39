package org.juratest.core.run;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;

/** An event of a type or version this program does not know. It is kept and shown, and changes nothing. */
public record UnknownEvent(String type, int version, Map<String, Object> content) implements EventData {

    public UnknownEvent {
        content = Collections.unmodifiableMap(new LinkedHashMap<>(content));
    }

    @Override
    public void fold(RunState next, Event event) {
        next.unknown = RunState.added(next.unknown, event);
    }
}
