package org.juratest.server.series;

import java.time.Clock;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.UUID;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Verdict;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.register.FieldProblem;
import org.juratest.core.run.Refusal;
import org.juratest.core.series.RunningNumber;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.job.Decisions;
import org.juratest.server.job.Jobs;
import org.juratest.server.procedure.Procedures;
import org.juratest.server.register.LikeDevices;
import org.juratest.server.run.RunOpener;
import org.juratest.server.run.RunStore;
import org.juratest.server.web.FieldsException;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;
import tools.jackson.core.type.TypeReference;

/** Series of like devices that are tested at one place, one after the other. */
@Service
class SeriesService {

    private static final int AHEAD = 5;
    private static final int MOST_DONE = 100;
    /** The number at the end of a serial number, with what stands before it. */
    private static final Pattern COUNTED = Pattern.compile("(.*?)([0-9]{1,8})");

    private final JdbcClient jdbc;
    private final LikeDevices devices;
    private final Procedures procedures;
    private final Decisions decisions;
    private final RunOpener opener;
    private final RunStore runs;
    private final Clock clock;

    SeriesService(
            JdbcClient jdbc,
            LikeDevices devices,
            Procedures procedures,
            Decisions decisions,
            RunOpener opener,
            RunStore runs,
            Clock clock) {
        this.jdbc = jdbc;
        this.devices = devices;
        this.procedures = procedures;
        this.decisions = decisions;
        this.opener = opener;
        this.runs = runs;
        this.clock = clock;
    }

    private record Place(String title, String site, String zone) {}

    private record Kept(String procedure, RunningNumber number, long version) {}

    /** How a series stands; one that nobody has kept yet goes on from the number of the device that stands there. */
    TestSeries view(String position) {
        Place place = place(position);
        LikeDevices.Device like = devices.last(position).orElse(null);
        Kept kept = kept(position, "").orElse(null);
        RunningNumber number = kept != null ? kept.number : proposed(like);
        List<TestSeries.SeriesProcedure> choices = like == null ? List.of() : choices(like.assetClass());
        String procedure = kept != null ? kept.procedure : lastProcedure(position, choices);
        List<String> ahead = number.ahead(AHEAD);
        return new TestSeries(
                position,
                place.title,
                place.site,
                place.zone,
                like == null
                        ? null
                        : new TestSeries.SeriesLike(
                                like.id(), like.className(), like.maker(), like.model(), like.serial()),
                procedure,
                choices,
                number.pattern(),
                number.fields().stream().map(TestSeries.SeriesField::of).toList(),
                ahead,
                like == null || ahead.isEmpty() ? null : devices.has(like, ahead.get(0)),
                open(position),
                kept == null ? 0 : kept.version,
                procedure == null ? List.of() : done(position, procedure));
    }

    /**
     * Keeps how it goes on.
     *
     * @throws FieldsException naming every field at fault
     * @throws Refusal if somebody else changed it meanwhile
     */
    @Transactional
    public TestSeries keep(String position, TestSeries.SeriesForm given, String by) {
        place(position);
        LikeDevices.Device like = devices.last(position)
                .orElseThrow(() -> new FieldsException(List.of(new FieldProblem(
                        "position", "Nothing ever stood at " + position + "; install the first device of the kind."))));
        List<FieldProblem> problems = new ArrayList<>();
        if (choices(like.assetClass()).stream().noneMatch(c -> c.code().equals(given.procedure()))) {
            problems.add(new FieldProblem("procedure", "Choose a procedure for " + like.className() + "."));
        }
        RunningNumber number = new RunningNumber(
                given.pattern().strip(),
                given.fields().stream().map(TestSeries.SeriesField::field).toList());
        problems.addAll(number.problems());
        FieldsException.throwIf(problems);
        int changed = jdbc.sql(
                        """
        INSERT INTO series (position, procedure, pattern, fields, changed_by)
        SELECT :position, :procedure, :pattern, :fields::jsonb, :by
          WHERE :seen = 0 OR EXISTS (SELECT 1 FROM series WHERE position = :position)
        ON CONFLICT (position) DO UPDATE SET procedure = EXCLUDED.procedure, pattern = EXCLUDED.pattern,
          fields = EXCLUDED.fields, changed_by = EXCLUDED.changed_by, changed_at = now(), version = series.version + 1
          WHERE series.version = :seen""")
                .param("position", position)
                .param("procedure", given.procedure())
                .param("pattern", number.pattern())
                .param("fields", CoreJson.mapper().writeValueAsString(number.fields()))
                .param("by", by)
                .param("seen", given.seen())
                .update();
        if (changed == 0) {
            throw new Refusal(
                    "changed-meanwhile",
                    "The series at " + position + " was changed meanwhile. Look at it again; nothing of yours was "
                            + "stored.",
                    "seen");
        }
        return view(position);
    }

