package org.juratest.server.people;

import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.juratest.core.register.FieldProblem;
import org.juratest.core.run.Refusal;
import org.juratest.server.web.FieldsException;
import org.juratest.server.web.NotFoundException;
import org.juratest.server.web.PreconditionException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.security.crypto.password.PasswordEncoder;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;

/** Accounts of people: added, changed, ended; their passwords. Nobody is ever removed: what they did names them. */
@Service
public class Accounts {

    private static final int SHORTEST = 10;
    /** BCrypt takes no more, in bytes. */
    private static final int LONGEST_BYTES = 72;

    private static final String LETTERS = "abcdefghjkmnpqrstuvwxyz23456789";

    private final JdbcClient jdbc;
    private final PasswordEncoder passwords;
    private final ChangeLog log;
    private final Sessions sessions;
    private final SecureRandom random = new SecureRandom();

    Accounts(JdbcClient jdbc, PasswordEncoder passwords, ChangeLog log, Sessions sessions) {
        this.jdbc = jdbc;
        this.passwords = passwords;
        this.log = log;
        this.sessions = sessions;
    }

    /**
     * An account.
     *
     * @param active whether they can sign in
     * @param mustChange the password is one they did not choose
     * @param revision what {@code If-Match} must say to change it
     */
    public record Account(String id, String name, String role, boolean active, boolean mustChange, int revision) {}

    /** A new account. */
    public record NewAccount(String id, String name, String role) {}

    /** What is changed of an account; what is absent stays. */
    public record AccountChange(@Nullable String name, @Nullable String role, @Nullable Boolean active) {}

    /** A password that is shown once, for somebody who must change it. */
    public record OneTimePassword(Account account, String password) {}

    /** All accounts: those that can sign in first. */
    public List<Account> all() {
        return jdbc.sql("SELECT id, name, role, active, must_change, revision FROM person ORDER BY active DESC, "
                        + "name, id")
                .query(Accounts::account)
                .list();
    }

    private static Account account(java.sql.ResultSet rs, int i) throws java.sql.SQLException {
        return new Account(
                rs.getString(1), rs.getString(2), rs.getString(3), rs.getBoolean(4), rs.getBoolean(5), rs.getInt(6));
    }

    private Account locked(String id) {
        return jdbc.sql("SELECT id, name, role, active, must_change, revision FROM person WHERE id = :id FOR UPDATE")
                .param("id", id)
                .query(Accounts::account)
                .optional()
                .orElseThrow(() -> new NotFoundException("person", id));
    }

    /** Adds somebody, with a password they change at their first sign-in. */
    @Transactional
    public OneTimePassword add(NewAccount given, String by) {
        List<FieldProblem> problems = new ArrayList<>();
        if (!given.id.matches("[a-z][a-z0-9._-]{1,31}")) {
            problems.add(new FieldProblem(
                    "id",
                    "A sign-in name has 2 to 32 small letters, digits, dots or dashes and begins with a letter."));
        }
        name(given.name, problems);
        role(given.role, problems);
        FieldsException.throwIf(problems);
        String password = oneTime();
        int added = jdbc.sql("INSERT INTO person (id, name, role, password_hash, must_change) VALUES (:id, :name, "
                        + ":role, :hash, true) ON CONFLICT DO NOTHING")
                .param("id", given.id)
                .param("name", given.name.strip())
                .param("role", given.role)
                .param("hash", passwords.encode(password))
                .update();
        if (added == 0) {
            throw new FieldsException(List.of(new FieldProblem(
                    "id", "Somebody is called \"" + given.id + "\" already; take another sign-in name.")));
        }
        log.account(by, given.id, "added " + given.name.strip() + " as " + given.role, Role.of(given.role), true);
        return new OneTimePassword(locked(given.id), password);
    }

    private static void name(String name, List<FieldProblem> problems) {
        if (name.isBlank() || name.strip().length() > 100 || name.chars().anyMatch(Character::isISOControl)) {
            problems.add(new FieldProblem("name", "Give the name by which people know them, at most 100 characters."));
        }
    }

    private static void role(String role, List<FieldProblem> problems) {
        try {
            Role.of(role);
        } catch (IllegalArgumentException e) {
            problems.add(
                    new FieldProblem("role", "Choose technician, engineer, supervisor, auditor or administrator."));
        }
    }

