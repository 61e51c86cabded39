package org.juratest.server.standard;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.juratest.core.standard.StandardTable;

/**
 * A table of a standard; see {@link StandardTable}.
 *
 * @param revision 0 as it ships, then 1, 2, ...
 * @param retired whether runs that are opened from now on are no longer judged by it
 * @param keptBy who made the revision; absent as it ships
 * @param revisions all there are, newest first
 */
record StandardTableView(
        String group,
        String id,
        String title,
        String edition,
        Map<String, String> when,
        List<String> columns,
        List<List<String>> rows,
        int revision,
        boolean retired,
        @Nullable String keptBy,
        @Nullable Instant keptAt,
        List<TableRevision> revisions) {

    /** One revision of a table. */
    record TableRevision(int revision, String edition, boolean retired, String by, Instant at) {}

    /**
     * What a table is to be.
     *
     * @param seen revision it was made from, 0 for one that ships and for a new one
     */
    record StandardTableForm(
            String group,
            String title,
            String edition,
            Map<String, String> when,
            List<List<String>> rows,
            boolean retired,
            int seen) {}
}
