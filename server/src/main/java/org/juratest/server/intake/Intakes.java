package org.juratest.server.intake;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.UUID;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.juratest.core.bench.FileAttempts;
import org.juratest.core.method.Filed;
import org.juratest.core.procedure.Step;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.RunState;
import org.juratest.formats.analyse.RefusedInput;
import org.juratest.formats.capture.CaptureFormat;
import org.juratest.formats.capture.CaptureFormats;
import org.juratest.formats.json.CoreJson;
import org.juratest.formats.json.TextFault;
import org.juratest.formats.run.EventCodec;
import org.juratest.server.db.UuidV7;
import org.juratest.server.gear.GearStore;
import org.juratest.server.job.Jobs;
import org.juratest.server.register.Register;
import org.juratest.server.run.FileRuns;
import org.juratest.server.run.FiledRun;
import org.juratest.server.web.NotFoundException;
import org.juratest.server.web.Progress;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;

/** Files on their way in: kept aside until somebody has looked them over, then stored all at once or not at all. */
@Service
class Intakes {

    private static final int MOST_FILES = 2000;
    private static final int LONGEST_NAME = 200;

    private final JdbcClient jdbc;
    private final FileTargets targets;
    private final FileRuns runs;
    private final Jobs jobs;
    private final GearStore gear;
    private final Register register;

    Intakes(JdbcClient jdbc, FileTargets targets, FileRuns runs, Jobs jobs, GearStore gear, Register register) {
        this.jdbc = jdbc;
        this.targets = targets;
        this.runs = runs;
        this.jobs = jobs;
        this.gear = gear;
        this.register = register;
    }

    /** Where files were dropped; neither: anywhere. */
    record IntakeForm(@Nullable String asset, @Nullable Long job) {}

    /** What people say of a file; absent values stay as they are. */
    record FileChange(
            @Nullable String asset, @Nullable String step, @Nullable String lane, @Nullable Boolean leftOut) {}

    /** How a file stands. */
    enum FileStanding {
        /** It goes where it says. */
        READY,
        /** It has to be said where it goes. */
        UNMATCHED,
        /** It cannot be read, or what it says makes no sense. */
        UNREADABLE,
        /** A record has it already. */
        THERE,
        /** Another file of this intake has the same bytes. */
        TWICE,
        LEFT_OUT
    }

    /** A place that a file can be put to. */
    record FilePlace(String step, String title, List<FileLane> lanes) {}

    record FileLane(String id, String label) {}

    /**
     * A file.
     *
     * @param why what is wrong or has to be said; absent where nothing has
     * @param where step and lane in words; absent where it goes nowhere
     * @param record that has it already, or the run's number where it is not finished; absent where none has
     * @param odd what is odd about it
     */
    record IntakeFile(
            int n,
            String name,
            FileStanding standing,
            @Nullable String why,
            @Nullable String asset,
            @Nullable String position,
            @Nullable String step,
            @Nullable String lane,
            @Nullable String where,
            @Nullable Instant taken,
            Map<String, String> facts,
            List<String> odd,
            @Nullable String record) {}

    /** What a record will be made of. */
    record IntakeGroup(String asset, String position, @Nullable LocalDate day, int files) {}

    /** All of an intake. */
    record IntakeView(
            UUID id,
            @Nullable String asset,
            @Nullable Long job,
            @Nullable Instant stored,
            List<IntakeFile> files,
            List<IntakeGroup> groups,
            String suffixes) {}

    /**
     * What came of it.
     *
     * @param left files that could be read and say nothing, with why
     */
    record IntakeResult(List<FileRuns.Made> made, List<FiledRun.Left> left) {}

    private record Told(
            String format,
            @Nullable Instant taken,
            @Nullable String gear,
            @Nullable String serial,
            Map<String, String> facts,
            List<String> warnings) {}

    private record Row(
            int n,
            String name,
            String sha,
            @Nullable Told told,
            @Nullable String fault,
            @Nullable String asset,
            @Nullable String step,
            @Nullable String lane,
            @Nullable String why,
            boolean leftOut) {}

    private record Head(UUID id, String person, @Nullable String asset, @Nullable Long job, @Nullable Instant stored) {}

