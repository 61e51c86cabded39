package org.juratest.server.testset;

import java.time.Clock;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.register.FieldProblem;
import org.juratest.core.run.Refusal;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.job.Decisions;
import org.juratest.server.job.Jobs;
import org.juratest.server.people.Reach;
import org.juratest.server.procedure.Procedures;
import org.juratest.server.run.RunOpener;
import org.juratest.server.variant.Variants;
import org.juratest.server.web.FieldsException;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;
import tools.jackson.core.type.TypeReference;

/** What is tested in one go at each position. */
@Service
class TestSets {

    private static final int MOST = 20;

    private final JdbcClient jdbc;
    private final Procedures procedures;
    private final Variants variants;
    private final Decisions decisions;
    private final Jobs jobs;
    private final RunOpener opener;
    private final Reach reach;
    private final Clock clock;

    TestSets(
            JdbcClient jdbc,
            Procedures procedures,
            Variants variants,
            Decisions decisions,
            Jobs jobs,
            RunOpener opener,
            Reach reach,
            Clock clock) {
        this.jdbc = jdbc;
        this.procedures = procedures;
        this.variants = variants;
        this.decisions = decisions;
        this.jobs = jobs;
        this.opener = opener;
        this.reach = reach;
        this.clock = clock;
    }

    private record Place(String title, String site, String zone, @Nullable String asset, @Nullable String assetClass) {}

    private record Kept(List<TestSet.TestSetWanted> items, long version) {
        static final Kept NONE = new Kept(List.of(), 0);
    }

    /** What is tested at a position. */
    TestSet view(String position) {
        Place place = place(position);
        Kept kept = kept(position, "");
        List<Procedure> fitting = fitting(place);
        return new TestSet(
                position,
                place.title,
                place.site,
                place.asset,
                kept.items.stream().map(i -> item(i, place)).toList(),
                fitting.stream()
                        .map(p -> new TestSet.TestSetChoice(
                                p.code(),
                                p.title(),
                                variants.of(p.code()).stream()
                                        .map(v -> new TestSet.TestSetVariant(v.code(), v.name()))
                                        .toList()))
                        .toList(),
                place.asset == null
                        ? null
                        : begun(position, place.asset, kept).stream()
                                .map(Jobs.Job::procedure)
                                .findFirst()
                                .orElse(null),
                kept.version);
    }

    private TestSet.TestSetItem item(TestSet.TestSetWanted wanted, Place place) {
        Jobs.Job open = place.asset == null ? null : open(place.asset, wanted.procedure());
        String variant = wanted.variant();
        return new TestSet.TestSetItem(
                wanted.procedure(),
                procedures.newest(wanted.procedure()).procedure().title(),
                variant,
                variant == null ? null : variants.newest(variant).variant().name(),
                open != null,
                open == null ? null : open.run());
    }

    /**
     * Keeps what is tested there.
     *
     * @throws FieldsException naming every item at fault
     * @throws Refusal if somebody else changed it meanwhile
     */
    @Transactional
    public TestSet keep(String position, TestSet.TestSetForm given, String by) {
        Place place = place(position);
        FieldsException.throwIf(problems(given.items(), fitting(place)));
        int changed = jdbc.sql(
                        """
        INSERT INTO test_set (position, items, changed_by)
        SELECT :position, :items::jsonb, :by
          WHERE :seen = 0 OR EXISTS (SELECT 1 FROM test_set WHERE position = :position)
        ON CONFLICT (position) DO UPDATE SET items = EXCLUDED.items, changed_by = EXCLUDED.changed_by,
          changed_at = now(), version = test_set.version + 1 WHERE test_set.version = :seen""")
                .param("position", position)
                .param("items", CoreJson.mapper().writeValueAsString(given.items()))
                .param("by", by)
                .param("seen", given.seen())
                .update();
        if (changed == 0) {
            throw new Refusal(
                    "changed-meanwhile",
                    "What is tested at " + position + " was changed meanwhile. Look at it again; nothing of yours was "
                            + "stored.",
                    "seen");
        }
        return view(position);
    }

    private List<FieldProblem> problems(List<TestSet.TestSetWanted> items, List<Procedure> fitting) {
        List<FieldProblem> problems = new ArrayList<>();
        if (items.size() > MOST) {
            problems.add(new FieldProblem("items", "A set has at most " + MOST + " tests."));
        }
        Set<String> seen = new HashSet<>();
        for (int n = 0; n < items.size(); n++) {
            TestSet.TestSetWanted item = items.get(n);
            String code = String.valueOf(item.procedure());
            if (fitting.stream().noneMatch(p -> p.code().equals(code))) {
                problems.add(new FieldProblem(
                        "items." + n + ".procedure",
                        "Choose a procedure for what stands there, not \"" + code + "\"."));
            } else if (!seen.add(code)) {
                problems.add(new FieldProblem("items." + n + ".procedure", code + " is in the set already."));
            } else if (item.variant() != null
                    && variants.of(code).stream().noneMatch(v -> v.code().equals(item.variant()))) {
                problems.add(new FieldProblem(
                        "items." + n + ".variant", code + " has no variant \"" + item.variant() + "\"."));
            }
        }
        return problems;
    }

