package org.juratest.server.run;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpSession;
import java.nio.charset.StandardCharsets;
import java.security.Principal;
import org.jspecify.annotations.Nullable;
import org.juratest.core.run.Refusal;
import org.juratest.formats.run.EventCodec;

/**
 * A page load that acts: it belongs to a person and to one of their sessions. Its id is a secret of the page; what is
 * stored and told is its handle.
 *
 * @param handle SHA-256 of its id
 * @param session SHA-256 of the id of the session
 */
record Screen(String handle, String person, String session) {

    /** Header that says which screen acts. */
    static final String HEADER = "Juratest-Screen";

    /** @throws Refusal if the request names none, or what cannot be one */
    static Screen of(@Nullable String id, Principal person, HttpServletRequest request) {
        if (id == null) {
            throw new Refusal("screen-missing", "Say with " + HEADER + " which screen acts.", HEADER);
        }
        if (!id.matches("[A-Za-z0-9-]{8,64}")) {
            throw new Refusal("bad-screen", "A screen is named by 8 to 64 letters, digits or dashes.", "screen");
        }
        HttpSession session = request.getSession(false);
        return new Screen(hash(id), person.getName(), session == null ? "" : hash(session.getId()));
    }

    private static String hash(String text) {
        return EventCodec.hash(text.getBytes(StandardCharsets.UTF_8));
    }
}