    /**
     * The next device comes to the position in place of the one before, with a job and its run; the number goes on.
     *
     * @throws Refusal if the number shown is no longer the next
     * @throws FieldsException if the number is taken, or the device before cannot leave: a run is open on it
     */
    @Transactional
    public TestSeries.SeriesStarted next(String position, TestSeries.SeriesNext given, String by) {
        Place place = place(position);
        Kept kept = kept(position, " FOR UPDATE")
                .orElseThrow(() -> new Refusal(
                        "no-series", "There is no series at " + position + " yet: choose its procedure.", "procedure"));
        String serial = kept.number.text();
        if (!serial.equals(given.serial())) {
            throw new Refusal(
                    "changed-meanwhile",
                    "The next one is " + serial + " by now, not " + given.serial() + ". Look at it again.",
                    "serial");
        }
        String asset = devices.next(position, serial, by);
        LocalDate today = LocalDate.ofInstant(clock.instant(), ZoneId.of(place.zone));
        Jobs.Job job = decisions.raise(
                new Decisions.Raised(
                        asset, kept.procedure, "acceptance", today, "Series at " + position + ", " + serial, null),
                by);
        UUID run = opener.open(job.id(), by, null, gear(position, kept.procedure));
        RunningNumber next = kept.number.next().orElse(kept.number);
        jdbc.sql("UPDATE series SET fields = :fields::jsonb, version = version + 1 WHERE position = :position")
                .param("fields", CoreJson.mapper().writeValueAsString(next.fields()))
                .param("position", position)
                .update();
        return new TestSeries.SeriesStarted(run, asset, serial);
    }

    private Place place(String position) {
        return jdbc.sql("SELECT p.title, s.code, s.zone FROM position p JOIN site s ON s.code = p.site "
                        + "WHERE p.code = :position")
                .param("position", position)
                .query((rs, i) -> new Place(rs.getString(1), rs.getString(2), rs.getString(3)))
                .optional()
                .orElseThrow(() -> new NotFoundException("position", position));
    }

    private Optional<Kept> kept(String position, String lock) {
        return jdbc.sql("SELECT procedure, pattern, fields::text, version FROM series WHERE position = :position"
                        + lock)
                .param("position", position)
                .query((rs, i) -> new Kept(
                        rs.getString(1),
                        new RunningNumber(
                                rs.getString(2),
                                CoreJson.mapper()
                                        .readValue(rs.getString(3), new TypeReference<List<RunningNumber.Field>>() {})),
                        rs.getLong(4)))
                .optional();
    }

