package org.juratest.server.job;

import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.juratest.core.run.Refusal;
import org.juratest.server.people.Reach;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;
import org.springframework.transaction.annotation.Transactional;

/** Days, people and order of jobs as they were before somebody changed them: what was one act is undone as one. */
@Repository
public class Moves {

    private static final int SHOWN = 30;
    private static final String ACTS =
            """
      SELECT a.id, a.at, a.by, p.name, a.words, (SELECT count(*) FROM plan_move m WHERE m.act = a.id),
        a.undone_at IS NOT NULL FROM plan_act a JOIN person p ON p.id = a.by\s""";

    private final JdbcClient jdbc;
    private final Jobs jobs;
    private final Reach reach;
    private final Clock clock;

    Moves(JdbcClient jdbc, Jobs jobs, Reach reach, Clock clock) {
        this.jdbc = jdbc;
        this.jobs = jobs;
        this.reach = reach;
        this.clock = clock;
    }

    /**
     * Something that was moved in one go.
     *
     * @param words what was done, without a full stop
     * @param jobs how many it moved
     */
    public record PlanAct(long id, Instant at, String by, String byName, String words, int jobs, boolean undone) {}

    /**
     * What undoing did.
     *
     * @param left jobs that stay where they are, each with why
     */
    public record Undone(PlanAct act, List<String> left) {}

    /** Where a job stood. */
    private record Place(
            long job, String position, @Nullable LocalDate day, @Nullable String person, int place, boolean fixed) {

        /** Whether a move changed no more than the order of a day. */
        boolean sameDay(Move move) {
            return Objects.equals(move.wasDay, day) && Objects.equals(move.wasPerson, person);
        }
    }

    /** Begins an act; what is moved in its transaction is noted with it. */
    public long begin(String words, String by) {
        return jdbc.sql("INSERT INTO plan_act (at, by, words) VALUES (:at, :by, :words) RETURNING id")
                .param("at", clock.instant().atOffset(ZoneOffset.UTC))
                .param("by", by)
                .param("words", words)
                .query(Long.class)
                .single();
    }

    /** Does something to a job that the transaction has locked, and notes how it stood and stands. */
    public void noted(long act, long job, Runnable change) {
        Place was = place(job);
        change.run();
        Place now = place(job);
        jdbc.sql(
                        """
        INSERT INTO plan_move (act, job, was_day, was_person, was_place, was_fixed, day, person, place)
        VALUES (:act, :job, :wasDay, :wasPerson, :wasPlace, :wasFixed, :day, :person, :place)
        ON CONFLICT (act, job) DO UPDATE SET day = excluded.day, person = excluded.person, place = excluded.place""")
                .param("act", act)
                .param("job", job)
                .param("wasDay", was.day, java.sql.Types.DATE)
                .param("wasPerson", was.person, java.sql.Types.VARCHAR)
                .param("wasPlace", was.place)
                .param("wasFixed", was.fixed)
                .param("day", now.day, java.sql.Types.DATE)
                .param("person", now.person, java.sql.Types.VARCHAR)
                .param("place", now.place)
                .update();
    }

    private Place place(long job) {
        return jdbc.sql("SELECT id, position, planned_for, person, place, fixed FROM job WHERE id = :id")
                .param("id", job)
                .query((rs, i) -> new Place(
                        rs.getLong(1),
                        rs.getString(2),
                        rs.getObject(3, LocalDate.class),
                        rs.getString(4),
                        rs.getInt(5),
                        rs.getBoolean(6)))
                .single();
    }

    /** The newest acts, of one person where one is given. */
    public List<PlanAct> newest(@Nullable String by) {
        return jdbc.sql(ACTS + "WHERE CAST(:by AS text) IS NULL OR a.by = :by ORDER BY a.id DESC LIMIT " + SHOWN)
                .param("by", by, java.sql.Types.VARCHAR)
                .query(Moves::act)
                .list();
    }

    private PlanAct byId(long id) {
        return jdbc.sql(ACTS + "WHERE a.id = :id")
                .param("id", id)
                .query(Moves::act)
                .optional()
                .orElseThrow(() -> new NotFoundException("move", String.valueOf(id)));
    }

    private static PlanAct act(ResultSet rs, int i) throws SQLException {
        return new PlanAct(
                rs.getLong(1),
                rs.getTimestamp(2).toInstant(),
                rs.getString(3),
                rs.getString(4),
                rs.getString(5),
                rs.getInt(6),
                rs.getBoolean(7));
    }

    /**
     * Puts all jobs of an act back to where they stood. Those that were moved or begun since stay, and are told.
     *
     * @throws Refusal if it was undone before, or nothing of it can be
     */
    @Transactional
    public Undone undo(long id, String by) {
        PlanAct act = byId(id);
        reach.own(by, act.by, "Somebody else moved this; they, an engineer or a supervisor put it back.");
        int claimed = jdbc.sql(
                        "UPDATE plan_act SET undone_at = :at, undone_by = :by WHERE id = :id AND undone_at IS NULL")
                .param("at", clock.instant().atOffset(ZoneOffset.UTC))
                .param("by", by)
                .param("id", id)
                .update();
        if (claimed == 0) {
            throw new Refusal("undone-already", "This was undone already.");
        }
        List<String> left = new ArrayList<>();
        List<Move> moves = jdbc.sql(
                        """
        SELECT job, was_day, was_person, was_place, was_fixed, day, person, place FROM plan_move WHERE act = :act
        ORDER BY job""")
                .param("act", id)
                .query((rs, i) -> new Move(
                        rs.getLong(1),
                        rs.getObject(2, LocalDate.class),
                        rs.getString(3),
                        rs.getInt(4),
                        rs.getBoolean(5),
                        rs.getObject(6, LocalDate.class),
                        rs.getString(7),
                        rs.getInt(8)))
                .list();
        for (Move move : moves) {
            String status = jobs.lock(move.job);
            Place now = place(move.job);
            if (!Objects.equals(now.day, move.day)
                    || !Objects.equals(now.person, move.person)
                    || now.place != move.place) {
                left.add(now.position + " was moved since");
            } else if (!status.equals("open") && !status.equals("partly done") && !now.sameDay(move)) {
                left.add(now.position + " is " + status);
            } else {
                back(move);
            }
        }
        if (!moves.isEmpty() && left.size() == moves.size()) {
            throw new Refusal("changed-meanwhile", "Nothing can be put back: " + String.join("; ", left) + ".");
        }
        return new Undone(byId(id), left);
    }

    private record Move(
            long job,
            @Nullable LocalDate wasDay,
            @Nullable String wasPerson,
            int wasPlace,
            boolean wasFixed,
            @Nullable LocalDate day,
            @Nullable String person,
            int place) {}

    private void back(Move move) {
        jdbc.sql("UPDATE job SET planned_for = :day, person = :person, place = :place, fixed = :fixed WHERE id = :id")
                .param("day", move.wasDay, java.sql.Types.DATE)
                .param("person", move.wasPerson, java.sql.Types.VARCHAR)
                .param("place", move.wasPlace)
                .param("fixed", move.wasFixed)
                .param("id", move.job)
                .update();
        if (move.wasDay != null && move.wasPerson != null) {
            jdbc.sql("INSERT INTO round (person, day) VALUES (:person, :day) ON CONFLICT DO NOTHING")
                    .param("person", move.wasPerson)
                    .param("day", move.wasDay)
                    .update();
        }
    }
}
