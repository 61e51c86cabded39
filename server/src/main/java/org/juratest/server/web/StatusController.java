package org.juratest.server.web;

import org.juratest.server.Juratest;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;

/** What is there: for the first page, and to see that the server answers. */
@RestController
class StatusController {

  private final JdbcClient jdbc;

  StatusController(JdbcClient jdbc) {
    this.jdbc = jdbc;
  }

  /** Counts of what the installation holds. */
  record Status(String version, long sites, long assets, long records, long openJobs, boolean demo) {
  }

  @GetMapping("/api/status")
  Status status() {
    return jdbc.sql("""
        SELECT (SELECT count(*) FROM site), (SELECT count(*) FROM asset), (SELECT count(*) FROM run WHERE status = 'finished'),
          (SELECT count(*) FROM job WHERE status IN ('open', 'running', 'partly done')),
          EXISTS (SELECT 1 FROM setting WHERE key = 'demo.day')""")
        .query((rs, i) -> new Status(Juratest.VERSION, rs.getLong(1), rs.getLong(2), rs.getLong(3), rs.getLong(4), rs.getBoolean(5)))
        .single();
  }
}
