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
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.juratest.core.condition.Shared;
import org.juratest.core.run.Refusal;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.job.Decisions;
import org.juratest.server.web.FieldsException;
import org.springframework.jdbc.core.namedparam.MapSqlParameterSource;
import org.springframework.jdbc.core.namedparam.NamedParameterJdbcTemplate;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;
import tools.jackson.databind.JsonNode;

/** What a chosen part of the fleet has in common, and jobs for all of it. */
@Service
class Selections {

    /** Jobs raised in one go. */
    static final int MOST_JOBS = 200;
    /** Common traits that are told. */
    private static final int MOST_TOLD = 6;
    /** Texts of a plate that nearly every device has its own of say nothing of a group. */
    private static final int LONGEST_TEXT = 60;

    private static final double LEAST_RISK = 0.001;
    private static final double MOST_RISK = 0.5;

    private final NamedParameterJdbcTemplate jdbc;
    private final Fleet fleet;
    private final Decisions decisions;
    private final Clock clock;

    Selections(NamedParameterJdbcTemplate jdbc, Fleet fleet, Decisions decisions, Clock clock) {
        this.jdbc = jdbc;
        this.fleet = fleet;
        this.decisions = decisions;
        this.clock = clock;
    }

    /**
     * What a group has in common beyond chance.
     *
     * @param group devices in it
     * @param fleet devices it is drawn from, itself among them
     * @param traits least likely first
     * @param tried what was looked at, in words
     */
    record SharedView(int group, int fleet, List<SharedTrait> traits, List<String> tried) {}

    /**
     * Something in common.
     *
     * @param words in a sentence
     * @param odds chance of as many or more in a group drawn by lot, times the traits tried
     */
    record SharedTrait(String attribute, String value, int inGroup, int inFleet, double odds, String words) {}

    private record Traits(boolean chosen, Map<String, Set<String>> values) {}

    /** Of the devices a filter selects, among those of its part of the map. */
    SharedView shared(ConditionFilter filter) {
        Set<String> tried = new TreeSet<>();
        List<Traits> all = traits(filter, clock.instant());
        int group = (int) all.stream().filter(Traits::chosen).count();
        Map<String, int[]> counts = new TreeMap<>();
        for (Traits t : all) {
            t.values.forEach((attribute, values) -> {
                tried.add(attribute);
                for (String value : values) {
                    int[] count = counts.computeIfAbsent(attribute + "\u0000" + value, k -> new int[2]);
                    count[0] += t.chosen ? 1 : 0;
                    count[1]++;
                }
            });
        }
        List<Shared.Tried> given = counts.entrySet().stream()
                .map(e -> {
                    String[] key = e.getKey().split("\u0000", 2);
                    return new Shared.Tried(key[0], key[1], e.getValue()[0], e.getValue()[1]);
                })
                .toList();
        List<SharedTrait> traits = Shared.of(group, all.size(), given).stream()
                .limit(MOST_TOLD)
                .map(s -> new SharedTrait(
                        s.attribute(), s.value(), s.inGroup(), s.inFleet(), s.odds(), words(s, group, all.size())))
                .toList();
        return new SharedView(group, all.size(), traits, List.copyOf(tried));
    }

    private static String words(Shared s, int group, int fleet) {
        String who = s.inGroup() == group ? "All " + group : s.inGroup() + " of " + group;
        String odds = s.odds() < 1e-6
                ? "less than 1 in a million"
                : "about 1 in " + String.format(Locale.ROOT, "%,d", rounded(1 / s.odds()));
        return who + " have " + s.attribute() + " " + s.value() + ", as " + s.inFleet() + " of " + fleet
                + " do; by chance " + odds + ".";
    }

    /** Two digits say all there is to say of odds. */
    private static long rounded(double value) {
        double unit = Math.pow(10, Math.max(0, Math.floor(Math.log10(value)) - 1));
        return Math.round(Math.round(value / unit) * unit);
    }

    private List<Traits> traits(ConditionFilter filter, Instant now) {
        Map<String, String> labels = new HashMap<>();
        jdbc.query("SELECT DISTINCT key, label FROM extra_field", rs -> {
            labels.put(rs.getString(1), rs.getString(2).toLowerCase(Locale.ROOT));
        });
        Map<String, String> gear = new HashMap<>();
        jdbc.query("SELECT id, name FROM gear", rs -> {
            gear.put(rs.getString(1), rs.getString(2));
        });
        ConditionFilter part = filter.everywhere().ofAnyStanding();
        Map<String, Fleet.Device> devices = fleet.devices().stream()
                .filter(d -> part.chooses(d, now))
                .collect(Collectors.toMap(Fleet.Device::asset, d -> d));
        return jdbc.query(
                """
        SELECT a.id, w.name, r.gear, a.extra::text, (a.nameplate->'texts')::text
        FROM asset a LEFT JOIN last_record l ON l.asset = a.id LEFT JOIN run r ON r.id = l.run
          LEFT JOIN person w ON w.id = r.performed_by WHERE a.retired_at IS NULL AND a.id = ANY (:assets)""",
                new MapSqlParameterSource("assets", devices.keySet().toArray(String[]::new)),
                (rs, i) -> {
                    Fleet.Device device = Objects.requireNonNull(devices.get(rs.getString(1)));
                    return new Traits(filter.chooses(device, now), traits(device, rs, labels, gear));
                });
    }

