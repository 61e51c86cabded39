package org.juratest.server.gear;

import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.juratest.core.correction.RfPath;
import org.juratest.core.run.GearFacts;
import org.juratest.core.uncertainty.AccuracySpec;
import org.juratest.formats.json.CoreJson;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;
import tools.jackson.core.type.TypeReference;

/** Test gear in the database. */
@Repository
public class GearStore {

    private static final String COLUMNS =
            "id, name, role, maker, model, serial, host, port, calibrated_on, calibrated_to, certificate, "
                    + "accuracy::text, path::text, path_by, path_at, range::text, driver";

    private final JdbcClient jdbc;

    public GearStore(JdbcClient jdbc) {
        this.jdbc = jdbc;
    }

    /**
     * One piece of gear.
     *
     * @param host absent for stand-alone gear, whose values are entered by hand
     * @param path what a lead or attenuator takes off a signal; absent for other gear
     * @param pathBy who characterised it last here; absent where it is as delivered
     * @param driver id of its driver; absent for gear that is read by a person
     * @param range greatest value of each set-point it may be used to, in the base unit; absent where none is stated
     */
    public record Gear(
            String id,
            String name,
            String role,
            String maker,
            String model,
            String serial,
            @Nullable String host,
            @Nullable Integer port,
            @Nullable LocalDate calibratedOn,
            @Nullable LocalDate calibratedTo,
            @Nullable String certificate,
            Map<String, AccuracySpec> accuracy,
            @Nullable RfPath path,
            @Nullable String pathBy,
            @Nullable Instant pathAt,
            @Nullable Map<String, Double> range,
            @Nullable String driver) {

        /** What a run keeps of it. */
        public GearFacts facts(String need) {
            return new GearFacts(
                    id,
                    need,
                    role,
                    name,
                    maker,
                    model,
                    serial,
                    calibratedOn,
                    calibratedTo,
                    certificate,
                    accuracy,
                    path,
                    range);
        }
    }

    public List<Gear> all() {
        return jdbc.sql("SELECT " + COLUMNS + " FROM gear ORDER BY role, id")
                .query(GearStore::gear)
                .list();
    }

    public Optional<Gear> byId(String id) {
        return jdbc.sql("SELECT " + COLUMNS + " FROM gear WHERE id = :id")
                .param("id", id)
                .query(GearStore::gear)
                .optional();
    }

    /** The gear of a role whose calibration holds longest; empty if there is none. */
    public Optional<Gear> bestOfRole(String role) {
        return jdbc.sql("SELECT " + COLUMNS
                        + " FROM gear WHERE role = :role ORDER BY calibrated_to DESC NULLS LAST, id LIMIT 1")
                .param("role", role)
                .query(GearStore::gear)
                .optional();
    }

    private static Gear gear(java.sql.ResultSet rs, int i) throws java.sql.SQLException {
        return new Gear(
                rs.getString(1),
                rs.getString(2),
                rs.getString(3),
                rs.getString(4),
                rs.getString(5),
                rs.getString(6),
                rs.getString(7),
                rs.getObject(8, Integer.class),
                rs.getObject(9, LocalDate.class),
                rs.getObject(10, LocalDate.class),
                rs.getString(11),
                CoreJson.mapper().readValue(rs.getString(12), new TypeReference<Map<String, AccuracySpec>>() {}),
                rs.getString(13) == null ? null : CoreJson.mapper().readValue(rs.getString(13), RfPath.class),
                rs.getString(14),
                rs.getTimestamp(15) == null ? null : rs.getTimestamp(15).toInstant(),
                rs.getString(16) == null
                        ? null
                        : CoreJson.mapper().readValue(rs.getString(16), new TypeReference<Map<String, Double>>() {}),
                rs.getString(17));
    }

    /** Keeps what a lead takes off, as it was characterised. */
    public void characterised(String id, RfPath path, String person) {
        jdbc.sql("UPDATE gear SET path = :path::jsonb, path_by = :by, path_at = now() WHERE id = :id")
                .param("path", CoreJson.mapper().writeValueAsString(path))
                .param("by", person)
                .param("id", id)
                .update();
    }
}
