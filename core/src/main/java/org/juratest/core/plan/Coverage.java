package org.juratest.core.plan;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * What one procedure covers of another on one asset: an annual test that contains the monthly one is that month's test
 * as well.
 *
 * @param contains procedures by the code of the one that contains them; what those contain is contained too
 */
public record Coverage(Map<String, Set<String>> contains) {

    /** Something due, and whose procedure it is. */
    public record Planned(String procedure, Occurrence occurrence) {}

    public Coverage {
        contains = Map.copyOf(contains);
        for (String code : contains.keySet()) {
            if (within(code, contains).contains(code)) {
                throw new IllegalArgumentException("procedure " + code + " would contain itself");
            }
        }
    }

    /** Everything that a procedure contains. */
    public Set<String> within(String procedure) {
        return within(procedure, contains);
    }

    private static Set<String> within(String procedure, Map<String, Set<String>> contains) {
        Set<String> all = new HashSet<>();
        List<String> open = new ArrayList<>(contains.getOrDefault(procedure, Set.of()));
        while (!open.isEmpty()) {
            String next = open.remove(open.size() - 1);
            if (all.add(next)) {
                open.addAll(contains.getOrDefault(next, Set.of()));
            }
        }
        return all;
    }

    /**
     * What has to be done of what is planned: a shorter procedure stays out where a longer one is due on a day that is
     * in the shorter one's window.
     *
     * @param planned of one asset
     */
    public List<Planned> todo(List<Planned> planned) {
        return planned.stream()
                .filter(p -> planned.stream()
                        .noneMatch(q ->
                                within(q.procedure).contains(p.procedure) && p.occurrence.holds(q.occurrence.due())))
                .toList();
    }

    /** Days on which a procedure was done, by itself or within another, ascending. */
    public List<LocalDate> done(String procedure, Map<String, List<LocalDate>> days) {
        return days.entrySet().stream()
                .filter(e -> e.getKey().equals(procedure) || within(e.getKey()).contains(procedure))
                .flatMap(e -> e.getValue().stream())
                .distinct()
                .sorted()
                .toList();
    }
}
