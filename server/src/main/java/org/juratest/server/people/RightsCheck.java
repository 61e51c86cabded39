package org.juratest.server.people;

import java.util.Set;
import java.util.function.Supplier;
import javax.sql.DataSource;
import org.jspecify.annotations.Nullable;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.security.authorization.AuthorizationManager;
import org.springframework.security.authorization.AuthorizationResult;
import org.springframework.security.core.Authentication;
import org.springframework.security.web.access.intercept.RequestAuthorizationContext;
import org.springframework.session.jdbc.config.annotation.SpringSessionDataSource;
import org.springframework.stereotype.Component;

/**
 * Holds every request to the table of {@link Rights}, with the role that the person has now, not the one they signed in
 * with. It asks over the connections of sessions, as every beat passes here.
 */
@Component
class RightsCheck implements AuthorizationManager<RequestAuthorizationContext> {

    /** What whoever must change their password may do before they have. */
    private static final Set<String> BEFORE_A_CHANGE =
            Set.of("GET /api/session", "DELETE /api/session", "PUT /api/session/password");

    private final JdbcClient jdbc;

    RightsCheck(@SpringSessionDataSource DataSource sessions) {
        this.jdbc = JdbcClient.create(sessions);
    }

    /** Why a request is refused. */
    record Denied(int status, String type, String words) implements AuthorizationResult {
        @Override
        public boolean isGranted() {
            return false;
        }
    }

    private record Granted() implements AuthorizationResult {
        @Override
        public boolean isGranted() {
            return true;
        }
    }

    private record Standing(Role role, boolean mustChange) {}

    @Override
    public AuthorizationResult authorize(
            Supplier<? extends @Nullable Authentication> authentication, RequestAuthorizationContext context) {
        Authentication who = authentication.get();
        if (who == null
                || !who.isAuthenticated()
                || who.getAuthorities().isEmpty()
                || who.getName().equals("anonymousUser")) {
            return new Denied(401, "not-signed-in", "Sign in first.");
        }
        Standing standing = jdbc.sql("SELECT role, must_change FROM person WHERE id = :id AND active")
                .param("id", who.getName())
                .query((rs, i) -> new Standing(Role.of(rs.getString(1)), rs.getBoolean(2)))
                .optional()
                .orElse(null);
        if (standing == null) {
            return new Denied(401, "not-signed-in", "This account can no longer sign in.");
        }
        String method = context.getRequest().getMethod();
        // Decoded, as handlers are found by it: an address in disguise is the same address.
        String path = context.getRequest().getServletPath()
                + (context.getRequest().getPathInfo() == null
                        ? ""
                        : context.getRequest().getPathInfo());
        if (standing.mustChange && !BEFORE_A_CHANGE.contains(method + " " + path)) {
            return new Denied(403, "password-change-needed", "Choose a password of your own first.");
        }
        Rights.Right right = Rights.of(method, path);
        if (right == null) {
            // An address that is in no row has no handler either; a test holds that.
            return new Denied(
                    404, "unknown-address", "There is nothing at " + path.replaceAll("[^A-Za-z0-9/._-]", "?") + ".");
        }
        return right.roles().contains(standing.role)
                ? new Granted()
                : new Denied(
                        403,
                        "not-allowed",
                        "This is not allowed to you as " + standing.role + ". It is for: "
                                + String.join(
                                        ", ",
                                        right.roles().stream()
                                                .sorted()
                                                .map(Role::toString)
                                                .toList()) + ".");
    }
}
