package org.juratest.server.round;

import java.time.Clock;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.server.job.Jobs;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;

/** Reads the days of people. */
@Repository
class RoundRows {

    /** In the order of the visit: as ordered by hand, else along the line. */
    private static final String IN_ORDER = " ORDER BY j.planned_for, j.person, j.place, s.km, s.code, j.due, j.id";

    private final JdbcClient jdbc;
    private final Clock clock;

    RoundRows(JdbcClient jdbc, Clock clock) {
        this.jdbc = jdbc;
        this.clock = clock;
    }

    /** A job of a day. */
    record Row(
            String person,
            LocalDate day,
            String site,
            String siteName,
            double km,
            int altitude,
            long id,
            String position,
            String asset,
            String maker,
            String model,
            String serial,
            String procedure,
            String reason,
            LocalDate opens,
            LocalDate due,
            LocalDate closes,
            String status,
            int minutes,
            @Nullable Long plan,
            @Nullable UUID run,
            @Nullable UUID lastRun,
            @Nullable String barred,
            @Nullable UUID ownRun) {}

    /** Who is on the way: name, minutes a day, and why away, if so. */
    record Who(String id, String name, int minutesADay, @Nullable String away) {}

    /** Where days begin and end. */
    record Base(String name, double km, ZoneId zone) {}

    Base base() {
        return jdbc.sql("SELECT name, km, zone FROM site ORDER BY km, code LIMIT 1")
                .query((rs, i) -> new Base(rs.getString(1), rs.getDouble(2), ZoneId.of(rs.getString(3))))
                .optional()
                .orElse(new Base("base", 0, ZoneId.of("UTC")));
    }

    LocalDate today() {
        return LocalDate.ofInstant(clock.instant(), base().zone);
    }

    Who who(String person, LocalDate day) {
        return jdbc.sql("SELECT id, name, minutes_a_day, (SELECT a.why FROM absence a WHERE a.person = p.id AND "
                        + ":day BETWEEN a.from_day AND a.to_day ORDER BY a.id LIMIT 1) FROM person p WHERE id = :id")
                .param("id", person)
                .param("day", day)
                .query((rs, i) -> new Who(rs.getString(1), rs.getString(2), rs.getInt(3), rs.getString(4)))
                .optional()
                .orElseThrow(() -> new NotFoundException("person", person));
    }

    List<Who> everybody(LocalDate day) {
        return jdbc
                .sql("SELECT id FROM person WHERE role = 'technician' OR id IN (SELECT person FROM job WHERE "
                        + "planned_for = :day) ORDER BY name, id")
                .param("day", day)
                .query(String.class)
                .list()
                .stream()
                .map(id -> who(id, day))
                .toList();
    }

    /** Minute of the day on which a person leaves; 480, eight o'clock, where nobody said. */
    int leaves(String person, LocalDate day) {
        return jdbc.sql("SELECT leaves FROM round WHERE person = :person AND day = :day")
                .param("person", person)
                .param("day", day)
                .query(Integer.class)
                .optional()
                .orElse(480);
    }

    /** What is planned for people between two days, done or not. */
    List<Row> planned(@Nullable String person, LocalDate from, LocalDate to) {
        return rows(
                "j.planned_for BETWEEN :from AND :to AND j.person IS NOT NULL AND j.status IN ('open', "
                        + "'running', 'partly done', 'done') AND (CAST(:key AS text) IS NULL OR j.person = :key)"
                        + IN_ORDER,
                Map.of("from", from, "to", to),
                person);
    }

    /** What was planned for a person before a day and is open still. */
    List<Row> leftOver(String person, LocalDate today) {
        return rows(
                "j.person = :key AND j.planned_for < :today AND j.status IN ('open', 'partly done')" + IN_ORDER,
                Map.of("today", today),
                person);
    }

    /** What may be done on a day and is on nobody's: in its window, or over it; nothing that people decided against. */
    List<Row> free(LocalDate day, @Nullable String site, int most) {
        return rows(
                "j.status IN " + Jobs.OPEN
                        + " AND j.status <> 'running' AND (j.planned_for IS NULL OR j.planned_for < :today) AND "
                        + "j.cannot IS NULL AND (j.deferred_to IS NULL OR j.deferred_to < :day)"
                        + " AND j.opens <= :day AND (CAST(:key AS text) IS NULL OR s.code = :key) ORDER BY "
                        + "j.due, j.id LIMIT "
                        + most,
                Map.of("day", day, "today", today()),
                site);
    }

    /** What is due after a day, first due first. */
    List<Row> later(LocalDate day, int most) {
        return rows(
                "j.status = 'open' AND j.planned_for IS NULL AND j.cannot IS NULL AND j.due > :day ORDER BY "
                        + "j.due, j.id LIMIT " + most,
                Map.of("day", day),
                null);
    }

    /** @param key what {@code :key} stands for; absent for any */
    private List<Row> rows(String where, Map<String, Object> params, @Nullable String key) {
        var statement = jdbc.sql(
                        """
        SELECT coalesce(j.person, ''), coalesce(j.planned_for, j.due), s.code, s.name, s.km, s.altitude, j.id,
          j.position, j.asset, a.maker, a.model, a.serial, j.procedure, j.reason, j.opens, j.due,
          j.closes, j.status, j.minutes, j.plan, (SELECT r.id FROM run r WHERE r.job = j.id AND r.status = 'open'
            LIMIT 1), l.run, a.do_not_use,
          (SELECT r.id FROM run r WHERE r.job = j.id AND r.status = 'finished' ORDER BY r.finished_at DESC LIMIT 1)
        FROM job j JOIN position p ON p.code = j.position JOIN site s ON s.code = p.site JOIN asset a
          ON a.id = j.asset LEFT JOIN last_record l ON l.asset = j.asset WHERE\s"""
                                + where)
                .param("key", key, java.sql.Types.VARCHAR);
        for (Map.Entry<String, Object> param : params.entrySet()) {
            statement = statement.param(param.getKey(), param.getValue());
        }
        return statement
                .query((rs, i) -> new Row(
                        rs.getString(1),
                        rs.getObject(2, LocalDate.class),
                        rs.getString(3),
                        rs.getString(4),
                        rs.getDouble(5),
                        rs.getInt(6),
                        rs.getLong(7),
                        rs.getString(8),
                        rs.getString(9),
                        rs.getString(10),
                        rs.getString(11),
                        rs.getString(12),
                        rs.getString(13),
                        rs.getString(14),
                        rs.getObject(15, LocalDate.class),
                        rs.getObject(16, LocalDate.class),
                        rs.getObject(17, LocalDate.class),
                        rs.getString(18),
                        rs.getInt(19),
                        rs.getObject(20, Long.class),
                        rs.getObject(21, UUID.class),
                        rs.getObject(22, UUID.class),
                        rs.getString(23),
                        rs.getObject(24, UUID.class)))
                .list();
    }
}
