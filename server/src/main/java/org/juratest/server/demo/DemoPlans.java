package org.juratest.server.demo;

import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.SplittableRandom;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.juratest.core.plan.Counter;
import org.juratest.core.plan.Interval;
import org.juratest.core.plan.Occurrence;
import org.juratest.core.plan.Recurrence;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.family.FamilyFiles;
import org.juratest.server.plan.Horizon;
import org.juratest.server.plan.Plan;
import org.juratest.server.plan.Plans;
import org.juratest.server.procedure.Procedures;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Component;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.JsonNode;

/**
 * The planned part of the demo valley: plans, what they need, what was done, late and missed in four years, and this
 * week's rounds.
 */
@Component
class DemoPlans {

    private static final int YEARS = 4;
    private static final long SEED = 20_260_611L;
    private static final double MISSED = 0.025;
    private static final double LATE = 0.09;
    private static final double LATE_NOW = 0.4;
    private static final List<String> WHY_LATE = List.of(
            "The analyser was away for calibration",
            "Snow on the line, nobody could go up",
            "The ward could not spare it",
            "Two of three people were ill",
            "Waited for the outage");
    private static final List<String> WHY_MISSED = List.of(
            "outage refused: the network needed the feeder",
            "no access: the room was locked and nobody had the key",
            "device missing: lent to another ward",
            "no access: avalanche danger");

    private final JdbcClient jdbc;
    private final Shipped shipped;
    private final Plans plans;
    private final Procedures procedures;
    private final Horizon horizon;

    DemoPlans(JdbcClient jdbc, Shipped shipped, Plans plans, Procedures procedures, Horizon horizon) {
        this.jdbc = jdbc;
        this.shipped = shipped;
        this.plans = plans;
        this.procedures = procedures;
        this.horizon = horizon;
    }

    /** A plan as the demo keeps it. */
    private record DemoPlan(
            String title,
            String procedure,
            String occasion,
            String assetClass,
            List<String> positions,
            @Nullable String every,
            double amount,
            @Nullable Double amountTo,
            String counting,
            String before,
            String after,
            String reason,
            String basis,
            int leadDays,
            int people,
            boolean outage,
            @Nullable String authorisation,
            @Nullable String seasonFrom,
            @Nullable String seasonTo,
            Map<String, Integer> parts,
            List<String> covers) {

        Plan from(LocalDate starts) {
            return new Plan(
                    0,
                    0,
                    title,
                    procedure,
                    occasion,
                    assetClass,
                    null,
                    positions,
                    every,
                    amount,
                    amountTo,
                    counting,
                    before,
                    after,
                    null,
                    starts,
                    reason,
                    basis,
                    leadDays,
                    null,
                    people,
                    outage,
                    authorisation,
                    seasonFrom,
                    seasonTo,
                    parts,
                    covers,
                    false);
        }
    }

    /** A test of the past: its place in the plan, and how it went. */
    record PastJob(
            String asset,
            String position,
            String procedure,
            String reason,
            LocalDate opens,
            LocalDate due,
            LocalDate closes,
            @Nullable Long plan,
            DemoFleet.PastTest test,
            String late,
            boolean acceptance) {}

    /** What is tested in one go at a position, as the demo keeps it. */
    private record DemoSet(String position, List<JsonNode> items) {}

    /** Procedures, sets of tests and plans. */
    void lay(LocalDate today) {
        shipped.procedures();
        FamilyFiles.all("demo/sets.json").stream()
                .flatMap(f -> CoreJson.mapper().readValue(f.bytes(), new TypeReference<List<DemoSet>>() {}).stream())
                .forEach(s -> jdbc.sql("INSERT INTO test_set (position, items, changed_by) "
                                + "SELECT code, :items::jsonb, 'oster' FROM position WHERE code = :position")
                        .param("items", CoreJson.mapper().writeValueAsString(s.items))
                        .param("position", s.position)
                        .update());
        jdbc.sql("INSERT INTO part (code, name) VALUES ('defib-pads', 'Defibrillator pads, adult'), "
                        + "('beacon-battery', 'Beacon battery, release unit'), ('oil-filter', 'Oil filter, generator')")
                .update();
        jdbc.sql(
                        """
        INSERT INTO part_lot (part, lot, count, expires) VALUES ('defib-pads', 'P-2291', 4,
          CAST(:today AS date) + 24), ('defib-pads', 'P-2440', 12, CAST(:today AS date) + 410),
          ('defib-pads', 'P-1987', 2, CAST(:today AS date) - 16), ('beacon-battery', 'B-071', 3,
            CAST(:today AS date) + 900), ('oil-filter', 'F-3', 1, NULL)""")
                .param("today", today)
                .update();
        List<DemoPlan> all = FamilyFiles.all("demo/plans.json").stream()
                .flatMap(f -> CoreJson.mapper().readValue(f.bytes(), new TypeReference<List<DemoPlan>>() {}).stream())
                .toList();
        all.forEach(
                p -> plans.insert(p.from(p.every == null ? today.minusDays(120) : today.minusYears(YEARS)), "oster"));
        jdbc.sql("UPDATE site SET access_minutes = 600 WHERE code = 'VAU'").update();
        jdbc.sql("UPDATE site SET access_minutes = 480 WHERE code = 'COL'").update();
    }

