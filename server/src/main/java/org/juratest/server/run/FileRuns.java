package org.juratest.server.run;

import java.time.Clock;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.UUID;
import java.util.concurrent.atomic.AtomicReference;
import org.jspecify.annotations.Nullable;
import org.juratest.core.bench.FileAttempts;
import org.juratest.core.run.Actor;
import org.juratest.core.run.AssetFacts;
import org.juratest.core.run.Event;
import org.juratest.core.run.EventData;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.Rules;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunJudgement;
import org.juratest.core.run.RunState;
import org.juratest.server.Juratest;
import org.juratest.server.blob.Blobs;
import org.juratest.server.db.UuidV7;
import org.juratest.server.job.Jobs;
import org.juratest.server.plan.Horizon;
import org.juratest.server.procedure.Procedures;
import org.juratest.server.register.Register;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Runs whose readings come from files: whole ones, and files that are added to a run that is open. */
@Component
public class FileRuns {

    private final JdbcClient jdbc;
    private final RunStore store;
    private final RunOpener opener;
    private final OpenedRuns opened;
    private final Register register;
    private final Procedures procedures;
    private final Jobs jobs;
    private final Horizon horizon;
    private final Blobs blobs;
    private final Clock clock;

    FileRuns(
            JdbcClient jdbc,
            RunStore store,
            RunOpener opener,
            OpenedRuns opened,
            Register register,
            Procedures procedures,
            Jobs jobs,
            Horizon horizon,
            Blobs blobs,
            Clock clock) {
        this.jdbc = jdbc;
        this.store = store;
        this.opener = opener;
        this.opened = opened;
        this.register = register;
        this.procedures = procedures;
        this.jobs = jobs;
        this.horizon = horizon;
        this.blobs = blobs;
        this.clock = clock;
    }

    /**
     * What came of files.
     *
     * @param record absent where they were added to a run that goes on
     */
    public record Made(UUID run, @Nullable String record, String position, @Nullable String verdict, int files) {}

    /**
     * What came of files, and what did not.
     *
     * @param made absent where none of them says anything
     */
    public record Outcome(@Nullable Made made, List<FiledRun.Left> left) {}

    /** The state that a run of a procedure on an asset would begin with; nothing is stored. */
    public RunState begun(String asset, Procedures.Version version) {
        AssetFacts facts = register.installed(asset);
        RunEvents.Opened event =
                opened.opened("0", "files", version, facts, List.of(), List.of(), register.zone(facts.site()));
        UUID nobody = new UUID(0, 0);
        return RunState.EMPTY.after(new Event(
                nobody,
                nobody,
                0,
                null,
                clock.instant().truncatedTo(java.time.temporal.ChronoUnit.MICROS),
                Actor.process("look"),
                "look",
                event));
    }

    /** The state of the open run of a job, or that it would begin with. */
    public RunState ofJob(long job) {
        Jobs.Job found = jobs.byId(job);
        return found.run() != null
                ? store.state(found.run())
                : begun(found.asset(), procedures.newest(found.procedure()));
    }

    /**
     * Makes a finished run of files, with its job; it waits to be signed. What cannot be analysed stays out.
     *
     * @param files of steps of the procedure
     * @param taken when the newest was measured; absent where no file says
     */
    @Transactional
    public Outcome whole(
            String asset,
            Procedures.Version version,
            List<FileAttempts.Brought> files,
            java.time.@Nullable Instant taken,
            String person) {
        AssetFacts facts = register.installed(asset);
        ZoneId zone = ZoneId.of(register.zone(facts.site()));
        LocalDate day = LocalDate.ofInstant(taken == null ? clock.instant() : taken, zone);
        // The run names its job, and is there before it: nothing is planned for files that say nothing.
        long job = jdbc.sql("SELECT nextval(pg_get_serial_sequence('job', 'id'))")
                .query(Long.class)
                .single();
        UUID run = UuidV7.now();
        Tail tail = store.tail(run);
        Actor who = Actor.person(person);
        RunEvents.Opened first = opened.opened(
                String.valueOf(job), "files", version, facts, List.of(), opener.priors(asset), zone.getId());
        add(tail, who, first);
        FiledRun.Sifted sifted = FiledRun.sift(tail.state(), files, clock.instant(), blobs::keep);
        if (sifted.files().isEmpty()) {
            return new Outcome(null, sifted.left());
        }
        procedures.freeze(version.procedure().code(), version.procedure().version());
        jdbc.sql(
                        """
        INSERT INTO job (id, asset, position, procedure, reason, occasion, opens, due, closes, status, done_on, person)
        OVERRIDING SYSTEM VALUE
        VALUES (:id, :asset, :position, :procedure, 'files', 'files', :day, :day, :day, 'done', :day, :person)""")
                .param("id", job)
                .param("asset", asset)
                .param("position", facts.position())
                .param("procedure", version.procedure().code())
                .param("day", day)
                .param("person", person)
                .update();
        FiledRun.tell(tail, who, sifted, taken, clock.instant());
        Rules.canFinish(tail.state());
        String record = store.nextRecord(facts.position(), day.getYear());
        RunJudgement judgement = RunJudgement.of(tail.state());
        add(tail, who, new RunEvents.Finished(record, judgement, Juratest.VERSION));
        store.insertWhole(run, job, asset, facts.position(), tail, false);
        horizon.again(List.of(asset));
        return new Outcome(
                new Made(
                        run,
                        record,
                        facts.position(),
                        judgement.verdict().name().toLowerCase(java.util.Locale.ROOT),
                        sifted.files().size()),
                sifted.left());
    }

    private void add(Tail tail, Actor who, EventData data) {
        tail.add(who, data, clock.instant());
    }

    /**
     * Adds files to the open run of a job; opens one where there is none. What cannot be analysed stays out.
     *
     * @throws Refusal if something is armed or live
     */
    @Transactional
    public Outcome added(long job, List<FileAttempts.Brought> files, java.time.@Nullable Instant taken, String person) {
        UUID open = jobs.byId(job).run();
        UUID run = open == null ? opener.open(job, person, null, Map.of()) : open;
        AtomicReference<FiledRun.Sifted> sifted = new AtomicReference<>();
        store.append(run, Actor.person(person), state -> {
            if (state.output().mode() != org.juratest.core.run.Output.Mode.SAFE || state.isBusy()) {
                throw new Refusal("output-not-safe", "Files are added while nothing is armed or live.");
            }
            FiledRun.Sifted of = FiledRun.sift(state, files, clock.instant(), blobs::keep);
            sifted.set(of);
            List<EventData> told = new ArrayList<>();
            if (!of.files().isEmpty()) {
                told.add(new RunEvents.Imported(taken, of.files().size()));
                told.addAll(of.events());
            }
            return told;
        });
        FiledRun.Sifted of = sifted.get();
        String position = Objects.requireNonNull(jobs.byId(job).position());
        return new Outcome(new Made(run, null, position, null, of.files().size()), of.left());
    }
}
