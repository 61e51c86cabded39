package org.juratest.server.condition;

import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.OptionalDouble;
import java.util.Set;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.condition.Fan;
import org.juratest.core.condition.IntervalAdvice;
import org.juratest.core.condition.Line;
import org.juratest.core.condition.PointCondition;
import org.juratest.core.condition.Telling;
import org.juratest.core.condition.Timed;
import org.juratest.core.condition.Trend;
import org.juratest.core.condition.TrendWords;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.limit.ResolvedLimit;
import org.juratest.core.limit.Scale;
import org.juratest.core.limit.StripAxis;
import org.juratest.core.procedure.Lane;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Scope;
import org.juratest.core.procedure.Step;
import org.juratest.core.run.RunState;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.condition.States.Key;
import org.juratest.server.condition.States.Seen;
import org.juratest.server.condition.TrendViews.BaselineView;
import org.juratest.server.condition.TrendViews.TrendFan;
import org.juratest.server.condition.TrendViews.TrendMark;
import org.juratest.server.condition.TrendViews.TrendPoint;
import org.juratest.server.condition.TrendViews.TrendVisit;
import org.juratest.server.condition.TrendViews.TrendsView;
import org.juratest.server.run.PointViews;
import org.juratest.server.run.RunStore;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;
import tools.jackson.databind.JsonNode;

/** What a device's test points did over time and where that leads, made anew from its records each time. */
@Repository
class Trends {

    /** Of so many peers each is looked at for itself. */
    private static final int FEW_PEERS = 200;

    /** How far a line is drawn into what comes, years: at least, and at most. */
    private static final double LEAST_AHEAD = 1;

    private static final double MOST_AHEAD = 6;

    /** Share by which a limit has to move to be told. */
    private static final double WORTH_A_WORD = 0.05;

    private final JdbcClient jdbc;
    private final ConditionTables tables;
    private final FleetRows fleet;
    private final TrendDetails details;
    private final RunStore runs;
    private final Clock clock;

    Trends(JdbcTemplate template, FleetRows fleet, RunStore runs, Clock clock) {
        this.jdbc = JdbcClient.create(template);
        this.tables = new ConditionTables(template);
        this.details = new TrendDetails(template);
        this.fleet = fleet;
        this.runs = runs;
        this.clock = clock;
    }

    private record Row(
            String asset,
            String title,
            String maker,
            String model,
            String serial,
            @Nullable String position,
            @Nullable String siteName,
            String zone,
            String assetClass) {}

    /**
     * Of a device by its id, or by the position it stands at.
     *
     * @param series only this test point; all where absent
     * @param lane only this lane of it
     * @throws NotFoundException if there is no such device
     */
    TrendsView of(String key, @Nullable String series, @Nullable String lane) {
        Row row = row(key);
        Map<Key, List<Seen>> all = tables.seen(List.of(row.asset));
        Map<Key, List<Seen>> seen = new LinkedHashMap<>();
        all.forEach((k, visits) -> {
            if ((series == null || series.equals(k.series())) && (lane == null || lane.equals(k.lane()))) {
                seen.put(k, States.comparable(visits));
            }
        });
        double risk = tables.risk();
        Map<UUID, TrendDetails.RunRow> records = details.runs(row.asset);
        Map<String, TrendDetails.Taken> taken = details.taken(records.keySet());
        Set<Key> outliers = tables.outliers(List.of(row.asset));
        Map<Key, Telling.Like> peers = peers(row.asset);
        RunState newest = records.isEmpty()
                ? null
                : runs.state(records.values().stream()
                        .max(Comparator.comparing(TrendDetails.RunRow::finishedAt))
                        .orElseThrow()
                        .run());
        List<PointKey> order = newest == null ? List.of() : newest.procedure().keys(Scope.ALL);
        // What is computed of one asks nothing of the others, and takes the longest where there are many visits.
        List<TrendPoint> points = seen.entrySet().stream()
                .sorted(Comparator.comparing(e -> place(order, e.getValue())))
                .toList()
                .parallelStream()
                .map(e -> point(
                        e.getKey(),
                        e.getValue(),
                        newest,
                        records,
                        taken,
                        outliers.contains(e.getKey()),
                        peers.get(e.getKey()),
                        risk))
                .toList();
        FleetRows.FleetDevice told = fleet.one(row.asset, clock.instant());
        List<BaselineView> baselines = details.baselines(row.asset);
        return new TrendsView(
                row.asset,
                row.title,
                row.maker,
                row.model,
                row.serial,
                row.position,
                row.siteName,
                told == null ? "unknown" : told.standing(),
                told == null ? "it stands nowhere" : told.reason(),
                told == null ? null : told.series(),
                told == null ? null : told.lane(),
                row.assetClass,
                details.watched(row.asset),
                details.interval(row.asset),
                risk,
                points,
                marks(row.asset, records, baselines),
                baselines,
                row.zone);
    }

