package org.juratest.server.people;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.juratest.formats.run.EventCodec;
import org.juratest.server.web.NotFoundException;
import org.springframework.session.FindByIndexNameSessionRepository;
import org.springframework.session.Session;
import org.springframework.stereotype.Component;

/** Where people are signed in. A session is named by a hash of its id: the id itself is a secret. */
@Component
class Sessions {

    static final String ADDRESS = "address";
    static final String PROGRAM = "program";
    private static final int HANDLE = 16;

    private final FindByIndexNameSessionRepository<? extends Session> sessions;

    Sessions(FindByIndexNameSessionRepository<? extends Session> sessions) {
        this.sessions = sessions;
    }

    /**
     * A session.
     *
     * @param id its handle
     * @param address it was begun from
     * @param program as the browser calls itself
     * @param own whether it is the one that asks
     */
    record SessionView(String id, Instant since, Instant lastUsed, String address, String program, boolean own) {}

    private static String handle(String id) {
        return EventCodec.hash(id.getBytes(StandardCharsets.UTF_8)).substring(0, HANDLE);
    }

    /** The sessions of somebody, the last used first. */
    List<SessionView> of(String person, @Nullable String asking) {
        return sessions.findByPrincipalName(person).values().stream()
                .filter(s -> !s.isExpired())
                .map(s -> new SessionView(
                        handle(s.getId()),
                        s.getCreationTime(),
                        s.getLastAccessedTime(),
                        text(s, ADDRESS),
                        text(s, PROGRAM),
                        s.getId().equals(asking)))
                .sorted(Comparator.comparing(SessionView::lastUsed).reversed())
                .toList();
    }

    private static String text(Session session, String name) {
        Object value = session.getAttribute(name);
        return value instanceof String text ? text : "";
    }

    /** @throws NotFoundException if the person has no such session */
    void end(String person, String handle) {
        Map<String, ? extends Session> there = sessions.findByPrincipalName(person);
        String id = there.keySet().stream()
                .filter(i -> handle(i).equals(handle))
                .findFirst()
                .orElseThrow(() -> new NotFoundException("session", handle));
        sessions.deleteById(id);
    }

    /** Ends all sessions of somebody but one. */
    void endAll(String person, @Nullable String keep) {
        sessions.findByPrincipalName(person).keySet().stream()
                .filter(id -> !id.equals(keep))
                .forEach(sessions::deleteById);
    }
}
