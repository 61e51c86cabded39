package org.juratest.server.condition;

import java.time.Clock;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.UUID;
import org.juratest.core.register.FieldProblem;
import org.juratest.core.run.Refusal;
import org.juratest.server.register.Codes;
import org.juratest.server.web.FieldsException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;

/** What people chose to compare with. Nothing is taken away: an earlier choice stays, and is chosen again like any. */
@Service
class Baselines {

    private final JdbcClient jdbc;
    private final Clock clock;

    Baselines(JdbcClient jdbc, Clock clock) {
        this.jdbc = jdbc;
        this.clock = clock;
    }

    /**
     * Makes a record what others of its device and procedure are compared with.
     *
     * @throws FieldsException if the device has no such record, or no reason is given
     * @throws Refusal if it is the baseline already
     */
    @Transactional
    public void choose(String asset, String record, String reason, String by) {
        List<FieldProblem> problems = new ArrayList<>();
        String number = record == null ? "" : record.strip();
        String words = reason == null ? "" : reason.strip();
        Codes.words("reason", "a reason", words, problems);
        UUID run = jdbc.sql("SELECT id FROM run WHERE asset = :asset AND record = :record AND status = 'finished'")
                .param("asset", asset)
                .param("record", number)
                .query(UUID.class)
                .optional()
                .orElse(null);
        if (run == null) {
            problems.add(new FieldProblem("record", asset + " has no record \"" + number + "\"."));
        }
        FieldsException.throwIf(problems);
        // Two choices at once come one after the other.
        jdbc.sql("SELECT 1 FROM asset WHERE id = :asset FOR UPDATE")
                .param("asset", asset)
                .query(Integer.class)
                .list();
        if (jdbc.sql("SELECT is_baseline(asset, procedure, id, false) FROM run WHERE id = :run")
                .param("run", run)
                .query(Boolean.class)
                .single()) {
            throw new Refusal("baseline-already", record + " is the baseline already.", "record");
        }
        jdbc.sql(
                        """
        INSERT INTO baseline_mark (asset, procedure, run, reason, by, at)
        SELECT asset, procedure, id, :reason, :by, :at FROM run WHERE id = :run""")
                .param("reason", words)
                .param("by", by)
                .param("at", clock.instant().atOffset(ZoneOffset.UTC))
                .param("run", run)
                .update();
    }
}
