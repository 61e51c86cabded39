package org.juratest.server.demo;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.UUID;
import org.juratest.core.bench.MethodDeriving;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.AssetFacts;
import org.juratest.core.run.Deriving;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.PointJudgement;
import org.juratest.core.run.PriorReading;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunState;
import org.juratest.formats.json.CoreJson;
import org.juratest.formats.trace.TraceBytes;
import org.juratest.server.blob.Blobs;
import org.juratest.server.db.UuidV7;
import org.juratest.server.people.ChangeLog;
import org.juratest.server.people.Role;
import org.juratest.server.plan.Horizon;
import org.juratest.server.plan.Plan;
import org.juratest.server.plan.Plans;
import org.juratest.server.procedure.Procedures;
import org.juratest.server.run.OpenedRuns;
import org.juratest.server.run.RunStore;
import org.juratest.server.run.Tail;
import org.juratest.server.web.StatusController;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.boot.ApplicationArguments;
import org.springframework.boot.ApplicationRunner;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.security.crypto.password.PasswordEncoder;
import org.springframework.stereotype.Component;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Lays the demo valley: register, gear, people, procedures, four years of runs as ordinary events, and the jobs due
 * around today. Only into an empty database, or on a later day over one that says it is a demo nobody has touched;
 * otherwise what is there stays, and only the day's jobs are laid.
 */
@Component
class DemoLoader implements ApplicationRunner, StatusController.Readiness {

    private static final Logger LOG = LoggerFactory.getLogger(DemoLoader.class);
    /** One loader at a time, however many processes start. */
    private static final long LOCK = 0x4A55524154455354L;

    private final JdbcClient jdbc;
    private final RunStore store;
    private final OpenedRuns opener;
    private final Procedures procedures;
    private final Blobs blobs;
    private final DemoRegister demoRegister;
    private final Shipped shipped;
    private final DemoPlans demoPlans;
    private final Plans plans;
    private final Horizon horizon;
    private final PasswordEncoder passwords;
    private final ChangeLog changes;
    private final TransactionTemplate transaction;
    private final Clock clock;
    private final String fleetFile;
    private volatile boolean done;

    DemoLoader(
            JdbcClient jdbc,
            RunStore store,
            OpenedRuns opener,
            Procedures procedures,
            Blobs blobs,
            DemoRegister demoRegister,
            Shipped shipped,
            DemoPlans demoPlans,
            Plans plans,
            Horizon horizon,
            PasswordEncoder passwords,
            ChangeLog changes,
            PlatformTransactionManager transactions,
            Clock clock,
            @Value("${juratest.demo-fleet:}") String fleetFile) {
        this.jdbc = jdbc;
        this.store = store;
        this.opener = opener;
        this.procedures = procedures;
        this.blobs = blobs;
        this.demoRegister = demoRegister;
        this.shipped = shipped;
        this.demoPlans = demoPlans;
        this.plans = plans;
        this.horizon = horizon;
        this.passwords = passwords;
        this.changes = changes;
        this.transaction = new TransactionTemplate(transactions);
        this.clock = clock;
        this.fleetFile = fleetFile;
    }

    @Override
    public boolean isReady() {
        return done;
    }

    @Override
    public void run(ApplicationArguments arguments) throws IOException {
        if (fleetFile.isBlank()) {
            done = true;
            return;
        }
        DemoFleet fleet = CoreJson.mapper().readValue(Files.readAllBytes(Path.of(fleetFile)), DemoFleet.class);
        transaction.executeWithoutResult(status -> {
            jdbc.sql("SELECT pg_advisory_xact_lock(:lock)")
                    .param("lock", LOCK)
                    .query()
                    .singleRow();
            jdbc.sql("SET LOCAL juratest.laying = 'on'").update();
            LocalDate laid = jdbc.sql("SELECT value FROM setting WHERE key = 'demo.day'")
                    .query(String.class)
                    .optional()
                    .map(LocalDate::parse)
                    .orElse(null);
            boolean untouched = laid != null
                    && jdbc.sql("SELECT EXISTS (SELECT 1 FROM setting WHERE key = 'demo.untouched')")
                            .query(Boolean.class)
                            .single();
            if (isEmpty() || untouched && !laid.equals(fleet.today())) {
                lay(fleet);
            } else if (laid == null) {
                LOG.warn("this database holds data that is no demo; it stays as it is, and no demo is laid");
                shipped.newer();
            } else if (jdbc.sql("SELECT NOT EXISTS (SELECT 1 FROM plan)")
                    .query(Boolean.class)
                    .single()) {
                // Laid by a version that knew no plans, and worked with since: what is there stays, and is planned from
                // now on.
                demoPlans.lay(fleet.today());
                demoPlans.people(fleet.today());
            } else {
                shipped.newer();
            }
        });
        horizon.layAll();
        done = true;
    }