    @Transactional
    UUID begin(IntakeForm form, String person) {
        // What nobody went on with for a week is given up.
        jdbc.sql("DELETE FROM intake WHERE stored IS NULL AND at < now() - interval '7 days'")
                .update();
        String asset = form.job == null ? form.asset : jobs.byId(form.job).asset();
        if (asset != null) {
            register.installed(asset);
        }
        UUID id = UuidV7.now();
        jdbc.sql("INSERT INTO intake (id, person, asset, job) VALUES (:id, :person, :asset, :job)")
                .param("id", id)
                .param("person", person)
                .param("asset", asset, java.sql.Types.VARCHAR)
                .param("job", form.job, java.sql.Types.BIGINT)
                .update();
        return id;
    }

    private Head head(UUID id, String person, boolean lock) {
        Head head = jdbc.sql("SELECT id, person, asset, job, stored FROM intake WHERE id = :id"
                        + (lock ? " FOR UPDATE" : ""))
                .param("id", id)
                .query((rs, i) -> new Head(
                        id,
                        rs.getString(2),
                        rs.getString(3),
                        rs.getObject(4, Long.class),
                        rs.getTimestamp(5) == null ? null : rs.getTimestamp(5).toInstant()))
                .optional()
                .orElseThrow(() -> new NotFoundException("intake", id.toString()));
        if (!head.person.equals(person)) {
            throw new NotFoundException("intake", id.toString());
        }
        if (lock && head.stored != null) {
            throw new Refusal("stored-already", "These files were stored already; bring others in anew.");
        }
        return head;
    }

    /** Takes one file; what cannot be read is kept with why. */
    @Transactional
    IntakeFile take(UUID id, String name, byte[] bytes, String person) {
        Head head = head(id, person, true);
        String fault = TextFault.of(name);
        if (name.isBlank() || name.length() > LONGEST_NAME || fault != null) {
            throw new Refusal(
                    "name-invalid",
                    "The name of a file has 1 to " + LONGEST_NAME + " characters that can be shown.",
                    "name");
        }
        int n = jdbc.sql("SELECT coalesce(max(n), 0) + 1 FROM intake_file WHERE intake = :id")
                .param("id", id)
                .query(Integer.class)
                .single();
        if (n > MOST_FILES) {
            throw new Refusal(
                    "too-many-files", "An intake has at most " + MOST_FILES + " files; store these, then go on.");
        }
        Filed filed = null;
        String wrong = null;
        try {
            filed = read(name, bytes);
        } catch (RefusedInput e) {
            wrong = told(e);
        }
        FileTargets.Target target = filed == null
                ? new FileTargets.Target(head.asset, null, null, null)
                : targets.of(filed, head.asset, false, head.job);
        jdbc.sql(
                        """
        INSERT INTO intake_file (intake, n, name, sha256, bytes, told, fault, asset, step, lane, why)
        VALUES (:id, :n, :name, :sha, :bytes, :told::jsonb, :fault, :asset, :step, :lane, :why)""")
                .param("id", id)
                .param("n", n)
                .param("name", name)
                .param("sha", EventCodec.hash(bytes))
                .param("bytes", filed == null ? null : bytes, java.sql.Types.BINARY)
                .param("told", filed == null ? null : told(filed), java.sql.Types.VARCHAR)
                .param("fault", wrong, java.sql.Types.VARCHAR)
                .param("asset", target.asset(), java.sql.Types.VARCHAR)
                .param("step", target.step(), java.sql.Types.VARCHAR)
                .param("lane", target.lane(), java.sql.Types.VARCHAR)
                .param("why", target.why(), java.sql.Types.VARCHAR)
                .update();
        return file(id, n);
    }

    private static Filed read(String name, byte[] bytes) {
        CaptureFormat format = CaptureFormats.of(name, bytes)
                .orElseThrow(() -> new RefusedInput(
                        Map.of(), "it is none of the files that are read here: " + CaptureFormats.suffixes()));
        return format.read(name, bytes);
    }

    private static String told(RefusedInput e) {
        String place = e.place().entrySet().stream()
                .map(p -> p.getKey() + " " + p.getValue())
                .collect(Collectors.joining(", "));
        return (place.isEmpty() ? "" : place + ": ") + e.getMessage();
    }

    private static String told(Filed filed) {
        return CoreJson.mapper()
                .writeValueAsString(new Told(
                        filed.format(), filed.taken(), filed.gear(), filed.serial(), filed.facts(), filed.warnings()));
    }

    private IntakeFile file(UUID id, int n) {
        List<Row> rows = rows(id, n);
        Row row = rows.stream()
                .filter(r -> r.n == n)
                .findFirst()
                .orElseThrow(() -> new NotFoundException("file", String.valueOf(n)));
        return file(row, there(id, n), positions(id, n), rows.get(0).n);
    }

