package org.juratest.server.condition;

import java.time.Clock;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.juratest.core.register.FieldProblem;
import org.juratest.server.register.Codes;
import org.juratest.server.web.FieldsException;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;

/** Devices that people keep an eye on: they stand no better than "watch" until they are taken off. */
@Service
class WatchList {

    private final JdbcClient jdbc;
    private final Clock clock;

    WatchList(JdbcClient jdbc, Clock clock) {
        this.jdbc = jdbc;
        this.clock = clock;
    }

    /**
     * Puts a device on the list; one that is on it gets another reason.
     *
     * @throws NotFoundException if there is no such device
     * @throws FieldsException if no reason is given
     */
    @Transactional
    public void put(String asset, @Nullable String reason, String by) {
        List<FieldProblem> problems = new ArrayList<>();
        String words = reason == null ? "" : reason.strip();
        Codes.words("why", "a reason", words, problems);
        FieldsException.throwIf(problems);
        remove(asset, by);
        int put = jdbc.sql("INSERT INTO watch_mark (asset, reason, by, at) SELECT id, :reason, :by, :at FROM asset "
                        + "WHERE id = :asset")
                .param("asset", asset)
                .param("reason", words)
                .param("by", by)
                .param("at", clock.instant().atOffset(ZoneOffset.UTC))
                .update();
        if (put == 0) {
            throw new NotFoundException("asset", asset);
        }
    }

    /** Takes a device off; who had put it on, and why, stays. */
    @Transactional
    public void remove(String asset, String by) {
        // Two that change the list of a device at once come one after the other.
        jdbc.sql("SELECT 1 FROM asset WHERE id = :asset FOR UPDATE")
                .param("asset", asset)
                .query(Integer.class)
                .list();
        jdbc.sql("UPDATE watch_mark SET off_by = :by, off_at = :at WHERE asset = :asset AND off_at IS NULL")
                .param("asset", asset)
                .param("by", by)
                .param("at", clock.instant().atOffset(ZoneOffset.UTC))
                .update();
    }
}
