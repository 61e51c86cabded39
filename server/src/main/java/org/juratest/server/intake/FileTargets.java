package org.juratest.server.intake;

import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import org.jspecify.annotations.Nullable;
import org.juratest.core.method.FileMethod;
import org.juratest.core.method.Filed;
import org.juratest.core.method.Methods;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.procedure.Step;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.RunState;
import org.juratest.server.procedure.Procedures;
import org.juratest.server.run.FileRuns;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Component;

/** Finds where files belong: the asset they name, and the step and lane of a procedure that takes them. */
@Component
class FileTargets {

    private final JdbcClient jdbc;
    private final Procedures procedures;
    private final FileRuns runs;
    /** Published versions never change, so that they may be kept by their hash. */
    private final Map<String, Procedures.Version> known = new ConcurrentHashMap<>();

    FileTargets(JdbcClient jdbc, Procedures procedures, FileRuns runs) {
        this.jdbc = jdbc;
        this.procedures = procedures;
        this.runs = runs;
    }

    /** Where a file goes, or why it goes nowhere and what to do. */
    record Target(@Nullable String asset, @Nullable String step, @Nullable String lane, @Nullable String why) {}

    /** Assets in service that are called by one of some names: by id, position, or a word of their plates. */
    List<String> named(Collection<String> names) {
        Set<String> found = new LinkedHashSet<>();
        for (String name : names) {
            found.addAll(jdbc.sql(
                            """
          SELECT a.id FROM asset a JOIN installation i ON i.asset = a.id AND i.during @> now()
            WHERE upper(a.id) = upper(:name)
          UNION SELECT i.asset FROM installation i WHERE i.position = upper(:name) AND i.during @> now()
          UNION SELECT a.id FROM asset a JOIN installation i ON i.asset = a.id AND i.during @> now()
            WHERE jsonb_path_query_array(a.nameplate -> 'texts', '$.*') @> to_jsonb(CAST(:name AS text))""")
                    .param("name", name)
                    .query(String.class)
                    .list());
        }
        return List.copyOf(found);
    }

    /** The procedure of an asset's class that is done by files alone; empty if there is none. */
    Optional<Procedures.Version> byFiles(String asset) {
        String assetClass = jdbc.sql("SELECT class FROM asset WHERE id = :asset")
                .param("asset", asset)
                .query(String.class)
                .single();
        Map<String, Procedures.Summary> newest = new HashMap<>();
        procedures.all().forEach(s -> newest.putIfAbsent(s.code(), s));
        return newest.values().stream()
                .sorted(java.util.Comparator.comparing(Procedures.Summary::code))
                .map(s -> known.computeIfAbsent(s.hash(), h -> procedures.version(s.code(), s.version())))
                .filter(v -> v.procedure().appliesTo().contains(assetClass) && isByFiles(v.procedure()))
                .findFirst();
    }

    private static boolean isByFiles(Procedure procedure) {
        List<Step> measured =
                procedure.steps().stream().filter(s -> s.kind().measured()).toList();
        return !measured.isEmpty() && measured.stream().allMatch(s -> s.gear() == null && method(s) != null);
    }

    private static @Nullable FileMethod method(Step step) {
        return Methods.byName(String.valueOf(step.method()))
                .filter(FileMethod.class::isInstance)
                .map(FileMethod.class::cast)
                .orElse(null);
    }

    /**
     * Where a file goes.
     *
     * @param asset the one a person chose, or where the file was dropped; absent: by what the file names
     * @param chosen whether a person chose it, who knows better than the file
     * @param job whose procedure is to take it; absent: the procedure by files
     */
    Target of(Filed file, @Nullable String asset, boolean chosen, @Nullable Long job) {
        String of = asset;
        List<String> named = chosen ? List.of() : named(file.names());
        if (of != null && !named.isEmpty() && !named.contains(of)) {
            return new Target(
                    null,
                    null,
                    null,
                    "It names " + String.join(" or ", named) + ", not " + of + ". Choose what it is of.");
        }
        if (of == null) {
            if (named.size() != 1) {
                return new Target(
                        null,
                        null,
                        null,
                        named.isEmpty()
                                ? "Nothing in service is called " + words(file.names())
                                        + ". Choose what it is of, or write that name on its plate."
                                : "It may be of " + String.join(" or ", named) + ". Choose which.");
            }
            of = named.get(0);
        }
        RunState state;
        try {
            state = state(of, job);
        } catch (Refusal e) {
            return new Target(of, null, null, e.getMessage());
        }
        if (state == null) {
            return new Target(of, null, null, "No procedure for its class takes files. Publish one, or leave it out.");
        }
        for (Step step : state.procedure().steps()) {
            FileMethod method = method(step);
            if (method != null && state.scope().step(step.id())) {
                for (String lane : state.procedure().lanesOf(step, state.scope())) {
                    if (method.takes(state, step.at(lane), lane, file)) {
                        return new Target(of, step.id(), lane, null);
                    }
                }
            }
        }
        return new Target(
                of,
                null,
                null,
                "No step of \"" + state.procedure().title() + "\" is for this: " + facts(file)
                        + ". Choose step and lane, or leave it out.");
    }

    /** The state a file of an asset would go into; null if nothing takes files of it. */
    @Nullable
    RunState state(String asset, @Nullable Long job) {
        if (job != null) {
            return runs.ofJob(job);
        }
        return byFiles(asset).map(v -> runs.begun(asset, v)).orElse(null);
    }

    private static String words(Set<String> names) {
        return names.isEmpty()
                ? "as it is, for it names nothing"
                : String.join(
                        ", ", names.stream().limit(3).map(n -> "\"" + n + "\"").toList());
    }

    static String facts(Filed file) {
        return String.join(
                ", ",
                file.facts().entrySet().stream()
                        .filter(e -> !e.getValue().isBlank())
                        .map(e -> e.getKey() + " " + e.getValue())
                        .toList());
    }
}