    /** What people may do, when they are away, and outages. */
    void people(LocalDate today) {
        jdbc.sql(
                        """
        INSERT INTO authorisation (person, kind, since, expires) SELECT v.person, v.kind, CAST(:today AS date) - 900,
          CAST(:today AS date) + v.days
        FROM (VALUES ('tavel', 'medium-voltage switching', 200), ('brevan', 'medium-voltage switching', -6),
          ('marvet', 'medium-voltage switching', 420), ('marvet', 'protection', 300),
          ('tavel', 'protection', 21), ('brevan', 'medical devices', 510), ('tavel', 'medical devices',
            40)) v(person, kind, days) JOIN person p ON p.id = v.person""")
                .param("today", today)
                .update();
        jdbc.sql("INSERT INTO absence (person, from_day, to_day, why) SELECT id, CAST(:today AS date) + "
                        + "27, CAST(:today AS date) + 41, 'holiday' FROM person WHERE id = 'brevan'")
                .param("today", today)
                .update();
        jdbc.sql(
                        """
        INSERT INTO outage (site, position, from_day, to_day, state, words, by, at) SELECT v.site, NULL,
          CAST(:today AS date) + v.a, CAST(:today AS date) + v.b, v.state, v.words, 'oster', now()
        FROM (VALUES ('ORE', -2, 9, 'granted', 'Tunnel closed at night'), ('MFR', 12, 14, 'asked',
          'Ridge line, one feeder'), ('VAU', 5, 6, 'refused', 'Theatre list is full')) v(site, a, b, state, words)
          JOIN site s ON s.code = v.site""")
                .param("today", today)
                .update();
        jdbc.sql(
                        """
        INSERT INTO counter_reading (asset, day, value, by)
        SELECT i.asset, CAST(:today AS date) - 30 * n, 1480 + 9.5 * (48 - n) + CASE WHEN i.position LIKE 'VAU%%'
          THEN 212 ELSE 0 END, 'tavel'
        FROM installation i, generate_series(0, 48) n WHERE i.position LIKE '%%-GEN-%%' AND upper_inf(i.during)"""
                                .replace("%%", "%"))
                .param("today", today)
                .update();
    }

    /**
     * The past of the devices whose tests are entered by hand: what was done and how it went; what was missed is laid
     * at once.
     */
    List<PastJob> past(DemoFleet fleet, ZoneId zone) {
        Map<String, Map<String, List<Double>>> values = new HashMap<>();
        FamilyFiles.all("demo/values.json")
                .forEach(f -> values.putAll(CoreJson.mapper()
                        .readValue(f.bytes(), new TypeReference<Map<String, Map<String, List<Double>>>>() {})));
        List<Plan> recurring = plans.all().stream()
                .filter(p -> p.every() != null)
                .sorted(Comparator.comparing((Plan p) -> p.covers().isEmpty()).thenComparing(Plan::id))
                .toList();
        List<String> people = fleet.people().stream()
                .filter(p -> p.role().equals("technician"))
                .map(DemoFleet.Person::id)
                .toList();
        List<PastJob> told = new ArrayList<>();
        for (DemoFleet.Device d : fleet.devices()) {
            SplittableRandom random = new SplittableRandom(SEED + d.asset().hashCode());
            List<Plan> own = recurring.stream()
                    .filter(p -> d.assetClass().equals(p.assetClass()))
                    .toList();
            Map<String, List<Double>> measured = fleet.drifts().getOrDefault(d.asset(), Map.of());
            boolean knownPast = !measured.isEmpty()
                    || own.stream().allMatch(p -> values.containsKey(p.procedure()) || !isMeasured(p.procedure()));
            if (!d.stays().isEmpty()
                    && !own.isEmpty()
                    && knownPast
                    && fleet.past().getOrDefault(d.asset(), List.of()).stream()
                            .allMatch(DemoFleet.PastTest::isBrought)) {
                device(new Of(d, own, values, measured, people, fleet.today(), random), told);
            }
        }
        return told;
    }