    /**
     * Starts it: what is not open of it is raised, all of it is today's of whoever starts it, and the first of its
     * order has its run. What is open already stays what it is, with its plan; what is another's stays on their day,
     * unless who starts it decides for others. While something of it that was started is not done, it is gone on with
     * that, in its order.
     *
     * @throws Refusal if nothing is kept for the position
     * @throws FieldsException if nothing stands there, or what stands there is of another kind by now
     */
    @Transactional
    public TestSet.TestSetStarted start(String position, String by) {
        Place place = place(position);
        Kept kept = kept(position, " FOR UPDATE");
        if (kept.items.isEmpty()) {
            throw new Refusal("no-set", "Nothing is said to be tested at " + position + " yet.", "items");
        }
        String asset = place.asset;
        if (asset == null) {
            throw new FieldsException(List.of(new FieldProblem("position", "Nothing stands at " + position + ".")));
        }
        FieldsException.throwIf(problems(kept.items, fitting(place)));
        List<Jobs.Job> all = begun(position, asset, kept);
        if (all.isEmpty()) {
            all = raised(position, asset, kept, LocalDate.ofInstant(clock.instant(), ZoneId.of(place.zone)), by);
        }
        Jobs.Job first = all.get(0);
        UUID run = Objects.requireNonNullElseGet(first.run(), () -> opener.open(first.id(), by, null, Map.of()));
        return new TestSet.TestSetStarted(run, all.stream().map(Jobs.Job::id).toList());
    }

    /** What was started of it and is not done, in its order. */
    private List<Jobs.Job> begun(String position, String asset, Kept kept) {
        List<Jobs.Job> begun = jdbc
                .sql("SELECT id FROM job WHERE asset = :asset AND of_set = :position AND status IN ('open', "
                        + "'running')")
                .param("asset", asset)
                .param("position", position)
                .query(Long.class)
                .list()
                .stream()
                .map(jobs::byId)
                .toList();
        return kept.items.stream()
                .flatMap(i -> begun.stream().filter(j -> j.procedure().equals(i.procedure())))
                .toList();
    }

    private List<Jobs.Job> raised(String position, String asset, Kept kept, LocalDate today, String by) {
        List<Jobs.Job> all = new ArrayList<>();
        for (TestSet.TestSetWanted item : kept.items) {
            Jobs.Job job = open(asset, item.procedure());
            if (job == null) {
                job = decisions.raise(
                        new Decisions.Raised(
                                asset, item.procedure(), "follow-up", today, "Set of tests of " + position, null),
                        by);
            }
            jdbc.sql("UPDATE job SET variant = :variant, of_set = :position WHERE id = :id")
                    .param("variant", item.variant())
                    .param("position", position)
                    .param("id", job.id())
                    .update();
            all.add(job);
        }
        boolean overOthers = reach.isOverOthers(by);
        List<Decisions.JobMove> moves = all.stream()
                .filter(j -> j.run() == null && !(today.equals(j.plannedFor()) && by.equals(j.person())))
                .filter(j -> j.person() == null || j.person().equals(by) || overOthers)
                .map(j -> new Decisions.JobMove(j.id(), new Decisions.DayGiven(today, by, j.plannedFor(), j.person())))
                .toList();
        if (!moves.isEmpty()) {
            decisions.moveAll(moves, by);
        }
        return all;
    }

    private Jobs.@Nullable Job open(String asset, String procedure) {
        return jdbc.sql("SELECT id FROM job WHERE asset = :asset AND procedure = :procedure AND status IN ('open', "
                        + "'running') ORDER BY status DESC, due, id LIMIT 1")
                .param("asset", asset)
                .param("procedure", procedure)
                .query(Long.class)
                .optional()
                .map(jobs::byId)
                .orElse(null);
    }

    private List<Procedure> fitting(Place place) {
        return place.assetClass == null
                ? List.of()
                : procedures.all().stream()
                        .map(Procedures.Summary::code)
                        .distinct()
                        .map(code -> procedures.newest(code).procedure())
                        .filter(p -> p.appliesTo().contains(place.assetClass))
                        .toList();
    }

    private Kept kept(String position, String lock) {
        Optional<Kept> kept = jdbc.sql("SELECT items::text, version FROM test_set WHERE position = :position" + lock)
                .param("position", position)
                .query((rs, i) -> new Kept(
                        CoreJson.mapper()
                                .readValue(rs.getString(1), new TypeReference<List<TestSet.TestSetWanted>>() {}),
                        rs.getLong(2)))
                .optional();
        return kept.orElse(Kept.NONE);
    }

    private Place place(String position) {
        return jdbc.sql(
                        """
        SELECT p.title, s.code, s.zone, a.id, a.class FROM position p JOIN site s ON s.code = p.site
          LEFT JOIN installation i ON i.position = p.code AND upper_inf(i.during)
          LEFT JOIN asset a ON a.id = i.asset WHERE p.code = :position""")
                .param("position", position)
                .query((rs, i) ->
                        new Place(rs.getString(1), rs.getString(2), rs.getString(3), rs.getString(4), rs.getString(5)))
                .optional()
                .orElseThrow(() -> new NotFoundException("position", position));
    }
}
