package org.juratest.server.people;

import java.time.Instant;
import java.util.List;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;

/**
 * Who changed what of people, authorisations, absences, access and parts, and when. Lines are added and never changed.
 */
@Repository
public class ChangeLog {

    private static final int MOST = 500;

    private final JdbcClient jdbc;

    ChangeLog(JdbcClient jdbc) {
        this.jdbc = jdbc;
    }

    /**
     * One change.
     *
     * @param name of who did it
     * @param kind person, authorisation, absence, access, part, time or session
     * @param key what it concerns: a person, a site, a part
     */
    public record Change(long id, Instant at, String by, String name, String kind, String key, String words) {}

    /** Writes a change down. Call within the transaction that makes it. */
    public void note(String by, String kind, String key, String words) {
        jdbc.sql("INSERT INTO people_change (by, kind, key, words) VALUES (:by, :kind, :key, :words)")
                .param("by", by)
                .param("kind", kind)
                .param("key", key)
                .param("words", words)
                .update();
    }

    /** Writes down what somebody's account is from now on. Call within the transaction that makes it so. */
    public void account(String by, String person, String words, Role role, boolean active) {
        jdbc.sql("INSERT INTO people_change (by, kind, key, words, role, active) VALUES (:by, 'person', "
                        + ":key, :words, :role, :active)")
                .param("by", by)
                .param("key", person)
                .param("words", words)
                .param("role", role.toString())
                .param("active", active)
                .update();
    }

    /** The newest changes, newest first. */
    public List<Change> newest() {
        return jdbc.sql("SELECT c.id, c.at, c.by, coalesce(p.name, c.by), c.kind, c.key, c.words FROM "
                        + "people_change c LEFT JOIN person p ON p.id = c.by ORDER BY c.id DESC LIMIT :most")
                .param("most", MOST)
                .query((rs, i) -> new Change(
                        rs.getLong(1),
                        rs.getTimestamp(2).toInstant(),
                        rs.getString(3),
                        rs.getString(4),
                        rs.getString(5),
                        rs.getString(6),
                        rs.getString(7)))
                .list();
    }
}