    /** Whether gear measures something in a procedure, so that nobody could have entered it. */
    private boolean isMeasured(String procedure) {
        return procedures.newest(procedure).procedure().steps().stream()
                .anyMatch(s -> s.kind().measured());
    }

    private record Of(
            DemoFleet.Device device,
            List<Plan> plans,
            Map<String, Map<String, List<Double>>> values,
            Map<String, List<Double>> measured,
            List<String> people,
            LocalDate today,
            SplittableRandom random) {}

    private void device(Of of, List<PastJob> told) {
        LocalDate installed = of.device.stays().get(0).from();
        LocalDate gone = of.device.stays().get(of.device.stays().size() - 1).to();
        LocalDate end = gone == null ? of.today : gone;
        LocalDate start = of.today.minusYears(YEARS);
        Map<String, List<LocalDate>> longer = new HashMap<>();
        List<PastJob> mine = new ArrayList<>();
        Plan first = of.plans.get(0);
        if (!installed.isBefore(start)) {
            mine.add(test(
                    of,
                    first,
                    new Occurrence(installed, installed, installed.plusDays(14)),
                    installed,
                    "",
                    true,
                    installed));
            longer.computeIfAbsent(first.procedure(), c -> new ArrayList<>()).add(installed);
        }
        for (Plan plan : of.plans) {
            if ("hours".equals(plan.every())) {
                Occurrence last = new Occurrence(end.minusDays(500), end.minusDays(480), end.minusDays(450));
                mine.add(test(of, plan, last, end.minusDays(470), "", false, installed));
                continue;
            }
            // What is rarely due reaches further back, so that there is one test to count from.
            boolean rare = "months".equals(plan.every()) && plan.amount() > 24;
            Recurrence recurrence = (Recurrence) plan.timing(installed);
            List<LocalDate> done = new ArrayList<>(longer.getOrDefault(plan.procedure(), List.of()));
            if (installed.isBefore(start) && !rare) {
                done.add(
                        recurrence.counting() == Recurrence.Counting.DUE
                                ? start
                                : start.minusDays(of.random.nextInt(20)));
            }
            List<LocalDate> covering = of.plans.stream()
                    .filter(p -> p.covers().contains(plan.procedure()))
                    .flatMap(p -> longer.getOrDefault(p.procedure(), List.of()).stream())
                    .sorted()
                    .toList();
            for (int i = 0; i < 400; i++) {
                Occurrence due = Objects.requireNonNull(recurrence.next(done, Counter.NONE));
                LocalDate cover = covering.stream()
                        .filter(c -> due.holds(c) && !done.contains(c))
                        .findFirst()
                        .orElse(null);
                if (cover != null) {
                    done.add(cover);
                    continue;
                }
                if (!due.due().isBefore(end)) {
                    break;
                }
                double luck = of.random.nextDouble();
                if (luck < MISSED
                        && recurrence.counting() == Recurrence.Counting.DUE
                        && recurrence.interval() instanceof Interval.Months m
                        && due.due().plusMonths(m.months()).isBefore(end)) {
                    missed(of, plan, due);
                    done.add(due.due());
                    continue;
                }
                // Of what fell due of late more is still to be done.
                boolean late = luck < MISSED + (due.closes().isAfter(end.minusDays(30)) ? LATE_NOW : LATE);
                LocalDate day =
                        workday(late ? due.closes().plusDays(1 + of.random.nextInt(24)) : inside(due, of.random));
                late = day.isAfter(due.closes());
                if (!day.isBefore(end)) {
                    break;
                }
                done.add(day);
                longer.computeIfAbsent(plan.procedure(), c -> new ArrayList<>()).add(day);
                mine.add(test(
                        of,
                        plan,
                        due,
                        day,
                        late ? WHY_LATE.get(of.random.nextInt(WHY_LATE.size())) : "",
                        false,
                        installed));
            }
        }
        mine.sort(Comparator.comparing(t -> t.test().day()));
        told.addAll(mine);
    }

    private static LocalDate inside(Occurrence due, SplittableRandom random) {
        int before = (int) Math.min(12, java.time.temporal.ChronoUnit.DAYS.between(due.opens(), due.due()));
        int after = (int) Math.min(7, java.time.temporal.ChronoUnit.DAYS.between(due.due(), due.closes()));
        return due.due().minusDays(before).plusDays(random.nextInt(before + after + 1));
    }

    private static LocalDate workday(LocalDate day) {
        return day.getDayOfWeek() == DayOfWeek.SATURDAY
                ? day.minusDays(1)
                : day.getDayOfWeek() == DayOfWeek.SUNDAY ? day.plusDays(1) : day;
    }