    /**
     * Changes an account; whoever can no longer sign in is signed out everywhere.
     *
     * @param revision that was seen
     */
    @Transactional
    public Account change(String id, AccountChange given, int revision, String by) {
        Account before = locked(id);
        if (before.revision != revision) {
            throw PreconditionException.stale(revision, before.revision);
        }
        List<FieldProblem> problems = new ArrayList<>();
        if (given.name != null) {
            name(given.name, problems);
        }
        if (given.role != null) {
            role(given.role, problems);
        }
        FieldsException.throwIf(problems);
        Account after = new Account(
                id,
                given.name == null ? before.name : given.name.strip(),
                given.role == null ? before.role : given.role,
                given.active == null ? before.active : given.active,
                before.mustChange,
                before.revision + 1);
        String administrator = Role.ADMINISTRATOR.toString();
        boolean wasOne = before.active && before.role.equals(administrator);
        if (wasOne && !(after.active && after.role.equals(administrator))) {
            jdbc
                    .sql("SELECT id FROM person WHERE role = :role AND active ORDER BY id FOR UPDATE")
                    .param("role", administrator)
                    .query(String.class)
                    .list()
                    .stream()
                    .filter(o -> !o.equals(id))
                    .findFirst()
                    .orElseThrow(() -> new Refusal(
                            "last-administrator",
                            before.name + " is the only administrator. Make somebody else one first.",
                            "role"));
        }
        jdbc.sql("UPDATE person SET name = :name, role = :role, active = :active, revision = :revision WHERE id = :id")
                .param("name", after.name)
                .param("role", after.role)
                .param("active", after.active)
                .param("revision", after.revision)
                .param("id", id)
                .update();
        List<String> words = new ArrayList<>();
        if (!before.name.equals(after.name)) {
            words.add("name " + before.name + " to " + after.name);
        }
        if (!before.role.equals(after.role)) {
            words.add("role " + before.role + " to " + after.role);
        }
        if (before.active != after.active) {
            words.add(after.active ? "may sign in again" : "may no longer sign in");
        }
        if (!words.isEmpty()) {
            log.account(by, id, String.join(", ", words), Role.of(after.role), after.active);
        }
        if (!after.active) {
            sessions.endAll(id, null);
        }
        return after;
    }

    /** Gives somebody a password they change at their next sign-in, and signs them out everywhere. */
    @Transactional
    public OneTimePassword reset(String id, String by) {
        Account before = locked(id);
        String password = oneTime();
        jdbc.sql("UPDATE person SET password_hash = :hash, must_change = true, revision = revision + 1 WHERE id = :id")
                .param("hash", passwords.encode(password))
                .param("id", id)
                .update();
        log.note(by, "person", id, "password reset");
        sessions.endAll(id, null);
        return new OneTimePassword(
                new Account(id, before.name, before.role, before.active, true, before.revision + 1), password);
    }

    /**
     * Changes one's own password.
     *
     * @param keep the session it is changed in; all others of the person end
     * @throws FieldsException if the new one will not do, naming why
     */
    @Transactional
    public void ownPassword(String id, String now, String next, @Nullable String keep) {
        String hash = jdbc.sql("SELECT password_hash FROM person WHERE id = :id")
                .param("id", id)
                .query(String.class)
                .single();
        List<FieldProblem> problems = new ArrayList<>();
        if (!passwords.matches(now, hash)) {
            throw new Refusal("wrong-password", "This is not your password. Nothing was changed.", "now");
        }
        if (next.length() < SHORTEST) {
            problems.add(new FieldProblem(
                    "next",
                    "A password has at least " + SHORTEST + " characters; a few words in a row are easy to keep."));
        } else if (next.getBytes(java.nio.charset.StandardCharsets.UTF_8).length > LONGEST_BYTES) {
            problems.add(new FieldProblem("next", "A password has at most " + LONGEST_BYTES + " characters."));
        } else if (next.equals(now)) {
            problems.add(new FieldProblem("next", "This is the password you have; choose another."));
        } else if (next.toLowerCase(java.util.Locale.ROOT).contains(id)
                || next.chars().distinct().count() < 5) {
            problems.add(new FieldProblem(
                    "next", "This is guessed at once: your name, or hardly any different characters."));
        }
        FieldsException.throwIf(problems);
        jdbc.sql("UPDATE person SET password_hash = :hash, must_change = false, revision = revision + 1 WHERE id = :id")
                .param("hash", Objects.requireNonNull(passwords.encode(next)))
                .param("id", id)
                .update();
        log.note(id, "person", id, "own password changed");
        sessions.endAll(id, keep);
    }

    /** Four groups of four: 79 bits, and nothing that is read for something else. */
    String oneTime() {
        return IntStream.range(0, 4)
                .mapToObj(g -> random.ints(4, 0, LETTERS.length())
                        .mapToObj(i -> String.valueOf(LETTERS.charAt(i)))
                        .collect(Collectors.joining()))
                .collect(Collectors.joining("-"));
    }
}