    /** Nothing that a person or a demo has put there: nobody, nowhere, nothing. */
    private boolean isEmpty() {
        return jdbc.sql(
                        """
        SELECT NOT EXISTS (SELECT 1 FROM person) AND NOT EXISTS (SELECT 1 FROM run) AND NOT EXISTS (SELECT 1
          FROM event) AND NOT EXISTS (SELECT 1 FROM site)
          AND NOT EXISTS (SELECT 1 FROM asset) AND NOT EXISTS (SELECT 1 FROM procedure_version)
            AND NOT EXISTS (SELECT 1 FROM gear) AND NOT EXISTS (SELECT 1 FROM blob)
          AND NOT EXISTS (SELECT 1 FROM ledger)""")
                .query(Boolean.class)
                .single();
    }

    private void lay(DemoFleet fleet) {
        long start = System.nanoTime();
        // What the past is judged by is read over other connections meanwhile: those tables are not locked here.
        String tables = jdbc.sql(
                        """
        SELECT string_agg(format('%I', c.relname), ', ') FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace
        WHERE n.nspname = 'public' AND c.relkind IN ('r', 'p') AND NOT c.relispartition
          AND c.relname NOT IN ('flyway_schema_history', 'setting', 'curve_model', 'standard_table')""")
                .query(String.class)
                .single();
        jdbc.sql("TRUNCATE " + tables).update();
        register(fleet);
        fleet.people().forEach(p -> {
            jdbc.sql("INSERT INTO person (id, name, role, password_hash) VALUES (:id, :name, :role, :hash)")
                    .param("id", p.id())
                    .param("name", p.name())
                    .param("role", p.role())
                    .param("hash", passwords.encode(p.password()))
                    .update();
            changes.account("demo", p.id(), "laid with the demo as " + p.role(), Role.of(p.role()), true);
        });
        fleet.gear().forEach(this::gear);
        demoPlans.lay(fleet.today());
        demoPlans.people(fleet.today());
        Map<String, Procedures.Version> versions = new HashMap<>();
        procedures.all().forEach(p -> {
            versions.put(p.code(), procedures.newest(p.code()));
            procedures.freeze(p.code(), p.version());
        });
        List<Planned> planned = new ArrayList<>();
        fleet.devices().stream()
                .filter(d -> fleet.past().containsKey(d.asset()))
                .forEach(d -> planned.add(planned(d, fleet.past().get(d.asset()))));
        Map<String, List<DemoPlans.PastJob>> byAsset = new LinkedHashMap<>();
        demoPlans.past(fleet, fleet.zone()).forEach(t -> byAsset.computeIfAbsent(t.asset(), a -> new ArrayList<>())
                .add(t));
        byAsset.values().forEach(list -> planned.add(planned(list)));
        // Telling is pure computing and takes most of the time: all cores, then the database in order.
        List<Past> past = planned.parallelStream()
                .flatMap(p -> history(fleet, p, versions).stream())
                .toList();
        past.forEach(p -> p.kept.values().forEach(k -> blobs.keep(k.mediaType(), k.bytes())));
        past.forEach(p -> store.insertWhole(p.run, p.job, p.asset.asset(), p.asset.position(), p.tail));
        demoPlans.week(fleet.today());
        jdbc.sql("INSERT INTO setting VALUES ('demo.day', :day) ON CONFLICT (key) DO UPDATE SET value = excluded.value")
                .param("day", fleet.today().toString())
                .update();
        jdbc.sql("INSERT INTO setting VALUES ('demo.untouched', 'true') ON CONFLICT DO NOTHING")
                .update();
        LOG.info(
                "the demo valley is laid: {} assets, {} records, {} s",
                fleet.devices().size(),
                past.size(),
                (System.nanoTime() - start) / 1_000_000_000);
    }

    private void register(DemoFleet fleet) {
        fleet.sites().forEach(s -> jdbc.sql(
                        "INSERT INTO site (code, name, km, altitude, zone) VALUES (:code, :name, :km, :altitude, "
                                + ":zone)")
                .param("code", s.code())
                .param("name", s.name())
                .param("km", s.km())
                .param("altitude", s.altitude())
                .param("zone", fleet.zone().getId())
                .update());
        shipped.classes();
        demoRegister.devices(fleet, fleet.zone());
    }