    private static String place(DemoFleet.Device d, LocalDate day) {
        return d.stays().stream()
                .filter(s -> !day.isBefore(s.from()) && (s.to() == null || day.isBefore(s.to())))
                .findFirst()
                .orElse(d.stays().get(d.stays().size() - 1))
                .position();
    }

    /** Readings drift from where they began, each device at a pace of its own. */
    private static PastJob test(
            Of of, Plan plan, Occurrence due, LocalDate day, String late, boolean acceptance, LocalDate installed) {
        Map<String, Double> values = new TreeMap<>();
        of.values.getOrDefault(plan.procedure(), Map.of()).forEach((point, model) -> {
            SplittableRandom own = new SplittableRandom(SEED + (of.device.asset() + point).hashCode());
            double years = java.time.temporal.ChronoUnit.DAYS.between(installed, day) / 365.25;
            double pace = 0.3 + 1.2 * own.nextDouble() + (own.nextInt(28) == 0 ? 1.6 : 0);
            double start = model.get(0);
            double spread = model.get(1);
            double drift = model.get(2);
            // Around zero, drift and spread are in the unit; else they are shares.
            boolean absolute = Math.abs(drift) > 0.12 || Math.abs(start) < 1 && spread >= 0.3;
            double first = start * (1 + (absolute ? 0 : 2 * spread * (own.nextDouble() - 0.5)));
            double value = absolute
                    ? first
                            + drift * pace * years
                            + spread * Math.max(1, Math.abs(start)) * 0.5 * (of.random.nextDouble() - 0.5)
                    : first * Math.exp(drift * pace * years) * (1 + spread * (of.random.nextDouble() - 0.5));
            values.put(
                    point,
                    new java.math.BigDecimal(value)
                            .round(new java.math.MathContext(3))
                            .doubleValue());
        });
        // What gear measured: a straight line from when it was new, by the physics of the device, and the spread of a
        // reading.
        of.measured.forEach((key, line) -> {
            double years = java.time.temporal.ChronoUnit.DAYS.between(installed, day) / 365.25;
            double value = line.get(0) + line.get(1) * years + line.get(2) * 2 * (of.random.nextDouble() - 0.5);
            values.put(
                    key,
                    new java.math.BigDecimal(value)
                            .round(new java.math.MathContext(5))
                            .doubleValue());
        });
        DemoFleet.PastTest test = new DemoFleet.PastTest(
                day,
                of.people.get(Math.floorMod((plan.procedure() + day.getYear()).hashCode(), of.people.size())),
                plan.procedure(),
                Map.of(),
                List.of(),
                values,
                List.of());
        return new PastJob(
                of.device.asset(),
                place(of.device, day),
                plan.procedure(),
                acceptance ? "acceptance" : plan.why(),
                due.opens(),
                due.due(),
                due.closes(),
                acceptance ? null : plan.id(),
                test,
                late,
                acceptance);
    }

    private void missed(Of of, Plan plan, Occurrence due) {
        long id = jdbc.sql(
                        """
        INSERT INTO job (asset, plan, position, procedure, reason, occasion, opens, due, closes, status)
          VALUES (:asset, :plan, :position, :procedure, :reason, 'interval', :opens, :due, :closes, 'missed')
        RETURNING id""")
                .param("asset", of.device.asset())
                .param("plan", plan.id())
                .param("position", place(of.device, due.due()))
                .param("procedure", plan.procedure())
                .param("reason", plan.why())
                .param("opens", due.opens())
                .param("due", due.due())
                .param("closes", due.closes())
                .query(Long.class)
                .single();
        decided(id, "cannot", due.closes(), WHY_MISSED.get(of.random.nextInt(WHY_MISSED.size())));
    }

    /** What somebody said of a job on a day. */
    void decided(long job, String kind, LocalDate day, String why) {
        jdbc.sql("INSERT INTO job_decision (job, at, by, kind, why) VALUES (:job, CAST(:day AS timestamp) "
                        + "+ interval '10 hours', 'oster', :kind, :why)")
                .param("job", job)
                .param("day", day)
                .param("kind", kind)
                .param("why", why)
                .update();
    }

