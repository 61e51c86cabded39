package org.juratest.server.condition;

import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.juratest.core.condition.Assessment;
import org.juratest.core.condition.Line;
import org.juratest.core.condition.Timed;
import org.juratest.core.condition.TrendWords;
import org.juratest.core.limit.Figures;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.limit.ResolvedLimit;
import org.juratest.core.run.Refusal;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.run.PointViews;
import org.springframework.jdbc.core.namedparam.MapSqlParameterSource;
import org.springframework.jdbc.core.namedparam.NamedParameterJdbcTemplate;
import org.springframework.stereotype.Repository;

/** The condition of the fleet as it is read: every device as a mark, and those that need attention in words. */
@Repository
class FleetRows {

    /** Devices that need attention are told up to this many; the others are marks. */
    static final int MOST_TOLD = 200;
    /** Years since 1970 that are no day of anything. */
    private static final double FAR = 400;

    private static final String BEFORE_NEXT = CoreJson.constantName(Assessment.Why.LIMIT_BEFORE_NEXT);
    private static final String BEFORE_NEXT_BUT_ONE = CoreJson.constantName(Assessment.Why.LIMIT_BEFORE_NEXT_BUT_ONE);

    private static final List<String> STANDINGS = List.of("act", "watch", "unknown", "sound");

    private static final Comparator<Fleet.Device> BY_MARGIN =
            Comparator.comparing(Fleet.Device::margin, Comparator.nullsLast(Comparator.reverseOrder()));
    private static final Map<String, Comparator<Fleet.Device>> ORDERS = Map.of(
            "gravest",
            Comparator.comparing((Fleet.Device d) -> STANDINGS.indexOf(d.standing()))
                    .thenComparing(d -> d.barred() == null)
                    .thenComparing(
                            d -> d.point() == null ? null : d.point().crossing(),
                            Comparator.nullsFirst(Comparator.naturalOrder()))
                    .thenComparing(BY_MARGIN)
                    .thenComparing(Fleet.Device::asset),
            "margin",
            BY_MARGIN.thenComparing(Fleet.Device::asset),
            "drift",
            Comparator.comparing(Fleet.Device::drift, Comparator.nullsLast(Comparator.<Double>reverseOrder()))
                    .thenComparing(Fleet.Device::asset),
            "position",
            Comparator.comparingDouble(Fleet.Device::km).thenComparing(Fleet.Device::position));

    private final NamedParameterJdbcTemplate jdbc;
    private final Fleet fleet;

    FleetRows(NamedParameterJdbcTemplate jdbc, Fleet fleet) {
        this.jdbc = jdbc;
        this.fleet = fleet;
    }

    /**
     * How many stand how.
     *
     * @param meetNext how many of those to act on have not failed, and meet a limit before their next test
     */
    record FleetCounts(long act, long watch, long sound, long unknown, long meetNext) {}

    /**
     * Devices as marks, column by column: the n-th of each list is of the n-th device. First those whose drift is
     * known, then those with a margin alone, then the others: the last two lists end where nothing more is known.
     *
     * @param models that there are
     * @param model of each device, by its place in {@code models}
     * @param standing first letters: a act, w watch, s sound, u unknown
     * @param margin used by the worst test point
     * @param drift margin used up in a year by that point
     */
    record FleetMarks(
            List<String> asset,
            List<String> position,
            List<String> models,
            List<Integer> model,
            String standing,
            List<Double> margin,
            List<Double> drift) {}

    /**
     * A device with how it stands and why.
     *
     * @param reason in a sentence's words
     * @param detail the same without what {@code meets} says
     * @param meets when its limit is met, in words; absent where it is not that
     * @param crossing the same as a day; absent likewise
     * @param series the test point that the reason is of, else its worst; absent where there is none
     * @param lane likewise
     * @param tested when it was last
     */
    record FleetDevice(
            String asset,
            String position,
            String site,
            String siteName,
            String title,
            String model,
            String serial,
            String standing,
            String reason,
            String detail,
            @Nullable String meets,
            @Nullable LocalDate crossing,
            @Nullable Double margin,
            @Nullable Double drift,
            @Nullable String series,
            @Nullable String lane,
            @Nullable Instant tested) {}

    /** Something that can be filtered by, with how many devices have it. */
    record FilterChoice(String value, String label, long assets) {}

