package org.juratest.server.job;

import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.LocalDate;
import java.util.List;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;

/** Jobs in the database. */
@Repository
public class Jobs {

    /** Statuses of what is to be done still. */
    public static final String OPEN = "('open', 'running', 'partly done')";

    private static final String SELECT =
            """
      SELECT j.id, j.asset, j.position, s.code, s.name, j.procedure, j.reason, j.due, j.status, a.maker, a.model,
        a.serial,
        (SELECT r.id FROM run r WHERE r.job = j.id AND r.status = 'open' LIMIT 1),
        (SELECT r.verdict FROM run r WHERE r.asset = j.asset AND r.status = 'finished' ORDER BY r.finished_at DESC
          LIMIT 1),
        j.opens, j.closes, j.person, j.planned_for, j.deferred_to, j.cannot, j.done_on, s.zone
      FROM job j JOIN position p ON p.code = j.position JOIN site s ON s.code = p.site JOIN asset a ON a.id = j.asset
      """;

    private final JdbcClient jdbc;

    public Jobs(JdbcClient jdbc) {
        this.jdbc = jdbc;
    }

    /**
     * One job.
     *
     * @param run the open run of it; absent if there is none
     * @param lastVerdict of the asset's last record
     * @param opens first day of its window
     * @param closes last day of its window
     * @param person whose it is
     * @param plannedFor day it is planned for
     * @param deferredTo last day of its deferral
     * @param cannot kind of why it cannot be done as things are
     * @param zone of its site
     */
    public record Job(
            long id,
            String asset,
            String position,
            String site,
            String siteName,
            String procedure,
            String reason,
            LocalDate due,
            String status,
            String maker,
            String model,
            String serial,
            @Nullable UUID run,
            @Nullable String lastVerdict,
            LocalDate opens,
            LocalDate closes,
            @Nullable String person,
            @Nullable LocalDate plannedFor,
            @Nullable LocalDate deferredTo,
            @Nullable String cannot,
            @Nullable LocalDate doneOn,
            String zone) {}

    /** A page of open jobs, first due first; {@code after} is the cursor the page before ended with. */
    public List<Job> open(@Nullable LocalDate afterDue, long afterId, int limit) {
        return jdbc.sql(
                        SELECT + "WHERE j.status IN " + OPEN
                                + """
          AND (CAST(:due AS date) IS NULL OR (j.due, j.id) > (CAST(:due AS date), :id)) ORDER BY j.due, j.id
            LIMIT :limit""")
                .param("due", afterDue, java.sql.Types.DATE)
                .param("id", afterId)
                .param("limit", limit)
                .query(Jobs::job)
                .list();
    }

    /** Jobs with an open run that is a person's: theirs that day, or opened by them; the newest first. */
    public List<Job> running(String person) {
        return jdbc.sql(
                        SELECT
                                + """
          JOIN run o ON o.job = j.id AND o.status = 'open'
          WHERE j.status = 'running' AND (j.person = :person OR EXISTS (SELECT 1 FROM event e WHERE e.run = o.id
            AND e.n = 1 AND e.by = 'person:' || :person)) ORDER BY o.opened_at DESC, j.id""")
                .param("person", person)
                .query(Jobs::job)
                .list();
    }

    public Job byId(long id) {
        return jdbc.sql(SELECT + "WHERE j.id = :id")
                .param("id", id)
                .query(Jobs::job)
                .optional()
                .orElseThrow(() -> new NotFoundException("job", String.valueOf(id)));
    }

    /** Code of the variant a run of it is begun by; null for the procedure as it stands. */
    public @Nullable String variant(long id) {
        return jdbc.sql("SELECT variant FROM job WHERE id = :id AND variant IS NOT NULL")
                .param("id", id)
                .query(String.class)
                .optional()
                .orElse(null);
    }

    /** Locks a job until the end of the transaction and gives its status. */
    public String lock(long id) {
        return jdbc.sql("SELECT status FROM job WHERE id = :id FOR UPDATE")
                .param("id", id)
                .query(String.class)
                .optional()
                .orElseThrow(() -> new NotFoundException("job", String.valueOf(id)));
    }

    public void status(long id, String status) {
        jdbc.sql("UPDATE job SET status = :status WHERE id = :id")
                .param("status", status)
                .param("id", id)
                .update();
    }

    /** A test of it begins: whatever was decided against it is over, and it belongs to today and to who does it. */
    public void started(long id, String person, LocalDate today) {
        jdbc.sql(
                        """
        UPDATE job SET status = 'running', deferred_to = NULL, cannot = NULL, planned_for = :today,
          person = CASE WHEN planned_for = :today AND person IS NOT NULL THEN person ELSE :person END WHERE id = :id""")
                .param("today", today)
                .param("person", person)
                .param("id", id)
                .update();
        jdbc.sql("INSERT INTO round (person, day) SELECT person, planned_for FROM job WHERE id = :id AND "
                        + "person IS NOT NULL ON CONFLICT DO NOTHING")
                .param("id", id)
                .update();
    }

    public void done(long id, LocalDate on) {
        jdbc.sql("UPDATE job SET status = 'done', done_on = :on WHERE id = :id")
                .param("on", on)
                .param("id", id)
                .update();
    }

    private static Job job(ResultSet rs, int i) throws SQLException {
        return new Job(
                rs.getLong(1),
                rs.getString(2),
                rs.getString(3),
                rs.getString(4),
                rs.getString(5),
                rs.getString(6),
                rs.getString(7),
                rs.getObject(8, LocalDate.class),
                rs.getString(9),
                rs.getString(10),
                rs.getString(11),
                rs.getString(12),
                rs.getObject(13, UUID.class),
                rs.getString(14),
                rs.getObject(15, LocalDate.class),
                rs.getObject(16, LocalDate.class),
                rs.getString(17),
                rs.getObject(18, LocalDate.class),
                rs.getObject(19, LocalDate.class),
                rs.getString(20),
                rs.getObject(21, LocalDate.class),
                rs.getString(22));
    }
}
