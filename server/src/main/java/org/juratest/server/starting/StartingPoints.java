package org.juratest.server.starting;

import java.math.BigDecimal;
import java.math.MathContext;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import org.juratest.core.method.Method;
import org.juratest.core.method.Methods;
import org.juratest.core.method.StartingPoint;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.register.FieldProblem;
import org.juratest.core.run.AssetFacts;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.RunState;
import org.juratest.server.web.FieldsException;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;
import org.springframework.transaction.annotation.Transactional;

/** The starting points of all types of devices: the newest that a finished run found, or what a person set. */
@Repository
public class StartingPoints {

    private static final int LONGEST = 400;
    /** Digits in which what is wanted is the same. */
    private static final MathContext ALIKE = new MathContext(3);

    private static final String LEARNED =
            """
        INSERT INTO starting_point (maker, model, method, title, param, wanted, wanted_unit, value, hit, run, record,
          kept_by)
        VALUES (:maker, :model, :method, :title, :param, :wanted, :unit, :value, :hit, :run, :record, :by)
        ON CONFLICT (maker, model, method, param, wanted_unit, wanted) DO UPDATE SET title = excluded.title,
          value = excluded.value, hit = excluded.hit, run = excluded.run, record = excluded.record,
          kept_by = excluded.kept_by, kept_at = now(), why = NULL""";

    private final JdbcClient jdbc;

    StartingPoints(JdbcClient jdbc) {
        this.jdbc = jdbc;
    }

    /** Takes what a finished run found, in place of what was known of the type before. */
    @Transactional
    public void learn(UUID run, String record, String by, RunState state) {
        AssetFacts asset = state.opened().asset();
        for (Step step : state.stepsInScope()) {
            for (Attempt attempt : state.attempts(step.id(), null)) {
                if (attempt.counts() && attempt.carried() == null) {
                    found(step, attempt).forEach(p -> keep(asset, step, p, run, record, by));
                }
            }
        }
    }

    /** What an attempt teaches; nothing where its method learns nothing. */
    public static List<StartingPoint> found(Step step, Attempt attempt) {
        return method(step)
                .filter(m -> !m.spec().learned().isEmpty())
                .map(m -> m.startingPoints(step.at(attempt.lane()), attempt))
                .orElse(List.of());
    }

    private static Optional<Method> method(Step step) {
        return Optional.ofNullable(step.method()).flatMap(Methods::byName);
    }

    private void keep(AssetFacts asset, Step step, StartingPoint found, UUID run, String record, String by) {
        MethodSpec.Param param = method(step).orElseThrow().spec().params().get(found.param());
        double value = Math.max(param.low(), Math.min(param.high(), found.value()));
        jdbc.sql(LEARNED)
                .param("title", step.title())
                .param("maker", asset.maker())
                .param("model", asset.model())
                .param("method", step.method())
                .param("param", found.param())
                .param("wanted", alike(found.wanted()))
                .param("unit", found.wanted().unit().code())
                .param("value", value)
                .param("hit", found.hit().in(found.wanted().unit()))
                .param("run", run)
                .param("record", record)
                .param("by", by)
                .update();
    }

    /** What is wanted, to as many digits as make a difference. */
    public static double alike(Quantity wanted) {
        return new BigDecimal(wanted.value()).round(ALIKE).doubleValue();
    }

    /** All of them, type by type. */
    public List<StartingPointView> all() {
        return views("", Map.of());
    }

    /** Those of a type for a method. */
    public List<StartingPointView> of(String maker, String model, String method) {
        return views(
                "WHERE maker = :maker AND model = :model AND method = :method",
                Map.of("maker", maker, "model", model, "method", method));
    }

    private List<StartingPointView> views(String where, Map<String, Object> params) {
        return jdbc
                .sql("SELECT * FROM starting_point " + where + " ORDER BY maker, model, method, param, wanted, id")
                .params(params)
                .query(StartingPoints::view)
                .list()
                .stream()
                .flatMap(Optional::stream)
                .toList();
    }

    /** One row; nothing where a later version of the program has no such method any more. */
    private static Optional<StartingPointView> view(ResultSet rs, int row) throws SQLException {
        String param = rs.getString("param");
        MethodSpec.Param spec = Methods.byName(rs.getString("method"))
                .map(m -> m.spec().params().get(param))
                .orElse(null);
        return spec == null
                ? Optional.empty()
                : Optional.of(new StartingPointView(
                        rs.getLong("id"),
                        rs.getString("maker"),
                        rs.getString("model"),
                        rs.getString("method"),
                        rs.getString("title"),
                        param,
                        rs.getDouble("value"),
                        spec.unit().code(),
                        spec.low(),
                        spec.high(),
                        rs.getDouble("wanted"),
                        rs.getString("wanted_unit"),
                        rs.getObject("hit", Double.class),
                        rs.getString("record"),
                        rs.getString("kept_by"),
                        rs.getObject("kept_at", OffsetDateTime.class).toInstant(),
                        rs.getString("why")));
    }

    private StartingPointView one(long id) {
        return views("WHERE id = :id", Map.of("id", id)).stream()
                .findFirst()
                .orElseThrow(() -> new NotFoundException("starting-point", Long.toString(id)));
    }

    /**
     * Sets one by hand.
     *
     * @throws FieldsException if it is not a value the method takes, or has no reason
     * @throws Refusal if it changed since the person saw it
     */
    @Transactional
    StartingPointView set(long id, StartingPointView.StartingPointForm given, String by) {
        StartingPointView now = one(id);
        List<FieldProblem> problems = new ArrayList<>();
        if (!(given.value() >= now.low() && given.value() <= now.high())) {
            problems.add(new FieldProblem(
                    "value", String.format(Locale.ROOT, "The method takes %.4g to %.4g.", now.low(), now.high())));
        }
        String why = given.why() == null ? "" : given.why().strip();
        if (why.isEmpty() || why.length() > LONGEST) {
            problems.add(new FieldProblem(
                    "why", why.isEmpty() ? "Say why, in a few words." : "At most " + LONGEST + " letters."));
        }
        FieldsException.throwIf(problems);
        unchanged(jdbc.sql("UPDATE starting_point SET value = :value, hit = NULL, run = NULL, record = NULL, "
                        + "kept_by = :by, kept_at = now(), why = :why WHERE id = :id AND kept_at = :seen")
                .param("value", given.value())
                .param("by", by)
                .param("why", why)
                .param("id", id)
                .param("seen", OffsetDateTime.ofInstant(given.seen(), ZoneOffset.UTC))
                .update());
        return one(id);
    }

    /** Forgets one: the next run starts from what is wanted. */
    @Transactional
    void forget(long id, Instant seen) {
        one(id);
        unchanged(jdbc.sql("DELETE FROM starting_point WHERE id = :id AND kept_at = :seen")
                .param("id", id)
                .param("seen", OffsetDateTime.ofInstant(seen, ZoneOffset.UTC))
                .update());
    }

    private static void unchanged(int rows) {
        if (rows == 0) {
            throw new Refusal(
                    "changed-meanwhile",
                    "It was found or set anew meanwhile. Look at it again; nothing was stored.",
                    "seen");
        }
    }
}
