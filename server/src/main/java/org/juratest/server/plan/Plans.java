package org.juratest.server.plan;

import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.juratest.core.run.Refusal;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.namedparam.MapSqlParameterSource;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;
import tools.jackson.core.type.TypeReference;

/** Plans in the database. */
@Repository
public class Plans {

    private static final String SELECT =
            """
      SELECT id, revision, title, procedure, occasion, class, model, positions, every, amount, amount_to, counting,
        before, after, anchor, starts, reason, basis, lead_days, minutes, people,
        outage, authorisation, season_from, season_to, parts::text, covers, ended FROM plan""";
    private static final String VALUES =
            """
      title = :title, procedure = :procedure, occasion = :occasion, class = :class, model = :model,
        positions = string_to_array(:positions, ','), every = :every, amount = :amount,
      amount_to = :amountTo, counting = :counting, before = :before, after = :after, anchor = :anchor,
        starts = :starts, reason = :reason, basis = :basis, lead_days = :leadDays,
      minutes = :minutes, people = :people, outage = :outage, authorisation = :authorisation,
        season_from = :seasonFrom, season_to = :seasonTo, parts = CAST(:parts AS jsonb),
      covers = string_to_array(:covers, ','), ended = :ended""";

    private final JdbcClient jdbc;
    private final Clock clock;

    public Plans(JdbcClient jdbc, Clock clock) {
        this.jdbc = jdbc;
        this.clock = clock;
    }

    /**
     * What a plan said.
     *
     * @param by sign-in name of who said so
     */
    public record PlanRevision(int revision, Instant at, String by, String name, Plan plan) {}

    /** All that a plan ever said, newest first. */
    List<PlanRevision> revisions(long plan) {
        byId(plan);
        return jdbc.sql("SELECT r.revision, r.at, r.by, coalesce(p.name, r.by), r.body::text FROM plan_revision "
                        + "r LEFT JOIN person p ON p.id = r.by WHERE r.plan = :plan ORDER BY r.revision DESC")
                .param("plan", plan)
                .query((rs, i) -> new PlanRevision(
                        rs.getInt(1),
                        rs.getTimestamp(2).toInstant(),
                        rs.getString(3),
                        rs.getString(4),
                        CoreJson.mapper().readValue(rs.getString(5), Plan.class)))
                .list();
    }

    private void keep(long id, String by) {
        Plan now = byId(id);
        jdbc.sql("INSERT INTO plan_revision (plan, revision, at, by, body) VALUES (:plan, :revision, :at, "
                        + ":by, CAST(:body AS jsonb))")
                .param("plan", id)
                .param("revision", now.revision())
                .param("at", clock.instant().atOffset(ZoneOffset.UTC))
                .param("by", by)
                .param("body", CoreJson.mapper().writeValueAsString(now))
                .update();
    }

    public List<Plan> all() {
        return jdbc.sql(SELECT + " ORDER BY ended, class NULLS FIRST, title, id")
                .query(Plans::plan)
                .list();
    }

    /** Those that lay jobs. */
    List<Plan> active() {
        return jdbc.sql(SELECT + " WHERE NOT ended ORDER BY id")
                .query(Plans::plan)
                .list();
    }

    public Plan byId(long id) {
        return jdbc.sql(SELECT + " WHERE id = :id")
                .param("id", id)
                .query(Plans::plan)
                .optional()
                .orElseThrow(() -> new NotFoundException("plan", String.valueOf(id)));
    }

    /** Stores a new plan, and gives its id. */
    public long insert(Plan plan, String by) {
        long id = jdbc.sql(
                        """
        INSERT INTO plan (title, procedure, occasion, class, model, positions, every, amount, amount_to, counting,
          before, after, anchor, starts, reason, basis, lead_days, minutes, people, outage,
          authorisation, season_from, season_to, parts, covers, ended)
        VALUES (:title, :procedure, :occasion, :class, :model, string_to_array(:positions, ','), :every, :amount,
          :amountTo, :counting, :before, :after, :anchor, :starts, :reason, :basis, :leadDays,
          :minutes, :people, :outage, :authorisation, :seasonFrom, :seasonTo, CAST(:parts AS jsonb),
            string_to_array(:covers, ','), :ended) RETURNING id""")
                .paramSource(values(plan))
                .query(Long.class)
                .single();
        keep(id, by);
        return id;
    }

