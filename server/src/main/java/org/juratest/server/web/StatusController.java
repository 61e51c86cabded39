package org.juratest.server.web;

import java.util.List;
import org.juratest.server.Juratest;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;

/** What is there: for the first page, and to see that the server answers. */
@RestController
public class StatusController {

    private final JdbcClient jdbc;
    private final List<Readiness> parts;

    StatusController(JdbcClient jdbc, List<Readiness> parts) {
        this.jdbc = jdbc;
        this.parts = parts;
    }

    /** A part of the program that has something to do before the server is of use. */
    public interface Readiness {
        boolean isReady();
    }

    /**
     * Counts of what the installation holds.
     *
     * @param ready whether everything that is done at the start is done
     */
    record Status(String version, boolean ready, long sites, long assets, long records, long openJobs, boolean demo) {}

    @GetMapping("/api/status")
    Status status() {
        if (!parts.stream().allMatch(Readiness::isReady)) {
            // What is being laid locks the tables that would be counted; whoever waits for it is answered all the same.
            return new Status(Juratest.VERSION, false, 0, 0, 0, 0, false);
        }
        return jdbc.sql(
                        """
        SELECT (SELECT count(*) FROM site), (SELECT count(*) FROM asset), (SELECT count(*) FROM run
          WHERE status = 'finished'),
          (SELECT count(*) FROM job WHERE status IN ('open', 'running', 'partly done')),
          EXISTS (SELECT 1 FROM setting WHERE key = 'demo.day')""")
                .query((rs, i) -> new Status(
                        Juratest.VERSION,
                        true,
                        rs.getLong(1),
                        rs.getLong(2),
                        rs.getLong(3),
                        rs.getLong(4),
                        rs.getBoolean(5)))
                .single();
    }
}
