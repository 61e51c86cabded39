package org.juratest.server.run;

import java.util.List;
import java.util.Locale;
import org.juratest.core.condition.Standing;
import org.juratest.core.limit.Verdict;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.run.Verifier.Finding;
import org.springframework.jdbc.core.simple.JdbcClient;

/** What {@code verify} asks of the database as a whole, each in a statement that the database works off by itself. */
final class WholeChecks {

    /** Of each kind of break as many are told; more of the same say nothing new. */
    private static final int SHOWN = 100;
    /** Blobs that events or files name. Those of unknown events as well: whatever has a "blob" in its data. */
    private static final String UNNAMED =
            """
      FROM blob b WHERE b.sha256 NOT IN (SELECT sha256 FROM attachment) AND b.sha256 NOT IN (SELECT thumbnail
        FROM attachment WHERE thumbnail IS NOT NULL)
        AND b.sha256 NOT IN (SELECT v.blob FROM (SELECT convert_from(body, 'UTF8')::jsonb #>> '{data,blob}' AS blob
          FROM event WHERE position('"blob"'::bytea IN body) > 0) v WHERE v.blob IS NOT NULL)""";

    private final JdbcClient jdbc;

    WholeChecks(JdbcClient jdbc) {
        this.jdbc = jdbc;
    }

    void all(List<Finding> findings) {
        find(
                findings,
                "SELECT 'reading', 'of ' || asset || ' at ' || at || ' belongs to no run' FROM reading r WHERE "
                        + "NOT EXISTS (SELECT 1 FROM run WHERE run.id = r.run)");
        find(
                findings,
                "SELECT 'test point ' || point, 'belongs to no run: ' || run FROM run_point p WHERE "
                        + "NOT EXISTS (SELECT 1 FROM run WHERE run.id = p.run)");
        lastValues(findings);
        lastRecords(findings);
        ledger(findings);
        find(
                findings,
                "SELECT 'blob ' || left(sha256, 12), 'does not hash to its name' FROM blob WHERE "
                        + "encode(sha256(bytes), 'hex') <> sha256");
        find(
                findings,
                """
        SELECT 'file ' || f.name || ' of ' || f.key, 'its bytes are gone' FROM attachment f
        WHERE NOT EXISTS (SELECT 1 FROM blob b WHERE b.sha256 = f.sha256) OR f.thumbnail IS NOT NULL
          AND NOT EXISTS (SELECT 1 FROM blob b WHERE b.sha256 = f.thumbnail)""");
        find(
                findings,
                "SELECT 'procedure ' || code || ' ' || version, 'does not hash to what it was frozen with' FROM "
                        + "procedure_version WHERE encode(sha256(body), 'hex') <> hash");
        find(
                findings,
                "SELECT 'variant ' || variant || ' ' || revision, 'does not hash to what it was kept with' FROM "
                        + "variant_revision WHERE encode(sha256(body), 'hex') <> hash");
        find(
                findings,
                """
        SELECT 'person ' || p.id, 'is ' || p.role || CASE WHEN p.active THEN ''
          ELSE ', ended' END || ', but the changes of people say ' || coalesce(c.role || CASE WHEN c.active THEN ''
          ELSE ', ended' END, 'nothing')
        FROM person p LEFT JOIN LATERAL (SELECT role, active FROM people_change WHERE kind = 'person' AND key = p.id
          AND role IS NOT NULL ORDER BY id DESC LIMIT 1) c ON true
        WHERE c.role IS DISTINCT FROM p.role OR c.active IS DISTINCT FROM p.active""");
    }

    private void find(List<Finding> findings, String sql) {
        findings.addAll(jdbc.sql(sql + " LIMIT " + SHOWN)
                .query((rs, i) -> new Finding(rs.getString(1), rs.getString(2)))
                .list());
    }

    private void lastValues(List<Finding> findings) {
        find(
                findings,
                """
        WITH ours AS (SELECT DISTINCT ON (r.asset, p.series, p.lane) r.asset, p.series, p.lane, p.counting AS value,
          p.unit, r.finished_at AS at, r.id AS run
          FROM run_point p JOIN run r ON r.id = p.run WHERE r.status = 'finished' AND p.series IS NOT NULL
            AND p.counting IS NOT NULL AND p.row_key IS NULL
          ORDER BY r.asset, p.series, p.lane, r.finished_at DESC, r.id DESC)
        SELECT 'last value of ' || coalesce(o.asset, t.asset),
          coalesce(o.series || ' ' || o.lane || ' should be ' || o.value, t.series || ' ' || t.lane || ' has no record')
        FROM ours o FULL JOIN last_value t ON t.asset = o.asset AND t.series = o.series AND t.lane = o.lane
        WHERE (o.value, o.unit, o.at, o.run) IS DISTINCT FROM (t.value, t.unit, t.at, t.run) ORDER BY 1, 2""");
    }

