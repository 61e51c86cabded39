package org.juratest.server.share;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.juratest.core.plan.DayRoute;
import org.juratest.core.plan.Readiness;
import org.juratest.core.procedure.GearNeed;
import org.juratest.core.share.ShareProblem;
import org.juratest.server.gear.GearStore;
import org.juratest.server.job.Jobs;
import org.juratest.server.plan.Plan;
import org.juratest.server.plan.Plans;
import org.juratest.server.plan.ReadyFacts;
import org.juratest.server.procedure.Procedures;
import org.juratest.server.web.NotFoundException;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Gathers what is to be shared out: open jobs and all that they have to keep to, as they are now. */
@Component
class ShareFacts {

    private final JdbcClient jdbc;
    private final Plans plans;
    private final Procedures procedures;
    private final GearStore gear;
    private final double kmPerHour;
    private final double boarding;

    ShareFacts(
            JdbcClient jdbc,
            Plans plans,
            Procedures procedures,
            GearStore gear,
            @Value("${juratest.line.km-per-hour:18}") double kmPerHour,
            @Value("${juratest.line.boarding-minutes:4}") double boarding) {
        this.jdbc = jdbc;
        this.plans = plans;
        this.procedures = procedures;
        this.gear = gear;
        this.kmPerHour = kmPerHour;
        this.boarding = boarding;
    }

    private record Row(
            long id,
            String position,
            String site,
            String procedure,
            int minutes,
            LocalDate opens,
            LocalDate due,
            LocalDate closes,
            @Nullable LocalDate deferredTo,
            @Nullable Long plan,
            @Nullable String barred,
            @Nullable LocalDate day,
            @Nullable String person,
            boolean fixed) {}

    /**
     * Everything that may be done between two days, read at one moment.
     *
     * @param today the day before the first, or earlier
     * @param days from {@code first} on
     */
    @Transactional(readOnly = true)
    public ShareProblem problem(LocalDate today, LocalDate first, int days) {
        LocalDate last = first.plusDays(days - 1L);
        List<ShareProblem.Site> sites = jdbc.sql("SELECT code, km, access_minutes FROM site ORDER BY km, code")
                .query((rs, i) ->
                        new ShareProblem.Site(rs.getString(1), rs.getDouble(2), rs.getObject(3, Integer.class)))
                .list();
        List<ReadyFacts.OutageView> outages = ReadyFacts.outages(jdbc);
        Map<Long, Plan> byId = plans.all().stream().collect(Collectors.toMap(Plan::id, p -> p));
        Map<String, Set<String>> roles = new HashMap<>();
        List<ShareProblem.Job> jobs = rows(today, first, last).stream()
                .map(r -> job(r, byId, outages, roles.computeIfAbsent(r.procedure, this::roles)))
                .toList();
        return new ShareProblem(
                today,
                first,
                days,
                new DayRoute(
                        sites.stream().mapToDouble(ShareProblem.Site::km).min().orElse(0), kmPerHour, boarding, 480),
                sites,
                people(first, last),
                jobs,
                gear(),
                lots(),
                byHand(first, last));
    }

    /** Open jobs of the days, and what is planned in them already; what is on today's rounds is being done. */
    private List<Row> rows(LocalDate today, LocalDate first, LocalDate last) {
        return jdbc
                .sql(
                        """
        SELECT j.id, j.position, p.site, j.procedure, j.minutes, j.opens, j.due, j.closes, j.deferred_to, j.plan,
          coalesce(a.do_not_use, j.cannot), j.planned_for, j.person, j.fixed
        FROM job j JOIN position p ON p.code = j.position JOIN asset a ON a.id = j.asset
        WHERE j.status IN ('open', 'partly done') AND (j.planned_for BETWEEN :first AND :last
          OR (j.opens <= :last AND (j.deferred_to IS NULL OR j.deferred_to <= :last)
            AND (j.planned_for IS NULL OR j.planned_for < :today)))
        ORDER BY j.due, j.id""")
                .param("today", today)
                .param("first", first)
                .param("last", last)
                .query((rs, i) -> new Row(
                        rs.getLong(1),
                        rs.getString(2),
                        rs.getString(3),
                        rs.getString(4),
                        rs.getInt(5),
                        rs.getObject(6, LocalDate.class),
                        rs.getObject(7, LocalDate.class),
                        rs.getObject(8, LocalDate.class),
                        rs.getObject(9, LocalDate.class),
                        rs.getObject(10, Long.class),
                        rs.getString(11),
                        rs.getObject(12, LocalDate.class),
                        rs.getString(13),
                        rs.getBoolean(14)))
                .list()
                .stream()
                .map(r -> r.day != null && r.day.isBefore(first) ? off(r) : r)
                .toList();
    }