    /** The fleet as the map shows it. */
    record FleetMap(FleetCounts counts, FleetMarks marks, Map<String, List<FilterChoice>> choices) {}

    /** Marks and counts of a part of the fleet, and what can be filtered by over all of it. */
    FleetMap map(ConditionFilter filter, Instant now) {
        List<Fleet.Device> all = fleet.devices();
        ConditionFilter anyhow = filter.ofAnyStanding();
        List<Fleet.Device> part =
                all.stream().filter(d -> anyhow.chooses(d, now)).toList();
        return new FleetMap(
                counts(part),
                marks(part.stream().filter(d -> filter.chooses(d, now)).toList()),
                choices(all));
    }

    private static FleetCounts counts(List<Fleet.Device> devices) {
        Map<String, Long> of = new HashMap<>();
        long meetNext = 0;
        for (Fleet.Device d : devices) {
            of.merge(d.standing(), 1L, Long::sum);
            meetNext += d.standing().equals("act") && d.barred() == null && BEFORE_NEXT.equals(d.why()) ? 1 : 0;
        }
        return new FleetCounts(
                of.getOrDefault("act", 0L),
                of.getOrDefault("watch", 0L),
                of.getOrDefault("sound", 0L),
                of.getOrDefault("unknown", 0L),
                meetNext);
    }

    private static FleetMarks marks(List<Fleet.Device> devices) {
        List<String> models =
                devices.stream().map(Fleet.Device::model).distinct().sorted().toList();
        Map<String, Integer> places = new HashMap<>();
        models.forEach(m -> places.put(m, places.size()));
        List<Double> margins = new ArrayList<>();
        List<Double> drifts = new ArrayList<>();
        StringBuilder standing = new StringBuilder();
        for (Fleet.Device d : devices) {
            standing.append(d.standing().charAt(0));
            if (d.margin() != null) {
                margins.add(d.margin());
            }
            if (d.margin() != null && d.drift() != null) {
                drifts.add(d.drift());
            }
        }
        return new FleetMarks(
                devices.stream().map(Fleet.Device::asset).toList(),
                devices.stream().map(Fleet.Device::position).toList(),
                models,
                devices.stream().map(d -> places.getOrDefault(d.model(), 0)).toList(),
                standing.toString(),
                margins,
                drifts);
    }

    /** What can be filtered by, with how many have it: families, sites along the line, models. */
    private static Map<String, List<FilterChoice>> choices(List<Fleet.Device> all) {
        Map<String, List<FilterChoice>> choices = new TreeMap<>();
        choices.put("family", choices(all, Fleet.Device::family, Fleet.Device::family));
        choices.put("model", choices(all, Fleet.Device::model, Fleet.Device::model));
        Map<String, Double> km = new HashMap<>();
        all.forEach(d -> km.put(d.site(), d.km()));
        choices.put(
                "site",
                choices(all, Fleet.Device::site, Fleet.Device::siteName).stream()
                        .sorted(Comparator.comparing((FilterChoice c) -> km.getOrDefault(c.value, 0.0))
                                .thenComparing(FilterChoice::value))
                        .toList());
        return choices;
    }

    private static List<FilterChoice> choices(
            List<Fleet.Device> all, Function<Fleet.Device, String> value, Function<Fleet.Device, String> label) {
        Map<String, String> labels = new TreeMap<>();
        Map<String, Long> counts = new HashMap<>();
        for (Fleet.Device r : all) {
            labels.put(value.apply(r), label.apply(r));
            counts.merge(value.apply(r), 1L, Long::sum);
        }
        return labels.entrySet().stream()
                .map(e -> new FilterChoice(e.getKey(), e.getValue(), counts.getOrDefault(e.getKey(), 0L)))
                .toList();
    }

    /** How many of a part stand how. */
    FleetCounts counts(ConditionFilter filter, Instant now) {
        return counts(chosen(filter, now).toList());
    }

    private Stream<Fleet.Device> chosen(ConditionFilter filter, Instant now) {
        return fleet.devices().stream().filter(d -> filter.chooses(d, now));
    }

    private static boolean isInNeed(Fleet.Device device) {
        return device.standing().equals("act") || device.standing().equals("watch");
    }