    private void gear(DemoFleet.Gear g) {
        jdbc.sql(
                        """
        INSERT INTO gear (id, name, role, maker, model, serial, host, port, calibrated_on, calibrated_to,
          certificate, accuracy, path, range, driver)
        VALUES (:id, :name, :role, :maker, :model, :serial, :host, :port, :on, :to, :certificate, :accuracy::jsonb,
          :path::jsonb, :range::jsonb, :driver)""")
                .param(
                        "range",
                        g.range() == null || g.range().isEmpty()
                                ? null
                                : CoreJson.mapper().writeValueAsString(g.range()),
                        java.sql.Types.VARCHAR)
                .param(
                        "path",
                        g.path() == null
                                ? null
                                : CoreJson.mapper().writeValueAsString(g.path().path()),
                        java.sql.Types.VARCHAR)
                .param("driver", g.port() == 0 ? null : g.driver(), java.sql.Types.VARCHAR)
                .param("id", g.id())
                .param("name", g.name())
                .param("role", g.role())
                .param("maker", g.maker())
                .param("model", g.model())
                .param("serial", g.serial())
                .param("host", g.port() == 0 ? null : g.host(), java.sql.Types.VARCHAR)
                .param("port", g.port() == 0 ? null : g.port(), java.sql.Types.INTEGER)
                .param("on", g.calibratedOn())
                .param("to", g.calibratedTo())
                .param("certificate", g.certificate())
                .param("accuracy", CoreJson.mapper().writeValueAsString(g.accuracy()))
                .update();
    }

    /** A past test with its job and record number. */
    private record PlannedTest(
            long job,
            String record,
            String procedure,
            String reason,
            AssetFacts asset,
            DemoFleet.PastTest test,
            boolean baseline) {}

    /** A device's past tests, oldest first. */
    private record Planned(List<PlannedTest> tests) {}

    /** A past run, told and not stored yet. */
    private record Past(UUID run, long job, AssetFacts asset, Tail tail, Map<String, PastRun.Kept> kept) {}

    /** Tests that the fleet tells one by one: the first is the acceptance, the others a plan's. */
    private Planned planned(DemoFleet.Device device, List<DemoFleet.PastTest> tests) {
        List<DemoPlans.PastJob> told = new ArrayList<>();
        for (DemoFleet.PastTest test : tests) {
            boolean first = told.isEmpty();
            if (test.isBrought()) {
                told.add(new DemoPlans.PastJob(
                        device.asset(),
                        device.position(),
                        test.procedure(),
                        "files",
                        test.day(),
                        test.day(),
                        test.day(),
                        null,
                        test,
                        "",
                        first));
                continue;
            }
            Plan plan = plans.all().stream()
                    .filter(p -> p.procedure().equals(test.procedure()) && p.every() != null)
                    .findFirst()
                    .orElse(null);
            if (plan == null && !first) {
                throw new IllegalStateException("no plan asks for " + test.procedure() + " again");
            }
            told.add(new DemoPlans.PastJob(
                    device.asset(),
                    device.position(),
                    test.procedure(),
                    plan == null || first ? "acceptance" : plan.why(),
                    test.day().minusDays(first ? 0 : 21),
                    test.day(),
                    test.day().plusDays(first ? 14 : 7),
                    plan == null || first ? null : plan.id(),
                    test,
                    "",
                    first));
        }
        return planned(told);
    }

    private Planned planned(List<DemoPlans.PastJob> told) {
        List<PlannedTest> tests = new ArrayList<>();
        Map<String, AssetFacts> known = new HashMap<>();
        for (DemoPlans.PastJob t : told) {
            long job = jdbc.sql(
                            """
          INSERT INTO job (asset, position, procedure, reason, occasion, opens, due, closes, plan, status, done_on)
          VALUES (:asset, :position, :procedure, :reason, :occasion, :opens, :due, :closes, :plan, 'done', :on)
            RETURNING id""")
                    .param("asset", t.asset())
                    .param("position", t.position())
                    .param("procedure", t.procedure())
                    .param("reason", t.reason())
                    .param("occasion", t.test().isBrought() ? "files" : t.acceptance() ? "acceptance" : "interval")
                    .param("opens", t.opens())
                    .param("due", t.due())
                    .param("closes", t.closes())
                    .param("plan", t.plan(), java.sql.Types.BIGINT)
                    .param("on", t.test().day())
                    .query(Long.class)
                    .single();
            if (!t.late().isEmpty()) {
                demoPlans.decided(job, "put back", t.closes(), t.late());
            }
            tests.add(new PlannedTest(
                    job,
                    store.nextRecord(t.position(), t.test().day().getYear()),
                    t.procedure(),
                    t.reason(),
                    known.computeIfAbsent(t.position(), at -> facts(t.asset(), at)),
                    t.test(),
                    tests.isEmpty()));
        }
        return new Planned(tests);
    }