    /** All rows, or one with those of the same bytes. */
    private List<Row> rows(UUID id, @Nullable Integer n) {
        return jdbc.sql(
                        """
        SELECT n, name, sha256, told::text, fault, asset, step, lane, why, left_out FROM intake_file f
          WHERE intake = :id AND (CAST(:n AS integer) IS NULL OR sha256 = (SELECT o.sha256 FROM intake_file o
            WHERE o.intake = :id AND o.n = :n)) ORDER BY n""")
                .param("id", id)
                .param("n", n, java.sql.Types.INTEGER)
                .query((rs, i) -> new Row(
                        rs.getInt(1),
                        rs.getString(2),
                        rs.getString(3),
                        rs.getString(4) == null ? null : CoreJson.mapper().readValue(rs.getString(4), Told.class),
                        rs.getString(5),
                        rs.getString(6),
                        rs.getString(7),
                        rs.getString(8),
                        rs.getString(9),
                        rs.getBoolean(10)))
                .list();
    }

    IntakeView view(UUID id, String person) {
        Head head = head(id, person, false);
        List<Row> rows = rows(id, null);
        Map<String, String> there = there(id, null);
        Map<String, String> positions = positions(id, null);
        Map<String, Integer> first = new TreeMap<>();
        rows.forEach(r -> first.merge(r.sha, r.n, Math::min));
        List<IntakeFile> files = rows.stream()
                .map(r -> file(r, there, positions, first.getOrDefault(r.sha, r.n)))
                .toList();
        return new IntakeView(
                id, head.asset, head.job, head.stored, files, groups(files, head), CaptureFormats.suffixes());
    }

    private IntakeFile file(Row r, Map<String, String> there, Map<String, String> positions, int first) {
        String record = r.asset == null ? null : there.get(r.sha);
        FileStanding standing = r.leftOut
                ? FileStanding.LEFT_OUT
                : r.fault != null
                        ? FileStanding.UNREADABLE
                        : record != null
                                ? FileStanding.THERE
                                : first < r.n
                                        ? FileStanding.TWICE
                                        : r.step == null ? FileStanding.UNMATCHED : FileStanding.READY;
        String why =
                switch (standing) {
                    case UNREADABLE ->
                        (r.told == null ? "It cannot be read: " : "It can be read and says nothing: ")
                                + r.fault
                                + (String.valueOf(r.fault).matches(".*[.?!]") ? "" : ".");
                    case THERE -> "It is part of " + record + " already.";
                    case TWICE -> "File " + first + " has the same bytes.";
                    case UNMATCHED -> r.why;
                    default -> null;
                };
        return new IntakeFile(
                r.n,
                r.name,
                standing,
                why,
                r.asset,
                r.asset == null ? null : positions.get(r.asset),
                r.step,
                r.lane,
                r.step == null ? null : r.step + (r.lane == null || r.lane.isEmpty() ? "" : ", " + r.lane),
                r.told == null ? null : r.told.taken,
                r.told == null ? Map.of() : r.told.facts,
                r.told == null ? List.of() : r.told.warnings,
                record);
    }

    private Map<String, String> there(UUID id, @Nullable Integer n) {
        Map<String, String> there = new TreeMap<>();
        jdbc.sql(
                        """
        SELECT DISTINCT ON (b.sha256) b.sha256, coalesce(r.record, 'a run that is open') FROM intake_file f
          JOIN brought_file b ON b.sha256 = f.sha256 JOIN run r ON r.id = b.run AND r.status <> 'aborted'
          WHERE f.intake = :id AND (f.asset IS NULL OR r.asset = f.asset)
          AND (CAST(:n AS integer) IS NULL OR f.n = :n)""")
                .param("id", id)
                .param("n", n, java.sql.Types.INTEGER)
                .query((rs, i) -> there.put(rs.getString(1), rs.getString(2)))
                .list();
        return there;
    }

    private Map<String, String> positions(UUID id, @Nullable Integer n) {
        Map<String, String> positions = new TreeMap<>();
        jdbc.sql(
                        """
        SELECT DISTINCT i.asset, i.position FROM intake_file f JOIN installation i ON i.asset = f.asset
          AND i.during @> now() WHERE f.intake = :id AND (CAST(:n AS integer) IS NULL OR f.n = :n)""")
                .param("id", id)
                .param("n", n, java.sql.Types.INTEGER)
                .query((rs, i) -> positions.put(rs.getString(1), rs.getString(2)))
                .list();
        return positions;
    }

