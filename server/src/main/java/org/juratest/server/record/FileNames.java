package org.juratest.server.record;

import java.time.LocalDate;
import java.time.ZoneId;
import java.util.Map;
import java.util.TreeMap;
import org.juratest.core.record.FileNamePattern;
import org.juratest.formats.json.CoreJson;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;

/** How files of records are named in this installation. */
@Repository
class FileNames {

    private static final String KEY = "record.file-name";

    private final JdbcClient jdbc;

    FileNames(JdbcClient jdbc) {
        this.jdbc = jdbc;
    }

    FileNamePattern pattern() {
        return jdbc.sql("SELECT value FROM setting WHERE key = :key")
                .param("key", KEY)
                .query(String.class)
                .optional()
                .map(FileNamePattern::new)
                .orElse(FileNamePattern.USUAL);
    }

    void put(FileNamePattern pattern) {
        jdbc.sql("INSERT INTO setting VALUES (:key, :value) ON CONFLICT (key) DO UPDATE SET value = excluded.value")
                .param("key", KEY)
                .param("value", pattern.text())
                .update();
    }

    /** The name of a record's file, without its ending. */
    static String name(FileNamePattern pattern, RecordView record) {
        String[] parts = record.number().split("/");
        Map<String, String> facts = new TreeMap<>();
        facts.put("number", record.number());
        facts.put("position", record.asset().position());
        facts.put("year", parts[1]);
        facts.put("n", parts[2]);
        facts.put(
                "date",
                LocalDate.ofInstant(record.finishedAt(), ZoneId.of(record.zone()))
                        .toString());
        facts.put("site", record.asset().site());
        facts.put("maker", record.asset().maker());
        facts.put("model", record.asset().model());
        facts.put("serial", record.asset().serial());
        facts.put("procedure", record.procedure().code());
        facts.put("verdict", record.complete() ? CoreJson.constantName(record.verdict()) : "incomplete");
        facts.put("person", record.by());
        facts.put("job", record.job());
        return pattern.name(facts);
    }
}