    private Row row(String key) {
        return jdbc.sql(
                        """
        SELECT a.id, c.title, a.maker, a.model, a.serial, i.position, s.name, coalesce(s.zone, 'UTC'), a.class
        FROM asset a
          JOIN asset_class c ON c.code = a.class LEFT JOIN installation i ON i.asset = a.id AND upper_inf(i.during)
          LEFT JOIN position p ON p.code = i.position LEFT JOIN site s ON s.code = p.site
        WHERE a.id = coalesce((SELECT id FROM asset WHERE id = :key), (SELECT asset FROM installation
          WHERE position = :key AND during @> now()))""")
                .param("key", key)
                .query((rs, i) -> new Row(
                        rs.getString(1),
                        rs.getString(2),
                        rs.getString(3),
                        rs.getString(4),
                        rs.getString(5),
                        rs.getString(6),
                        rs.getString(7),
                        rs.getString(8),
                        rs.getString(9)))
                .optional()
                .orElseThrow(() -> new NotFoundException("asset", key));
    }

    private static int place(List<PointKey> order, List<Seen> visits) {
        int at = order.indexOf(PointKey.parse(visits.get(visits.size() - 1).point()));
        return at < 0 ? order.size() : at;
    }

    /** Last values of the same points on other devices of the model. */
    /** Of many, one more or less moves nothing: what was counted with their states stands for the others. */
    private Map<Key, Telling.Like> peers(String asset) {
        Map<Key, Telling.Like> all = new HashMap<>();
        jdbc.sql(
                        """
        SELECT s.series, s.lane, g.members - 1, g.value_from, g.value_to, CASE WHEN g.members <= :few THEN (
          SELECT array_agg(o.value) FROM series_state o JOIN asset b ON b.id = o.asset AND b.maker = a.maker
            AND b.model = a.model AND b.retired_at IS NULL
          WHERE o.procedure = s.procedure AND o.series = s.series AND o.lane = s.lane AND o.asset <> s.asset) END
        FROM series_state s JOIN asset a ON a.id = s.asset JOIN peer_group g ON g.maker = a.maker
          AND g.model = a.model AND g.procedure = s.procedure AND g.series = s.series AND g.lane = s.lane
        WHERE s.asset = :asset AND g.members > 1""")
                .param("asset", asset)
                .param("few", FEW_PEERS)
                .query(rs -> {
                    java.sql.Array few = rs.getArray(6);
                    all.put(
                            new Key(asset, rs.getString(1), rs.getString(2)),
                            few == null
                                    ? new Telling.Like(rs.getInt(3), rs.getDouble(4), rs.getDouble(5))
                                    : Telling.Like.of(java.util.Arrays.stream((Double[]) few.getArray())
                                            .mapToDouble(Double::doubleValue)
                                            .toArray()));
                });
        return all;
    }

