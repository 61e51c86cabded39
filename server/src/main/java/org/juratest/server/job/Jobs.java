package org.juratest.server.job;

import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.LocalDate;
import java.util.List;
import java.util.UUID;
import org.juratest.server.web.NotFoundException;
import org.jspecify.annotations.Nullable;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;

/** Jobs in the database. */
@Repository
public class Jobs {

  private static final String SELECT = """
      SELECT j.id, j.asset, j.position, s.code, s.name, j.procedure, j.reason, j.due, j.status, a.maker, a.model, a.serial,
        (SELECT r.id FROM run r WHERE r.job = j.id AND r.status = 'open' LIMIT 1),
        (SELECT r.verdict FROM run r WHERE r.asset = j.asset AND r.status = 'finished' ORDER BY r.finished_at DESC LIMIT 1)
      FROM job j JOIN position p ON p.code = j.position JOIN site s ON s.code = p.site JOIN asset a ON a.id = j.asset
      """;

  private final JdbcClient jdbc;

  public Jobs(JdbcClient jdbc) {
    this.jdbc = jdbc;
  }

  /**
   * One job.
   *
   * @param run         the open run of it; absent if there is none
   * @param lastVerdict of the asset's last record
   */
  public record Job(long id, String asset, String position, String site, String siteName, String procedure, String reason,
      LocalDate due, String status, String maker, String model, String serial, @Nullable UUID run, @Nullable String lastVerdict) {
  }

  /** A page of open jobs, first due first; {@code after} is the cursor the page before ended with. */
  public List<Job> open(@Nullable LocalDate afterDue, long afterId, int limit) {
    return jdbc.sql(SELECT + """
        WHERE j.status IN ('open', 'running', 'partly done')
          AND (CAST(:due AS date) IS NULL OR (j.due, j.id) > (CAST(:due AS date), :id)) ORDER BY j.due, j.id LIMIT :limit""")
        .param("due", afterDue, java.sql.Types.DATE).param("id", afterId).param("limit", limit).query(Jobs::job).list();
  }

  public Job byId(long id) {
    return jdbc.sql(SELECT + "WHERE j.id = :id").param("id", id).query(Jobs::job).optional()
        .orElseThrow(() -> new NotFoundException("job", String.valueOf(id)));
  }

  /** Locks a job until the end of the transaction and gives its status. */
  public String lock(long id) {
    return jdbc.sql("SELECT status FROM job WHERE id = :id FOR UPDATE").param("id", id).query(String.class).optional()
        .orElseThrow(() -> new NotFoundException("job", String.valueOf(id)));
  }

  public void status(long id, String status) {
    jdbc.sql("UPDATE job SET status = :status WHERE id = :id").param("status", status).param("id", id).update();
  }

  private static Job job(ResultSet rs, int i) throws SQLException {
    return new Job(rs.getLong(1), rs.getString(2), rs.getString(3), rs.getString(4), rs.getString(5), rs.getString(6), rs.getString(7),
        rs.getObject(8, LocalDate.class), rs.getString(9), rs.getString(10), rs.getString(11), rs.getString(12),
        rs.getObject(13, UUID.class), rs.getString(14));
  }
}