    /** Left over from a day that is gone. */
    private static Row off(Row r) {
        return new Row(
                r.id,
                r.position,
                r.site,
                r.procedure,
                r.minutes,
                r.opens,
                r.due,
                r.closes,
                r.deferredTo,
                r.plan,
                r.barred,
                null,
                null,
                false);
    }

    private static ShareProblem.Job job(
            Row r, Map<Long, Plan> plans, List<ReadyFacts.OutageView> outages, Set<String> roles) {
        Plan plan = r.plan == null ? null : plans.get(r.plan);
        ShareProblem.PersonDay now =
                r.day == null || r.person == null ? null : new ShareProblem.PersonDay(r.person, r.day);
        // A day that was chosen while it is nobody's: whoever it is given to does it then.
        boolean dayOnly = r.fixed && r.day != null && r.person == null;
        return new ShareProblem.Job(
                r.id,
                r.position,
                r.site,
                r.minutes,
                dayOnly ? r.day : r.opens,
                dayOnly ? r.day : r.due,
                dayOnly ? r.day : r.closes,
                dayOnly ? null : r.deferredTo,
                plan == null ? new Readiness.Needs(false, null, 1, null, Map.of()) : plan.needs(),
                roles,
                outages.stream()
                        .filter(o -> o.covers(r.site, r.position))
                        .map(o -> new ShareProblem.Span(o.fromDay(), o.toDay(), o.how()))
                        .toList(),
                r.barred,
                now,
                r.fixed && now != null);
    }

    private Set<String> roles(String procedure) {
        try {
            return procedures.newest(procedure).procedure().gear().stream()
                    .map(GearNeed::role)
                    .collect(Collectors.toSet());
        } catch (NotFoundException e) {
            // Planned before its procedure is written: nothing is known of what it needs.
            return Set.of();
        }
    }

    private List<ShareProblem.Worker> people(LocalDate first, LocalDate last) {
        Map<String, Set<LocalDate>> away = new HashMap<>();
        jdbc.sql("SELECT person, greatest(from_day, :first), least(to_day, :last) FROM absence WHERE from_day <= :last "
                        + "AND to_day >= :first")
                .param("first", first)
                .param("last", last)
                .query(rs -> {
                    Set<LocalDate> days = away.computeIfAbsent(rs.getString(1), p -> new HashSet<>());
                    rs.getObject(2, LocalDate.class)
                            .datesUntil(rs.getObject(3, LocalDate.class).plusDays(1))
                            .forEach(days::add);
                });
        Map<String, List<Readiness.Authorisation>> held = new HashMap<>();
        ReadyFacts.authorisations(jdbc).forEach(a -> held.computeIfAbsent(a.person(), p -> new ArrayList<>())
                .add(a));
        return jdbc.sql("SELECT id, minutes_a_day FROM person WHERE active AND minutes_a_day > 0 AND "
                        + "(role = 'technician' "
                        + "OR id IN (SELECT person FROM job WHERE planned_for BETWEEN :first AND :last)) "
                        + "ORDER BY id")
                .param("first", first)
                .param("last", last)
                .query((rs, i) -> new ShareProblem.Worker(
                        rs.getString(1),
                        rs.getInt(2),
                        away.getOrDefault(rs.getString(1), Set.of()),
                        held.getOrDefault(rs.getString(1), List.of())))
                .list();
    }

    private Map<String, List<LocalDate>> gear() {
        Map<String, List<LocalDate>> last = new HashMap<>();
        gear.all().stream().filter(g -> g.calibratedTo() != null).forEach(g -> last.computeIfAbsent(
                        g.role(), r -> new ArrayList<>())
                .add(g.calibratedTo()));
        return last;
    }

    private Map<String, List<ShareProblem.Lot>> lots() {
        Map<String, List<ShareProblem.Lot>> lots = new HashMap<>();
        ReadyFacts.lots(jdbc).forEach(l -> lots.computeIfAbsent(l.part(), p -> new ArrayList<>())
                .add(new ShareProblem.Lot(l.count(), l.expires())));
        return lots;
    }

    private Set<ShareProblem.PersonDay> byHand(LocalDate first, LocalDate last) {
        return jdbc
                .sql("SELECT DISTINCT person, planned_for FROM job WHERE place > 0 AND person IS NOT NULL AND "
                        + "planned_for BETWEEN :first AND :last AND status IN " + Jobs.OPEN)
                .param("first", first)
                .param("last", last)
                .query((rs, i) -> new ShareProblem.PersonDay(rs.getString(1), rs.getObject(2, LocalDate.class)))
                .list()
                .stream()
                .collect(Collectors.toSet());
    }
}