    private TrendPoint point(
            Key key,
            List<Seen> visits,
            @Nullable RunState newest,
            Map<UUID, TrendDetails.RunRow> records,
            Map<String, TrendDetails.Taken> taken,
            boolean outlier,
            Telling.@Nullable Like peers,
            double risk) {
        Seen last = visits.get(visits.size() - 1);
        List<PointCondition.Visit> given = visits.stream().map(Seen::visit).toList();
        PointCondition condition = PointCondition.of(given, last.scale());
        List<Trend.Visit> values = PointCondition.values(given, last.scale());
        IntervalAdvice advice = IntervalAdvice.of(condition.trend(), values, risk);
        double today = Timed.years(clock.instant());
        Trend.Segment segment = condition.trend().last();
        double ahead = condition.crossing().stream()
                .map(c -> 1.3 * (c - today))
                .filter(y -> y <= MOST_AHEAD)
                .max()
                .orElse(0);
        List<TrendFan> fans = Fan.of(condition.trend(), values, today + Math.max(LEAST_AHEAD, ahead)).stream()
                .map(f -> fan(f, last.scale()))
                .toList();
        String unit = PointViews.symbol(last.unit());
        List<String> words = new ArrayList<>(Telling.of(condition.trend(), last.scale(), unit));
        words.addAll(Telling.peers(peers, unit, outlier));
        Step step = newest == null
                ? null
                : newest.procedure().step(PointKey.parse(last.point()).step()).orElse(null);
        PointKey lastly = PointKey.parse(last.point());
        // A row's label says where it is, and of several points in a step which it is; of anything else its lane tells
        // it from its neighbours.
        boolean row = lastly.point().indexOf(Step.ROW) >= 0;
        boolean several =
                step != null && (step.points().size() > 1 || !step.discovers().isEmpty());
        String lane = row || several
                ? last.label()
                : step == null || newest == null
                        ? key.lane()
                        : newest.procedure().laneName(step, key.lane());
        StripAxis axis = axis(last, visits);
        Line.Range range = segment == null || condition.crossing().isEmpty() ? null : segment.range();
        return new TrendPoint(
                key.series(),
                key.lane(),
                step == null ? last.label() : step.title(),
                lane.isEmpty() || key.lane().equals(Lane.NONE) ? last.label() : lane,
                last.label(),
                last.procedure(),
                unit,
                last.scale(),
                axis.from(),
                axis.to(),
                TrendWords.of(condition.trend(), today),
                words,
                day(condition.crossing()),
                range == null ? null : day(OptionalDouble.of(range.from())),
                range == null ? null : day(OptionalDouble.of(range.to())),
                condition.margin(),
                condition.drift().isPresent() ? (Double) condition.drift().getAsDouble() : null,
                segment != null && segment.drifts(),
                outlier,
                advice == null ? null : (Integer) advice.months(),
                visits(visits, condition, values, records, taken),
                fans);
    }

    private static StripAxis axis(Seen last, List<Seen> visits) {
        List<Double> shown = new ArrayList<>();
        for (Seen s : visits) {
            shown.add(s.visit().counting());
            shown.add(s.visit().asFound());
        }
        StripAxis axis = StripAxis.of(limit(last.visit()), last.scale(), shown);
        return axis == null ? new StripAxis(0, 1, Scale.LINEAR) : axis;
    }

    private static @Nullable ResolvedLimit limit(PointCondition.Visit visit) {
        return visit.low() == null && visit.high() == null
                ? null
                : new ResolvedLimit(visit.low(), visit.high(), null, null, null, "", null, null);
    }

    private static @Nullable LocalDate day(OptionalDouble years) {
        return years.isEmpty() || Math.abs(years.getAsDouble()) > 400
                ? null
                : LocalDate.ofInstant(Timed.instant(years.getAsDouble()), ZoneOffset.UTC);
    }

    private static TrendFan fan(Fan fan, Scale scale) {
        return new TrendFan(
                fan.years().stream()
                        .map(y -> (double) Timed.instant(y).toEpochMilli())
                        .toList(),
                fan.line().stream().map(scale::value).toList(),
                fan.low().stream().map(scale::value).toList(),
                fan.high().stream().map(scale::value).toList());
    }