    private List<Past> history(DemoFleet fleet, Planned planned, Map<String, Procedures.Version> versions) {
        List<PriorReading> priors = new ArrayList<>();
        List<Past> told = new ArrayList<>();
        for (PlannedTest t : planned.tests) {
            Procedures.Version version = Objects.requireNonNull(versions.get(t.procedure));
            RunEvents.Opened opened = opener.opened(
                    String.valueOf(t.job),
                    t.reason,
                    version,
                    t.asset,
                    gearThen(fleet, version, t.test.day()),
                    List.copyOf(priors),
                    fleet.zone().getId());
            UUID run = UuidV7.at(t.test.day().atStartOfDay(fleet.zone()).toInstant());
            Map<String, PastRun.Kept> kept = new HashMap<>();
            // Nothing is stored yet: what is computed of traces is computed of those that are told.
            Deriving deriving = new MethodDeriving(
                    hash -> Optional.ofNullable(kept.get(hash)).map(k -> TraceBytes.read(k.bytes())));
            Tail tail = new Tail(run, RunState.EMPTY, null, store.origin(), deriving);
            PastRun past = new PastRun(tail, t.test, store.origin(), fleet.zone(), kept);
            past.tell(opened, t.record);
            past.sign(fleet.people(), fleet.today());
            told.add(new Past(run, t.job, t.asset, tail, kept));
            priors.addAll(0, counting(tail.state(), t.record, t.baseline));
        }
        return told;
    }

    /** What a run keeps of a device that stood somewhere then. */
    private AssetFacts facts(String asset, String position) {
        return jdbc.sql("SELECT a.class, a.maker, a.model, a.serial, a.nameplate::text, a.curve, s.code, s.name "
                        + "FROM asset a, position p JOIN site s ON s.code = p.site WHERE a.id = :asset "
                        + "AND p.code = :position")
                .param("asset", asset)
                .param("position", position)
                .query((rs, i) -> new AssetFacts(
                        asset,
                        position,
                        rs.getString(7),
                        rs.getString(8),
                        rs.getString(1),
                        rs.getString(2),
                        rs.getString(3),
                        rs.getString(4),
                        CoreJson.mapper().readValue(rs.getString(5), Nameplate.class),
                        rs.getString(6)))
                .single();
    }

    /** The gear as it was calibrated on a day in the past: yearly, on the same certificate line. */
    private static List<GearFacts> gearThen(DemoFleet fleet, Procedures.Version version, LocalDate day) {
        Map<String, DemoFleet.Gear> byRole = new HashMap<>();
        fleet.gear()
                .forEach(g ->
                        byRole.merge(g.role(), g, (a, b) -> a.calibratedTo().isAfter(b.calibratedTo()) ? a : b));
        return version.procedure().gear().stream()
                .map(need -> {
                    DemoFleet.Gear g = byRole.get(need.role());
                    LocalDate on = g.calibratedOn();
                    while (on.isAfter(day)) {
                        on = on.minusYears(1);
                    }
                    return new GearFacts(
                            g.id(),
                            need.id(),
                            g.role(),
                            g.name(),
                            g.maker(),
                            g.model(),
                            g.serial(),
                            on,
                            on.plusYears(1),
                            "C-" + on.getYear() + g.certificate().substring(6),
                            g.accuracy(),
                            g.path() == null ? null : g.path().path());
                })
                .toList();
    }

    private static List<PriorReading> counting(RunState state, String record, boolean baseline) {
        List<PriorReading> values = new ArrayList<>();
        RunEvents.Finished finished = state.finished();
        if (finished == null) {
            throw new IllegalStateException("a past run is not finished");
        }
        for (PointJudgement point : finished.judgement().points()) {
            PointJudgement.Value value = point.counting();
            PointKey key = point.key();
            if (point.series() != null && value != null && value.value() != null && point.unit() != null) {
                values.add(new PriorReading(
                        point.series(),
                        key.lane(),
                        value.value(),
                        Unit.of(point.unit()),
                        Objects.requireNonNull(state.finishedAt()),
                        record,
                        baseline));
            }
        }
        return values;
    }
}