    private static Map<String, Set<String>> traits(
            Fleet.Device device, ResultSet rs, Map<String, String> labels, Map<String, String> gear)
            throws SQLException {
        Map<String, Set<String>> traits = new TreeMap<>();
        put(traits, "site", device.siteName());
        put(traits, "model", device.model());
        put(traits, "family", device.family());
        put(traits, "year installed", device.since() == null ? null : year(device.since()));
        if (device.tested() != null) {
            put(
                    traits,
                    "season of the last test",
                    season(device.tested().atZone(ZoneOffset.UTC).getMonthValue()));
        }
        put(traits, "last tested by", rs.getString(2));
        String with = rs.getString(3);
        for (String id : with == null || with.isEmpty() ? new String[0] : with.split(" ")) {
            put(traits, "gear", gear.getOrDefault(id, id));
        }
        own(traits, rs.getString(4), labels);
        own(traits, rs.getString(5), labels);
        return traits;
    }

    private static String year(Instant at) {
        return String.valueOf(at.atZone(ZoneOffset.UTC).getYear());
    }

    /** Own fields and texts of the plate, each under its name. */
    private static void own(Map<String, Set<String>> traits, @Nullable String json, Map<String, String> labels) {
        if (json == null) {
            return;
        }
        for (Map.Entry<String, JsonNode> e : CoreJson.mapper().readTree(json).properties()) {
            String text = e.getValue().isString()
                    ? e.getValue().asString()
                    : e.getValue().toString();
            if (text.length() <= LONGEST_TEXT) {
                put(traits, labels.getOrDefault(e.getKey(), TrendDetails.words(e.getKey())), text);
            }
        }
    }

    private static void put(Map<String, Set<String>> traits, String attribute, @Nullable String value) {
        if (value != null && !value.isBlank()) {
            traits.computeIfAbsent(attribute, k -> new TreeSet<>()).add(value.strip());
        }
    }

    private static String season(int month) {
        return switch (month) {
            case 3, 4, 5 -> "spring";
            case 6, 7, 8 -> "summer";
            case 9, 10, 11 -> "autumn";
            default -> "winter";
        };
    }

    /**
     * What became of jobs for a selection.
     *
     * @param raised positions that have one now
     * @param left those that have none, each with why
     */
    record RaisedJobs(List<String> raised, List<String> left) {}

    /**
     * Raises a job for every device a filter selects, by the procedure that measured what its standing comes from.
     *
     * @throws Refusal if there is none, or too many for one go
     * @throws FieldsException if the reason or the day does not do
     */
    RaisedJobs raise(ConditionFilter filter, LocalDate due, String why, String by) {
        List<Fleet.Device> chosen = fleet.devices().stream()
                .filter(d -> filter.chooses(d, clock.instant()))
                .sorted(Comparator.comparingDouble(Fleet.Device::km).thenComparing(Fleet.Device::position))
                .toList();
        if (chosen.isEmpty()) {
            throw new Refusal("nothing-selected", "No device is selected; choose some on the map.", "filter");
        }
        if (chosen.size() > MOST_JOBS) {
            throw new Refusal(
                    "too-many",
                    "More than " + MOST_JOBS + " are selected; choose fewer, or change their plan.",
                    "filter");
        }
        Map<String, String> procedures = procedures(chosen);
        List<String> raised = new ArrayList<>();
        List<String> left = new ArrayList<>();
        for (Fleet.Device d : chosen) {
            String procedure =
                    d.point() == null ? procedures.get(d.asset()) : d.point().procedure();
            if (procedure == null) {
                left.add(d.position() + ": no procedure is known for it; raise its job by hand");
                continue;
            }
            try {
                decisions.raise(new Decisions.Raised(d.asset(), procedure, "finding", due, why, null), by);
                raised.add(d.position());
            } catch (Refusal e) {
                left.add(d.position() + ": " + e.getMessage());
            }
        }
        return new RaisedJobs(raised, left);
    }

    /** By which procedure devices were tested last, or will be first. */
    private Map<String, String> procedures(List<Fleet.Device> devices) {
        Map<String, String> procedures = new HashMap<>();
        jdbc.query(
                """
        SELECT a.id, coalesce(r.procedure, (SELECT j.procedure FROM job j WHERE j.asset = a.id ORDER BY j.due LIMIT 1))
        FROM asset a LEFT JOIN last_record l ON l.asset = a.id LEFT JOIN run r ON r.id = l.run
        WHERE a.id = ANY (:assets)""",
                new MapSqlParameterSource(
                        "assets", devices.stream().map(Fleet.Device::asset).toArray(String[]::new)),
                rs -> {
                    procedures.put(rs.getString(1), rs.getString(2));
                });
        return procedures;
    }

    /**
     * Sets the risk that advised intervals may bear.
     *
     * @throws Refusal if it is no share that can be borne
     */
    @Transactional
    public double risk(double risk) {
        if (!(risk >= LEAST_RISK && risk <= MOST_RISK)) {
            throw new Refusal("out-of-range", "A risk is 0.1 % to 50 %.", "risk");
        }
        jdbc.update(
                "UPDATE setting SET value = :risk WHERE key = 'advice.risk'",
                new MapSqlParameterSource("risk", String.valueOf(risk)));
        jdbc.update(
                "INSERT INTO condition_due (asset) SELECT asset FROM last_record ON CONFLICT (asset) "
                        + "DO UPDATE SET since "
                        + "= now()",
                new MapSqlParameterSource());
        return risk;
    }
}