    /** What needs attention, the gravest and soonest first. */
    List<FleetDevice> needs(ConditionFilter filter, Instant now) {
        return told(chosen(filter, now).filter(FleetRows::isInNeed), "gravest", 0, MOST_TOLD, now);
    }

    /**
     * Devices with how they stand, in an order.
     *
     * @param order {@code gravest}, {@code margin}, {@code drift} or {@code position}
     * @throws Refusal if there is no such order
     */
    List<FleetDevice> devices(ConditionFilter filter, String order, long from, int most, Instant now) {
        return told(chosen(filter, now), order, from, most, now);
    }

    /** What needs attention at some sites, the gravest and soonest first. */
    List<FleetDevice> needsAt(Collection<String> sites, Instant now) {
        return told(
                fleet.devices().stream().filter(d -> isInNeed(d) && sites.contains(d.site())),
                "gravest",
                0,
                MOST_TOLD,
                now);
    }

    /** One device; absent where it stands nowhere. */
    @Nullable
    FleetDevice one(String asset, Instant now) {
        Fleet.Device known = fleet.byAsset().get(asset);
        return known == null
                ? null
                : told(Stream.of(known), "position", 0, 1, now).get(0);
    }

    private List<FleetDevice> told(Stream<Fleet.Device> devices, String order, long from, int most, Instant now) {
        Comparator<Fleet.Device> by = ORDERS.get(order);
        if (by == null) {
            throw new Refusal(
                    "unknown-order",
                    "There is no order \"" + order + "\"; there are "
                            + String.join(
                                    ", ", ORDERS.keySet().stream().sorted().toList()) + ".",
                    "order");
        }
        double today = Timed.years(now);
        List<Fleet.Device> some = devices.sorted(by).skip(from).limit(most).toList();
        Map<PeerGroup, String> like = like(some);
        return some.stream().map(d -> told(d, today, like)).toList();
    }

    /** Devices of a model with a test point in common. */
    private record PeerGroup(String model, String procedure, String series, String lane) {

        static @Nullable PeerGroup of(Fleet.Device d) {
            return d.point() == null || d.series() == null || d.lane() == null
                    ? null
                    : new PeerGroup(d.model(), d.point().procedure(), d.series(), d.lane());
        }
    }

    private static boolean isOnItsWay(Fleet.Device d) {
        return BEFORE_NEXT.equals(d.why()) || BEFORE_NEXT_BUT_ONE.equals(d.why());
    }

    /** How many drift too, of those like devices that are on their way to a limit, in words. */
    private Map<PeerGroup, String> like(List<Fleet.Device> devices) {
        List<Fleet.Device> drifting =
                devices.stream().filter(FleetRows::isOnItsWay).toList();
        Map<PeerGroup, String> words = new HashMap<>();
        if (!drifting.isEmpty()) {
            jdbc.query(
                    """
          SELECT maker || ' ' || model, procedure, series, lane, members, drifting FROM peer_group
          WHERE maker || ' ' || model = ANY (:models) AND series = ANY (:series)""",
                    new MapSqlParameterSource("models", distinct(drifting, Fleet.Device::model))
                            .addValue("series", distinct(drifting, d -> String.valueOf(d.series()))),
                    rs -> {
                        words.put(
                                new PeerGroup(rs.getString(1), rs.getString(2), rs.getString(3), rs.getString(4)),
                                like(rs.getLong(5) - 1, Math.max(0, rs.getLong(6) - 1)));
                    });
        }
        return words;
    }

    private static String[] distinct(List<Fleet.Device> devices, Function<Fleet.Device, String> of) {
        return devices.stream().map(of).distinct().toArray(String[]::new);
    }

    private static String like(long peers, long drift) {
        if (peers < 1) {
            return "";
        }
        if (drift == 0) {
            return peers == 1 ? "; the one like it has no drift" : "; " + peers + " like it have no drift";
        }
        return drift == peers
                ? peers == 1 ? "; the one like it drifts too" : "; all " + peers + " like it drift too"
                : "; " + drift + " of " + peers + " like it " + (drift == 1 ? "drifts too" : "drift too");
    }