    /** @throws Refusal if it was changed since the revision given */
    void update(Plan plan, String by) {
        MapSqlParameterSource values = values(plan);
        values.addValue("id", plan.id()).addValue("revision", plan.revision());
        if (jdbc.sql("UPDATE plan SET revision = revision + 1, " + VALUES + " WHERE id = :id AND revision = :revision")
                        .paramSource(values)
                        .update()
                == 0) {
            byId(plan.id());
            throw new Refusal(
                    "changed-meanwhile",
                    "Somebody has changed this plan since you opened it. Look at it again; nothing of yours was "
                            + "stored.",
                    "revision");
        }
        keep(plan.id(), by);
    }

    private static MapSqlParameterSource values(Plan p) {
        return new MapSqlParameterSource()
                .addValue("title", p.title())
                .addValue("procedure", p.procedure())
                .addValue("occasion", p.occasion())
                .addValue("class", p.assetClass(), java.sql.Types.VARCHAR)
                .addValue("model", p.model(), java.sql.Types.VARCHAR)
                .addValue("positions", String.join(",", p.positions()))
                .addValue("every", p.every(), java.sql.Types.VARCHAR)
                .addValue("amount", p.amount())
                .addValue("amountTo", p.amountTo(), java.sql.Types.DOUBLE)
                .addValue("counting", p.counting())
                .addValue("before", p.before())
                .addValue("after", p.after())
                .addValue("anchor", p.anchor(), java.sql.Types.DATE)
                .addValue("starts", p.starts())
                .addValue("reason", p.reason())
                .addValue("basis", p.basis())
                .addValue("leadDays", p.leadDays())
                .addValue("minutes", p.minutes(), java.sql.Types.INTEGER)
                .addValue("people", p.people())
                .addValue("outage", p.outage())
                .addValue("authorisation", p.authorisation(), java.sql.Types.VARCHAR)
                .addValue("seasonFrom", p.seasonFrom(), java.sql.Types.VARCHAR)
                .addValue("seasonTo", p.seasonTo(), java.sql.Types.VARCHAR)
                .addValue("parts", CoreJson.mapper().writeValueAsString(p.parts()))
                .addValue("covers", String.join(",", p.covers()))
                .addValue("ended", p.ended());
    }

    private static Plan plan(ResultSet rs, int i) throws SQLException {
        return new Plan(
                rs.getLong("id"),
                rs.getInt("revision"),
                rs.getString("title"),
                rs.getString("procedure"),
                rs.getString("occasion"),
                rs.getString("class"),
                rs.getString("model"),
                strings(rs, "positions"),
                rs.getString("every"),
                rs.getDouble("amount"),
                rs.getObject("amount_to", Double.class),
                rs.getString("counting"),
                rs.getString("before"),
                rs.getString("after"),
                rs.getObject("anchor", LocalDate.class),
                rs.getObject("starts", LocalDate.class),
                rs.getString("reason"),
                rs.getString("basis"),
                rs.getInt("lead_days"),
                rs.getObject("minutes", Integer.class),
                rs.getInt("people"),
                rs.getBoolean("outage"),
                rs.getString("authorisation"),
                rs.getString("season_from"),
                rs.getString("season_to"),
                CoreJson.mapper().readValue(rs.getString("parts"), new TypeReference<Map<String, Integer>>() {}),
                strings(rs, "covers"),
                rs.getBoolean("ended"));
    }

    private static List<String> strings(ResultSet rs, String column) throws SQLException {
        @Nullable Object array = rs.getArray(column).getArray();
        return Arrays.asList((String[]) array);
    }
}