    private static List<TrendVisit> visits(
            List<Seen> visits,
            PointCondition condition,
            List<Trend.Visit> values,
            Map<UUID, TrendDetails.RunRow> records,
            Map<String, TrendDetails.Taken> taken) {
        List<Double> stepped = condition.trend().steps().stream()
                .map(i -> values.get(i).at().years())
                .toList();
        List<TrendVisit> all = new ArrayList<>();
        TrendDetails.Taken before = null;
        for (int i = 0; i < visits.size(); i++) {
            Seen seen = visits.get(i);
            PointCondition.Visit visit = seen.visit();
            TrendDetails.RunRow run = Objects.requireNonNull(records.get(seen.run()));
            TrendDetails.Taken own = taken.getOrDefault(seen.run() + " " + seen.point(), TrendDetails.Taken.NOTHING);
            boolean step = stepped.contains(Timed.years(visit.at()));
            PointCondition.Visit then = i == 0 ? null : visits.get(i - 1).visit();
            boolean adjusted = visit.counting() != visit.asFound();
            all.add(new TrendVisit(
                    seen.run(),
                    run.record(),
                    visit.at(),
                    visit.counting(),
                    PointViews.figure(visit.counting(), Qualifier.EQUAL, limit(visit)),
                    adjusted ? (Double) visit.asFound() : null,
                    adjusted ? PointViews.figure(visit.asFound(), Qualifier.EQUAL, limit(visit)) : null,
                    visit.uncertainty() > 0 ? (Double) visit.uncertainty() : null,
                    visit.low(),
                    visit.high(),
                    own.source() == null ? null : PointViews.words(Objects.requireNonNull(own.source())),
                    visit.verdict(),
                    run.baseline(),
                    visit.cut(),
                    step,
                    own.gear(),
                    flags(visit, then, own, before, step),
                    own.with()));
            before = own;
        }
        return all;
    }

    /** What is to be known of a value before it is compared with the one before it. */
    private static List<String> flags(
            PointCondition.Visit visit,
            PointCondition.@Nullable Visit then,
            TrendDetails.Taken own,
            TrendDetails.@Nullable Taken before,
            boolean step) {
        List<String> flags = new ArrayList<>();
        boolean gearChanged = before != null
                && own.gear() != null
                && before.gear() != null
                && !own.gear().equals(before.gear());
        if (step) {
            flags.add("a step without a recorded cause" + (gearChanged ? "; the gear was changed" : ""));
        } else if (gearChanged) {
            flags.add("other gear than the time before, which was " + before.gear());
        }
        Double used = visit.margin();
        Double usedThen = then == null ? null : then.margin();
        if (!step && !visit.cut() && used != null && usedThen != null && used - usedThen > Telling.MUCH) {
            flags.add(Math.round(100 * (used - usedThen)) + "\u2006% of its margin used up since the time before");
        }
        if (before != null
                && own.source() != null
                && before.source() != null
                && !withoutFigures(own.source()).equals(withoutFigures(before.source()))) {
            flags.add("limit from another source than the time before, which was " + PointViews.words(before.source()));
        } else if (then != null && (moved(then.low(), visit.low()) || moved(then.high(), visit.high()))) {
            flags.add("another limit than the time before");
        }
        return flags;
    }

    /** Sources that are worked out from readings name them; another figure is no other source. */
    private static String withoutFigures(String source) {
        return source.replaceAll("[0-9]+([.,][0-9]+)?", "");
    }

    private static boolean moved(@Nullable Double before, @Nullable Double now) {
        return before == null || now == null
                ? !Objects.equals(before, now)
                : Math.abs(now - before) > WORTH_A_WORD * Math.abs(before);
    }

    private List<TrendMark> marks(String asset, Map<UUID, TrendDetails.RunRow> records, List<BaselineView> baselines) {
        List<TrendMark> marks = new ArrayList<>(details.happened(asset));
        marks.addAll(details.adjustments(records));
        baselines.stream()
                .filter(b -> b.reason() != null)
                .map(b -> new TrendMark(b.finishedAt(), "baseline", "Baseline: " + b.reason(), b.record(), List.of()))
                .forEach(marks::add);
        marks.sort(Comparator.comparing(TrendMark::at));
        return marks;
    }

    static Instant time(ResultSet rs, int column) throws SQLException {
        return rs.getTimestamp(column).toInstant();
    }

    static JsonNode json(byte[] body) {
        return CoreJson.mapper().readTree(body);
    }
}