    private void lastRecords(List<Finding> findings) {
        StringBuilder standings = new StringBuilder("CASE");
        for (Verdict verdict : Verdict.values()) {
            for (boolean complete : new boolean[] {true, false}) {
                standings.append(String.format(
                        Locale.ROOT,
                        " WHEN r.verdict = '%s' AND r.complete = %s THEN '%s'",
                        CoreJson.constantName(verdict),
                        complete,
                        RunRows.word(Standing.of(verdict, complete))));
            }
        }
        find(
                findings,
                """
        WITH ours AS (SELECT DISTINCT ON (r.asset) r.asset, r.id AS run, r.finished_at AS at, %s END AS standing
          FROM run r WHERE r.status = 'finished' ORDER BY r.asset, r.finished_at DESC, r.id DESC)
        SELECT 'last record of ' || coalesce(o.asset, t.asset),
          coalesce('should be that of ' || o.at || ' and stand ' || o.standing, 'has no run')
        FROM ours o FULL JOIN last_record t ON t.asset = o.asset WHERE (o.run, o.at, o.standing) IS DISTINCT
          FROM (t.run, t.at, t.standing) ORDER BY 1"""
                        .formatted(standings));
    }

    /**
     * Nothing is gone as a whole: the ledger is one chain without a gap, every run and record stands in it, and what
     * stands in it is there.
     */
    private void ledger(List<Finding> findings) {
        find(
                findings,
                """
        SELECT 'ledger, line ' || n, CASE WHEN n <> expected THEN 'follows line ' || expected - 1 || ': lines are gone'
          WHEN prev IS DISTINCT FROM before THEN 'does not name the line before'
            ELSE 'does not hash to what it says' END
        FROM (SELECT *, row_number() OVER (ORDER BY n) - 1 AS expected, lag(hash) OVER (ORDER BY n) AS before
          FROM ledger) l
        WHERE n <> expected OR prev IS DISTINCT FROM before
          OR hash <> encode(sha256(convert_to(n || ' ' || run || ' ' || kind || ' ' || event || ' ' || coalesce(prev,
            ''), 'UTF8')), 'hex') ORDER BY n""");
        find(
                findings,
                """
        SELECT 'run ' || l.run, CASE WHEN r.id IS NULL
          THEN 'was ' || l.kind || ' by the ledger, line ' || l.n || ', and is gone'
          ELSE 'is not as it was ' || l.kind || ' by the ledger, line ' || l.n END
        FROM ledger l LEFT JOIN run r ON r.id = l.run LEFT JOIN event e ON e.run = l.run AND e.type = l.kind
          AND e.hash = l.event WHERE e.run IS NULL ORDER BY l.n""");
        find(
                findings,
                """
        SELECT 'run ' || e.run, 'was ' || e.type || ', but the ledger does not know it' FROM event e
        WHERE e.type IN ('opened', 'finished') AND NOT EXISTS (SELECT 1 FROM ledger l WHERE l.run = e.run
          AND l.kind = e.type AND l.event = e.hash) ORDER BY e.run""");
        find(
                findings,
                """
        SELECT 'records of ' || n.position || ' in ' || n.year,
          n.last || ' numbers were given, ' || count(r.id) || ' records are there'
        FROM record_number n LEFT JOIN run r ON r.position = n.position
          AND r.record LIKE n.position || '/' || n.year || '/%' GROUP BY n.position, n.year, n.last
          HAVING count(r.id) <> n.last ORDER BY 1""");
    }

    long unnamedBlobs() {
        return jdbc.sql("SELECT count(*) " + UNNAMED).query(Long.class).single();
    }

    long removeUnnamedBlobs() {
        // A photo is there before the event that names it.
        return jdbc.sql("DELETE FROM blob WHERE sha256 IN (SELECT b.sha256 " + UNNAMED
                        + " AND b.stored_at < now() - interval '1 day')")
                .update();
    }
}