    /** A radio whose crystal has drifted is to be aligned, one that a rescue post finds deaf to be tested. */
    private void raised(LocalDate today) {
        jdbc.sql(
                        """
        INSERT INTO job (asset, position, procedure, reason, occasion, opens, due, closes, minutes, status)
        SELECT i.asset, i.position, v.procedure, v.reason, 'finding', :today, CAST(:today AS date) + 5,
          CAST(:today AS date) + 14, v.minutes, 'open'
        FROM (VALUES ('TES-RAD-02', 'RAD-ALIGN', 'finding: frequency error of 2.4 of 2.5 ppm and rising', 25),
          ('MFR-RAD-01', 'RAD-YEARLY', 'finding: the control room is hardly heard on VHF', 23)) v(position,
          procedure, reason, minutes)
          JOIN installation i ON i.position = v.position AND upper_inf(i.during) JOIN asset a ON a.id = i.asset
            AND a.class = 'land-mobile-radio'""")
                .param("today", today)
                .update();
    }

    /** Open jobs ahead of time, then this week's rounds, a deferral and some that cannot be done. */
    void week(LocalDate today) {
        horizon.layAll();
        raised(today);
        List<String> people = jdbc.sql(
                        "SELECT id FROM person WHERE role = 'technician' ORDER BY array_position(ARRAY['tavel', "
                                + "'brevan', 'marvet'], id), id")
                .query(String.class)
                .list();
        List<String> families =
                List.of("{breakers,fibre,cables}", "{medical,standby power}", "{radios,networks,machines,meters}");
        LocalDate monday = today.with(java.time.temporal.TemporalAdjusters.previousOrSame(DayOfWeek.MONDAY));
        for (int p = 0; p < people.size(); p++) {
            for (LocalDate day = today; !day.isAfter(monday.plusDays(4)) || day.equals(today); day = day.plusDays(1)) {
                round(
                        people.get(p),
                        day,
                        families.get(Math.min(p, families.size() - 1)),
                        day.equals(today) ? 250 : 210);
            }
            jdbc.sql(
                            """
          UPDATE job j SET person = :person, planned_for = done_on FROM run r WHERE r.job = j.id
            AND j.done_on >= :monday AND j.status = 'done' AND j.person IS NULL
            AND (SELECT e.by FROM event e WHERE e.run = r.id AND e.n = 1) LIKE '%' || :person""")
                    .param("person", people.get(p))
                    .param("monday", monday)
                    .update();
        }
        jdbc.sql("INSERT INTO round (person, day) SELECT DISTINCT person, planned_for FROM job WHERE "
                        + "person IS NOT NULL ON CONFLICT DO NOTHING")
                .update();
        jdbc.sql(
                        """
        UPDATE job SET cannot = 'device missing' WHERE id = (SELECT id FROM job WHERE status = 'open'
          AND planned_for IS NULL AND procedure = 'INF-YEARLY' AND opens <= :today ORDER BY due, id LIMIT 1)""")
                .param("today", today)
                .update();
        jdbc.sql("SELECT id FROM job WHERE cannot IS NOT NULL")
                .query(Long.class)
                .list()
                .forEach(id -> decided(
                        id,
                        "cannot",
                        today.minusDays(2),
                        "device missing: lent to the valley hospital until next week"));
        jdbc.sql(
                        """
        UPDATE job SET deferred_to = CAST(:today AS date) + 30 WHERE id = (SELECT id FROM job WHERE status = 'open'
          AND planned_for IS NULL AND cannot IS NULL AND procedure <> 'CBK-YEARLY' AND opens <= :today ORDER BY due,
          id LIMIT 1)""")
                .param("today", today)
                .update();
        jdbc.sql("SELECT id FROM job WHERE deferred_to IS NOT NULL")
                .query(Long.class)
                .list()
                .forEach(id -> decided(id, "deferred", today.minusDays(9), "Waits for the outage of the new year"));
    }

    /** The most urgent that fit into the minutes, of the families a person works on. */
    private void round(String person, LocalDate day, String families, int minutes) {
        jdbc.sql(
                        """
        WITH free AS (
          SELECT j.id, sum(j.minutes) OVER (ORDER BY (j.position = 'MFR-CBK-07') DESC, j.due, j.id) AS up_to
            FROM job j JOIN position p ON p.code = j.position LEFT JOIN plan l ON l.id = j.plan
          WHERE j.status = 'open' AND j.planned_for IS NULL AND j.opens <= :day
            AND p.family = ANY (CAST(:families AS text[])) AND j.due <= CAST(:day AS date) + 12
            AND NOT coalesce(l.outage, false) AND (j.closes >= CAST(:day AS date) OR j.id % 3 > 0))
        UPDATE job SET person = :person, planned_for = :day, fixed = true FROM free f
          WHERE f.id = job.id AND f.up_to <= :minutes""")
                .param("day", day)
                .param("families", families)
                .param("person", person)
                .param("minutes", minutes)
                .update();
    }
}
