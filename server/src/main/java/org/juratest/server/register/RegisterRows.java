package org.juratest.server.register;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.juratest.core.register.FieldProblem;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;

/** Looks at rows of the register for those that change them. */
@Repository
class RegisterRows {

    private final JdbcClient jdbc;

    RegisterRows(JdbcClient jdbc) {
        this.jdbc = jdbc;
    }

    /** A device at a position, now. */
    record Place(long id, String asset, String position, Instant since) {}

    static String text(@Nullable String text) {
        return text == null ? "" : text.strip();
    }

    /**
     * The columns of one row as texts by their labels; blank for null.
     *
     * @param sql with {@code :key} in it
     * @throws NotFoundException if there is none
     */
    Map<String, String> one(String sql, String key, String kind) {
        return jdbc.sql(sql)
                .param("key", key)
                .query((rs, i) -> {
                    Map<String, String> values = new TreeMap<>();
                    for (int c = 1; c <= rs.getMetaData().getColumnCount(); c++) {
                        values.put(rs.getMetaData().getColumnLabel(c), text(rs.getString(c)));
                    }
                    return values;
                })
                .optional()
                .orElseThrow(() -> new NotFoundException(kind, key));
    }

    boolean exists(String table, String key, String value) {
        return jdbc.sql("SELECT EXISTS (SELECT 1 FROM " + table + " WHERE " + key + " = :value)")
                .param("value", value)
                .query(Boolean.class)
                .single();
    }

    /** A code in an address means a position, a measuring installation or an asset: one of them. */
    void taken(String field, String code, List<FieldProblem> problems) {
        String what = exists("position", "code", code)
                ? "a position"
                : exists("asset", "id", code)
                        ? "an asset"
                        : exists("measuring_installation", "code", code) ? "a measuring installation" : null;
        if (what != null) {
            problems.add(new FieldProblem(field, "There is " + what + " " + code + " already; take another code."));
        }
    }

    /** What stands at a position, or where an asset stands; locked. At most one. */
    List<Place> standing(String column, String value) {
        return jdbc.sql("SELECT id, asset, position, lower(during) FROM installation WHERE " + column
                        + " = :value AND upper_inf(during) FOR UPDATE")
                .param("value", value)
                .query((rs, i) -> new Place(
                        rs.getLong(1),
                        rs.getString(2),
                        rs.getString(3),
                        rs.getTimestamp(4).toInstant()))
                .list();
    }
}
