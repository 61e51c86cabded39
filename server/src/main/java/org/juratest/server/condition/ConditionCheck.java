package org.juratest.server.condition;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import org.juratest.server.condition.States.AssetRow;
import org.juratest.server.condition.States.Key;
import org.juratest.server.condition.States.SeriesRow;
import org.juratest.server.run.Verifier.Finding;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.core.simple.JdbcClient;

/** Holds the tables of conditions against what they would be if they were made anew; changes nothing unless told to. */
public final class ConditionCheck {

    private static final int PORTION = 500;
    private static final int SHOWN = 100;

    private final JdbcTemplate template;
    private final JdbcClient jdbc;
    private final ConditionTables tables;

    public ConditionCheck(JdbcTemplate template) {
        this.template = template;
        this.jdbc = JdbcClient.create(template);
        this.tables = new ConditionTables(template);
    }

    /** Makes every state anew, those that wait in the queue as well, within the transaction at hand. */
    public void rebuild() {
        // A server that works meanwhile waits with its queue.
        jdbc.sql("SELECT pg_advisory_xact_lock(:lock)")
                .param("lock", Upkeep.LOCK)
                .query()
                .singleRow();
        Settling settling = new Settling(template);
        for (List<String> portion = tables.portion("", PORTION);
                !portion.isEmpty();
                portion = tables.portion(portion.get(portion.size() - 1), PORTION)) {
            settling.settle(portion);
        }
        // Peers that came to lie apart, or do no more, by devices that were made after them.
        jdbc.sql("DELETE FROM condition_due WHERE asset NOT IN (SELECT asset FROM last_record)")
                .update();
        for (List<String> due = due(); !due.isEmpty(); due = due()) {
            jdbc.sql("DELETE FROM condition_due WHERE asset = ANY (:assets)")
                    .param("assets", due.toArray(String[]::new))
                    .update();
            settling.settle(due);
        }
    }

    private List<String> due() {
        return jdbc.sql("SELECT asset FROM condition_due ORDER BY asset LIMIT :most")
                .param("most", PORTION)
                .query(String.class)
                .list();
    }

    /** What differs, in words; devices that wait in the queue are not held against anything. */
    public List<Finding> findings() {
        List<Finding> findings = new ArrayList<>();
        for (List<String> portion = tables.portion("", PORTION);
                !portion.isEmpty() && findings.size() < SHOWN;
                portion = tables.portion(portion.get(portion.size() - 1), PORTION)) {
            Set<String> settled = new TreeSet<>(portion);
            jdbc.sql("SELECT asset FROM condition_due WHERE asset = ANY (:assets)")
                    .param("assets", portion.toArray(String[]::new))
                    .query(String.class)
                    .list()
                    .forEach(settled::remove);
            compare(settled, findings);
        }
        tables.wrongPeers(SHOWN).forEach(words -> findings.add(new Finding("peers", words)));
        return findings;
    }

    private void compare(Set<String> assets, List<Finding> findings) {
        States.Worked worked = States.worked(tables.seen(assets), tables.risk());
        Map<Key, SeriesRow> stored = tables.storedSeries(assets);
        worked.rows().forEach((key, row) -> {
            if (!row.equals(stored.get(key))) {
                findings.add(new Finding(
                        "condition of " + key.asset(),
                        key.series() + " " + key.lane() + " is " + stored.get(key) + " but the records give " + row));
            }
        });
        stored.keySet().stream()
                .filter(k -> !worked.rows().containsKey(k))
                .forEach(k -> findings.add(
                        new Finding("condition of " + k.asset(), k.series() + " " + k.lane() + " has no record")));
        Map<String, AssetRow> there = tables.storedStandings(assets);
        List<AssetRow> ours = Settling.standings(tables.last(assets), worked, tables.outliers(assets));
        Set<String> left = new TreeSet<>(there.keySet());
        ours.forEach(row -> {
            left.remove(row.asset());
            if (!row.equals(there.get(row.asset()))) {
                findings.add(new Finding(
                        "condition of " + row.asset(),
                        "it stands as " + there.get(row.asset()) + " but the records give " + row));
            }
        });
        left.forEach(asset -> findings.add(new Finding("condition of " + asset, "it has no record")));
    }
}