    /** The number at the end of the serial number runs on; one without gets one. */
    private static RunningNumber proposed(LikeDevices.@Nullable Device like) {
        Matcher counted = like == null ? null : COUNTED.matcher(like.serial());
        RunningNumber same = counted == null || !counted.matches()
                ? new RunningNumber("{n}", List.of(RunningNumber.Field.running("n", "1")))
                : new RunningNumber(
                        counted.group(1) + "{n}", List.of(RunningNumber.Field.running("n", counted.group(2))));
        // What stands before it may hold what a pattern cannot.
        return counted == null || !counted.matches() || !same.problems().isEmpty()
                ? new RunningNumber("{n}", List.of(RunningNumber.Field.running("n", "1")))
                : same.next().orElse(same);
    }

    private List<TestSeries.SeriesProcedure> choices(String assetClass) {
        return procedures.all().stream()
                .map(Procedures.Summary::code)
                .distinct()
                .map(code -> procedures.newest(code).procedure())
                .filter(p -> p.appliesTo().contains(assetClass))
                .map(p -> new TestSeries.SeriesProcedure(p.code(), p.title()))
                .toList();
    }

    private @Nullable String lastProcedure(String position, List<TestSeries.SeriesProcedure> choices) {
        String last = jdbc.sql("SELECT j.procedure FROM run r JOIN job j ON j.id = r.job WHERE r.position = :position "
                        + "ORDER BY r.opened_at DESC NULLS LAST LIMIT 1")
                .param("position", position)
                .query(String.class)
                .optional()
                .orElse(null);
        return choices.stream().anyMatch(c -> c.code().equals(last)) ? last : null;
    }

    private TestSeries.@Nullable SeriesOpen open(String position) {
        return jdbc.sql("SELECT r.id, a.serial, j.procedure FROM run r JOIN asset a ON a.id = r.asset JOIN job j "
                        + "ON j.id = r.job WHERE r.position = :position AND r.status = 'open' ORDER BY r.opened_at "
                        + "LIMIT 1")
                .param("position", position)
                .query((rs, i) ->
                        new TestSeries.SeriesOpen(rs.getObject(1, UUID.class), rs.getString(2), rs.getString(3)))
                .optional()
                .orElse(null);
    }

    private List<TestSeries.SeriesItem> done(String position, String procedure) {
        return jdbc.sql(
                        """
        SELECT a.id, a.serial, r.record, r.finished_at, r.verdict, coalesce(r.complete, false),
          (SELECT count(*) FROM run_point p WHERE p.run = r.id AND p.verdict IN ('fail', 'marginalOutside'))
        FROM run r JOIN asset a ON a.id = r.asset JOIN job j ON j.id = r.job
        WHERE r.position = :position AND j.procedure = :procedure AND r.status = 'finished'
        ORDER BY r.finished_at DESC LIMIT :most""")
                .param("position", position)
                .param("procedure", procedure)
                .param("most", MOST_DONE)
                .query((rs, i) -> new TestSeries.SeriesItem(
                        rs.getString(1),
                        rs.getString(2),
                        rs.getString(3),
                        rs.getTimestamp(4).toInstant(),
                        CoreJson.mapper().convertValue(rs.getString(5), Verdict.class),
                        rs.getBoolean(6),
                        rs.getInt(7)))
                .list();
    }

    /** The gear that the one before was tested with, so that references of it can go on to hold. */
    private Map<String, String> gear(String position, String procedure) {
        UUID last = jdbc.sql("SELECT r.id FROM run r JOIN job j ON j.id = r.job WHERE r.position = :position AND "
                        + "j.procedure = :procedure AND r.status = 'finished' ORDER BY r.finished_at DESC LIMIT 1")
                .param("position", position)
                .param("procedure", procedure)
                .query(UUID.class)
                .optional()
                .orElse(null);
        Map<String, String> chosen = new HashMap<>();
        if (last != null) {
            Procedure newest = procedures.newest(procedure).procedure();
            runs.state(last).gear().stream()
                    .filter(g -> newest.gear().stream()
                            .anyMatch(n -> n.id().equals(g.need()) && Objects.equals(n.role(), g.role())))
                    .forEach(g -> chosen.put(g.need(), g.id()));
        }
        return chosen;
    }
}