    /** Files of one asset and day make one record; those of a job go into its run. */
    private record Key(String asset, @Nullable LocalDate day) {}

    private Key key(IntakeFile file, Head head, Map<String, ZoneId> zones) {
        String asset = Objects.requireNonNull(file.asset);
        ZoneId zone = zones.computeIfAbsent(
                asset, a -> ZoneId.of(register.zone(register.installed(a).site())));
        return new Key(asset, head.job != null || file.taken == null ? null : LocalDate.ofInstant(file.taken, zone));
    }

    private List<IntakeGroup> groups(List<IntakeFile> files, Head head) {
        Map<String, ZoneId> zones = new TreeMap<>();
        return files.stream()
                .filter(f -> f.standing == FileStanding.READY)
                .collect(Collectors.groupingBy(f -> key(f, head, zones)))
                .entrySet()
                .stream()
                .map(e -> new IntakeGroup(
                        e.getKey().asset,
                        String.valueOf(e.getValue().get(0).position),
                        e.getKey().day,
                        e.getValue().size()))
                .sorted(Comparator.comparing(IntakeGroup::position)
                        .thenComparing(IntakeGroup::day, Comparator.nullsLast(Comparator.naturalOrder())))
                .toList();
    }

    /** Steps and lanes that files of an asset can be put to. */
    List<FilePlace> places(UUID id, String asset, String person) {
        Head head = head(id, person, false);
        RunState state = targets.state(asset, head.job);
        if (state == null) {
            return List.of();
        }
        return state.procedure().steps().stream()
                .filter(s -> s.kind().measured() && state.scope().step(s.id()))
                .filter(s -> org.juratest.core.method.Methods.byName(String.valueOf(s.method()))
                        .filter(org.juratest.core.method.FileMethod.class::isInstance)
                        .isPresent())
                .map(s -> new FilePlace(
                        s.id(),
                        s.title(),
                        state.procedure().lanesOf(s, state.scope()).stream()
                                .map(l -> new FileLane(l, state.procedure().laneName(s, l)))
                                .toList()))
                .toList();
    }

    /** Changes where a file goes. */
    @Transactional
    IntakeFile change(UUID id, int n, FileChange change, String person) {
        Head head = head(id, person, true);
        Row row = rows(id, n).stream()
                .filter(r -> r.n == n)
                .findFirst()
                .orElseThrow(() -> new NotFoundException("file", String.valueOf(n)));
        if (change.leftOut != null) {
            jdbc.sql("UPDATE intake_file SET left_out = :out WHERE intake = :id AND n = :n")
                    .param("out", change.leftOut)
                    .param("id", id)
                    .param("n", n)
                    .update();
        }
        if (change.asset != null || change.step != null) {
            if (row.fault != null) {
                throw new Refusal("unreadable", "This file cannot be read; it belongs nowhere.");
            }
            if (head.job != null && change.asset != null && !change.asset.equals(head.asset)) {
                throw new Refusal("not-of-the-job", "These files go to the job of " + head.asset + ".", "asset");
            }
            String asset = change.asset != null ? change.asset : row.asset;
            if (asset == null) {
                throw new Refusal("asset-missing", "Choose first what the file is of.", "asset");
            }
            register.installed(asset);
            FileTargets.Target target = change.step == null
                    ? targets.of(read(row.name, bytes(id, n)), asset, true, head.job)
                    : chosen(id, asset, change, person);
            jdbc.sql("UPDATE intake_file SET asset = :asset, step = :step, lane = :lane, why = :why "
                            + "WHERE intake = :id AND n = :n")
                    .param("asset", target.asset(), java.sql.Types.VARCHAR)
                    .param("step", target.step(), java.sql.Types.VARCHAR)
                    .param("lane", target.lane(), java.sql.Types.VARCHAR)
                    .param("why", target.why(), java.sql.Types.VARCHAR)
                    .param("id", id)
                    .param("n", n)
                    .update();
        }
        return file(id, n);
    }

    private FileTargets.Target chosen(UUID id, String asset, FileChange change, String person) {
        FilePlace place = places(id, asset, person).stream()
                .filter(p -> p.step.equals(change.step))
                .findFirst()
                .orElseThrow(() -> new Refusal("unknown-step", "No step \"" + change.step + "\" takes files.", "step"));
        String lane = change.lane == null ? "" : change.lane;
        if (place.lanes.stream().noneMatch(l -> l.id.equals(lane))) {
            throw new Refusal("unknown-lane", "\"" + place.title + "\" has no lane \"" + lane + "\".", "lane");
        }
        return new FileTargets.Target(asset, place.step, lane, null);
    }