    private static FleetDevice told(Fleet.Device d, double today, Map<PeerGroup, String> like) {
        Fleet.Point point = d.point();
        String meets = point == null || point.crossing() == null || point.from() == null || point.to() == null
                ? null
                : isOnItsWay(d)
                        ? TrendWords.meets(new Line.Range(point.from(), point.to()), point.crossing(), today)
                        : null;
        String reason = reason(d, meets);
        String figure = figure(point);
        String detail = isOnItsWay(d) && d.barred() == null && point != null && figure != null
                ? point.label() + ": " + figure
                : reason;
        PeerGroup group = PeerGroup.of(d);
        String peers = meets == null || group == null || d.barred() != null ? "" : like.getOrDefault(group, "");
        return new FleetDevice(
                d.asset(),
                d.position(),
                d.site(),
                d.siteName(),
                d.title(),
                d.model(),
                d.serial(),
                d.standing(),
                reason + peers,
                detail + peers,
                meets,
                meets == null || point == null || point.crossing() == null ? null : day(point.crossing()),
                d.margin(),
                d.drift(),
                d.series(),
                d.lane(),
                d.tested());
    }

    private static String reason(Fleet.Device d, @Nullable String meets) {
        if (d.barred() != null) {
            return "must not be used: " + d.barred();
        }
        if (!d.recorded()) {
            return "never tested";
        }
        Assessment.Why why = d.why() == null ? null : CoreJson.mapper().convertValue(d.why(), Assessment.Why.class);
        Fleet.Point point = d.point();
        String figure = figure(point);
        String label = point == null ? null : point.label();
        String told = why == null
                ? "by its last record"
                : why == Assessment.Why.SOUND && figure != null
                        ? label + ": " + figure
                        : Assessment.words(why, label, figure, meets);
        if (d.overdue() && d.standing().equals("unknown")) {
            return "overdue; when last tested, " + told;
        }
        if (d.watched() == null) {
            return told;
        }
        return why == Assessment.Why.SOUND || why == null
                ? "on the watch list: " + d.watched()
                : told + "; on the watch list: " + d.watched();
    }

    /** "312, allowed at most 297 µΩ"; absent where there is no limit. */
    private static @Nullable String figure(Fleet.@Nullable Point point) {
        if (point == null || point.low() == null && point.high() == null) {
            return null;
        }
        ResolvedLimit limit = new ResolvedLimit(point.low(), point.high(), null, null, null, "", null, null);
        return (PointViews.figure(point.value(), Qualifier.EQUAL, limit) + ", allowed "
                        + PointViews.words(String.valueOf(Figures.span(limit, point.value())))
                        + " " + PointViews.symbol(point.unit()))
                .trim();
    }

    /** Devices whose line meets a limit within some months, by the point that does first, the soonest first. */
    List<Attention.Coming> coming(Instant now, int months) {
        double today = Timed.years(now);
        Map<String, Fleet.Device> known = fleet.byAsset();
        return jdbc.query(
                """
        SELECT DISTINCT ON (asset) asset, label, crossing, from_80, to_80, series, lane FROM series_state
        WHERE outlook = 'towards' AND crossing <= :until ORDER BY asset, crossing""",
                new MapSqlParameterSource("until", today + months / 12.0),
                (ResultSet rs) -> {
                    List<Attention.Coming> all = new ArrayList<>();
                    while (rs.next()) {
                        Fleet.Device device = known.get(rs.getString(1));
                        if (device != null) {
                            all.add(coming(device, rs, today));
                        }
                    }
                    all.sort(Comparator.comparing(Attention.Coming::crossing));
                    return all;
                });
    }

    private static Attention.Coming coming(Fleet.Device device, ResultSet rs, double today) throws SQLException {
        double crossing = rs.getDouble(3);
        Line.Range range = new Line.Range(rs.getDouble(4), rs.getDouble(5));
        return new Attention.Coming(
                device.asset(),
                device.position(),
                device.siteName(),
                device.model(),
                device.standing(),
                rs.getString(2),
                TrendWords.meets(range, crossing, today),
                day(crossing),
                Math.abs(range.from()) > FAR ? null : day(range.from()),
                Math.abs(range.to()) > FAR ? null : day(range.to()),
                rs.getString(6),
                rs.getString(7));
    }

    private static LocalDate day(double years) {
        return LocalDate.ofInstant(Timed.instant(years), java.time.ZoneOffset.UTC);
    }
}
