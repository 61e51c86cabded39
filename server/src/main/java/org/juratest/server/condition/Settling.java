package org.juratest.server.condition;

import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import org.juratest.core.condition.PointCondition;
import org.juratest.server.condition.States.AssetRow;
import org.juratest.server.condition.States.Key;
import org.juratest.server.condition.States.Last;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.core.simple.JdbcClient;

/** Makes the states of devices anew, within the transaction at hand. */
final class Settling {

    private static final int READ_AT_ONCE = 25;

    private final JdbcClient jdbc;
    private final ConditionTables tables;

    Settling(JdbcTemplate template) {
        this.jdbc = JdbcClient.create(template);
        this.tables = new ConditionTables(template);
    }

    /** Of some devices; others whose standing among their peers they change are put into the queue. */
    void settle(Collection<String> assets) {
        States.Worked worked = worked(List.copyOf(assets));
        Set<String> others = new TreeSet<>();
        tables.models(assets).forEach(m -> others.addAll(tables.markPeers(m)));
        tables.writeStanding(assets, standings(assets, worked));
        // Who came to lie apart, or does no more, by what another device measured.
        others.removeAll(Set.copyOf(assets));
        if (!others.isEmpty()) {
            jdbc.sql("INSERT INTO condition_due (asset) SELECT unnest(CAST(:assets AS text[])) ON CONFLICT DO NOTHING")
                    .param("assets", others.toArray(String[]::new))
                    .update();
        }
    }

    /** A few at a time: a device may have thousands of readings, and what is kept of them is small. */
    private States.Worked worked(List<String> assets) {
        double risk = tables.risk();
        States.Worked all = new States.Worked(new TreeMap<>(), new TreeMap<>());
        for (int from = 0; from < assets.size(); from += READ_AT_ONCE) {
            List<String> some = assets.subList(from, Math.min(assets.size(), from + READ_AT_ONCE));
            States.Worked worked = States.worked(tables.seen(some), risk);
            tables.write(some, worked.rows().values());
            all.rows().putAll(worked.rows());
            all.conditions().putAll(worked.conditions());
        }
        return all;
    }

    private List<AssetRow> standings(Collection<String> assets, States.Worked worked) {
        return standings(tables.last(assets), worked, tables.outliers(assets));
    }

    static List<AssetRow> standings(Map<String, Last> last, States.Worked worked, Set<Key> outliers) {
        Map<String, Map<Key, PointCondition>> byAsset = new TreeMap<>();
        worked.conditions().forEach((key, condition) -> byAsset.computeIfAbsent(key.asset(), a -> new TreeMap<>())
                .put(key, condition));
        Map<String, Integer> advice = new TreeMap<>();
        worked.rows().forEach((key, row) -> {
            if (row.advice() != null) {
                advice.merge(key.asset(), row.advice(), Math::min);
            }
        });
        List<AssetRow> rows = new ArrayList<>();
        last.forEach((asset, record) -> rows.add(
                States.assessed(asset, record, byAsset.getOrDefault(asset, Map.of()), outliers, advice.get(asset))));
        return rows;
    }
}