    private byte[] bytes(UUID id, int n) {
        return jdbc.sql("SELECT bytes FROM intake_file WHERE intake = :id AND n = :n")
                .param("id", id)
                .param("n", n)
                .query((rs, i) -> rs.getBytes(1))
                .single();
    }

    @Transactional
    void giveUp(UUID id, String person) {
        head(id, person, true);
        jdbc.sql("DELETE FROM intake WHERE id = :id").param("id", id).update();
    }

    /**
     * Makes records of all files that are ready, of each asset and day one; or adds them to the run of their job.
     *
     * @throws Refusal if none is ready
     */
    @Transactional
    IntakeResult store(UUID id, String person, Progress progress) {
        Head head = head(id, person, true);
        List<IntakeFile> ready = view(id, person).files.stream()
                .filter(f -> f.standing == FileStanding.READY)
                .toList();
        if (ready.isEmpty()) {
            throw new Refusal("nothing-ready", "None of the files can be stored; say where they go, or leave them.");
        }
        Map<String, ZoneId> zones = new TreeMap<>();
        Map<Key, List<IntakeFile>> groups = ready.stream()
                .collect(Collectors.groupingBy(
                        f -> key(f, head, zones),
                        () -> new TreeMap<>(Comparator.comparing(Key::asset)
                                .thenComparing(Key::day, Comparator.nullsLast(Comparator.naturalOrder()))),
                        Collectors.toList()));
        List<FileRuns.Made> made = new ArrayList<>();
        List<FiledRun.Left> left = new ArrayList<>();
        int done = 0;
        for (Map.Entry<Key, List<IntakeFile>> group : groups.entrySet()) {
            List<IntakeFile> files = group.getValue();
            FileRuns.Outcome outcome = one(head, group.getKey().asset, files, person, progress, done, ready.size());
            if (outcome.made() != null) {
                made.add(outcome.made());
            }
            outcome.left().forEach(l -> {
                int n = files.get(l.file()).n;
                jdbc.sql("UPDATE intake_file SET fault = :why WHERE intake = :id AND n = :n")
                        .param("why", l.why())
                        .param("id", id)
                        .param("n", n)
                        .update();
                left.add(new FiledRun.Left(n, l.name(), l.why()));
            });
            done += files.size();
        }
        jdbc.sql("UPDATE intake SET stored = now() WHERE id = :id")
                .param("id", id)
                .update();
        jdbc.sql("UPDATE intake_file SET bytes = NULL WHERE intake = :id")
                .param("id", id)
                .update();
        return new IntakeResult(made, left);
    }

    private FileRuns.Outcome one(
            Head head, String asset, List<IntakeFile> files, String person, Progress progress, int before, int total) {
        RunState state = Objects.requireNonNull(targets.state(asset, head.job));
        List<FileAttempts.Brought> brought = new ArrayList<>();
        for (IntakeFile f : files) {
            progress.at("reading " + f.name, before + brought.size(), total);
            byte[] bytes = bytes(head.id, f.n);
            Filed filed = read(f.name, bytes);
            Step step = state.procedure().step(Objects.requireNonNull(f.step)).orElseThrow();
            String lane = Objects.requireNonNull(f.lane);
            brought.add(new FileAttempts.Brought(
                    f.name,
                    bytes,
                    CaptureFormats.of(f.name, bytes).orElseThrow().mediaType(),
                    filed,
                    step.at(lane),
                    lane,
                    gear(filed)));
        }
        Instant newest = brought.stream()
                .map(b -> b.filed().taken())
                .filter(Objects::nonNull)
                .max(Comparator.naturalOrder())
                .orElse(null);
        progress.at("judging " + files.get(0).position, before, total);
        return head.job != null
                ? runs.added(head.job, brought, newest, person)
                : runs.whole(asset, targets.byFiles(asset).orElseThrow(), brought, newest, person);
    }

    /** The gear that a file names by its serial number, if it is one of ours. */
    private @Nullable GearFacts gear(Filed filed) {
        String serial = filed.serial();
        return serial == null
                ? null
                : gear.all().stream()
                        .filter(g -> g.serial().equalsIgnoreCase(serial))
                        .findFirst()
                        .map(g -> g.facts(""))
                        .orElse(null);
    }
}
