package org.juratest.server.round;

import java.time.Instant;
import java.time.LocalDate;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.GearNeed;
import org.juratest.server.family.Families;
import org.juratest.server.gear.GearStore;
import org.juratest.server.plan.Plan;
import org.juratest.server.plan.ReadyFacts;
import org.juratest.server.procedure.Procedures;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Component;

/** What has to be taken along for a day: gear that is free and in calibration then, and parts that have not expired. */
@Component
class Loadouts {

    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("d MMM yyyy", Locale.UK);
    /** A part that expires within so many days after the day is said to. */
    private static final int SOON_DAYS = 60;

    private final JdbcClient jdbc;
    private final Procedures procedures;
    private final GearStore gear;

    Loadouts(JdbcClient jdbc, Procedures procedures, GearStore gear) {
        this.jdbc = jdbc;
        this.procedures = procedures;
        this.gear = gear;
    }

    /**
     * Something to take along.
     *
     * @param item key it is ticked by
     * @param name of the gear or part
     * @param state its calibration or expiry on the day, in words
     * @param holds whether it may be used on the day
     * @param detail leads, ranges, how many: what the procedures need of it
     * @param ticked when it was ticked off; absent while it is not
     */
    record LoadItem(
            String item,
            String kind,
            String name,
            String state,
            boolean holds,
            String detail,
            @Nullable Instant ticked,
            @Nullable String tickedBy) {}

    /** A loadout with what is wrong about it, in words. */
    record Loadout(List<LoadItem> items, List<String> conflicts) {}

    /**
     * Of a person's day.
     *
     * @param mine the person's jobs
     * @param others everybody's of the day, with the person's
     */
    Loadout of(
            String person,
            LocalDate day,
            Collection<RoundRows.Row> mine,
            Collection<RoundRows.Row> others,
            Map<Long, Plan> plans,
            ReadyFacts facts) {
        Map<String, Tick> ticks = new HashMap<>();
        jdbc.sql("SELECT t.item, t.at, coalesce(p.name, t.by) FROM round_tick t LEFT JOIN person p ON "
                        + "p.id = t.by WHERE t.person = :person AND t.day = :day")
                .param("person", person)
                .param("day", day)
                .query(rs -> {
                    ticks.put(rs.getString(1), new Tick(rs.getTimestamp(2).toInstant(), rs.getString(3)));
                });
        List<LoadItem> items = new ArrayList<>();
        List<String> conflicts = new ArrayList<>();
        gear(person, day, mine, others, facts, ticks, items, conflicts);
        parts(day, mine, plans, facts, ticks, items);
        return new Loadout(items, conflicts);
    }

    /** A role of gear as people call it. */
    private static String spoken(String role) {
        return Families.gearWord(role);
    }

    private record Tick(Instant at, String by) {}

    private static LoadItem item(
            String key, String kind, String name, String state, boolean holds, String detail, Map<String, Tick> ticks) {
        Tick tick = ticks.get(key);
        return new LoadItem(
                key, kind, name, state, holds, detail, tick == null ? null : tick.at, tick == null ? null : tick.by);
    }

    private Map<String, Set<String>> needs(Collection<RoundRows.Row> jobs) {
        Map<String, Set<String>> byRole = new LinkedHashMap<>();
        jobs.stream().map(RoundRows.Row::procedure).distinct().forEach(code -> needs(code)
                .forEach(n -> byRole.computeIfAbsent(n.role(), r -> new LinkedHashSet<>())
                        .add(n.needs())));
        return byRole;
    }

    private List<GearNeed> needs(String code) {
        try {
            return procedures.newest(code).procedure().gear();
        } catch (NotFoundException e) {
            // Planned before its procedure is written: nothing is known of what it needs.
            return List.of();
        }
    }

    private void gear(
            String person,
            LocalDate day,
            Collection<RoundRows.Row> mine,
            Collection<RoundRows.Row> others,
            ReadyFacts facts,
            Map<String, Tick> ticks,
            List<LoadItem> items,
            List<String> conflicts) {
        Map<String, List<RoundRows.Row>> byPerson = new TreeMap<>();
        others.forEach(r ->
                byPerson.computeIfAbsent(r.person(), p -> new ArrayList<>()).add(r));
        Map<String, Set<String>> rolesOf = new TreeMap<>();
        byPerson.forEach((p, rows) -> rolesOf.put(p, needs(rows).keySet()));
        needs(mine).forEach((role, words) -> {
            List<String> wanting = new ArrayList<>(new TreeSet<>(rolesOf.keySet().stream()
                    .filter(p -> rolesOf.get(p).contains(role))
                    .toList()));
            int turn = Math.max(0, wanting.indexOf(person));
            List<GearStore.Gear> all =
                    gear.all().stream().filter(g -> g.role().equals(role)).toList();
            List<GearStore.Gear> usable =
                    all.stream().filter(g -> g.facts("").holdsOn(day)).toList();
            String detail = String.join("; ", words);
            // What has run out is shown first, so that nobody takes it by habit.
            all.stream()
                    .filter(g -> !usable.contains(g))
                    .forEach(g -> items.add(item(
                            "gear:" + g.id(),
                            "gear",
                            g.name(),
                            (g.calibratedTo() == null
                                            ? "never calibrated"
                                            : "calibration ended " + DAY.format(g.calibratedTo()))
                                    + (turn < usable.size()
                                            ? ": take " + usable.get(turn).name()
                                            : ": none else is free"),
                            false,
                            detail,
                            ticks)));
            if (turn < usable.size()) {
                GearStore.Gear g = usable.get(turn);
                items.add(item(
                        "gear:" + g.id(),
                        "gear",
                        g.name(),
                        "calibrated to " + DAY.format(java.util.Objects.requireNonNull(g.calibratedTo())),
                        true,
                        detail,
                        ticks));
            } else {
                if (all.isEmpty() || !usable.isEmpty()) {
                    items.add(item(
                            "role:" + role,
                            "gear",
                            Character.toUpperCase(spoken(role).charAt(0))
                                    + spoken(role).substring(1),
                            all.isEmpty() ? "none in the stores" : "all are taken on that day",
                            false,
                            detail,
                            ticks));
                }
                conflicts.add(
                        usable.isEmpty()
                                ? "No " + spoken(role) + " is in calibration on that day."
                                : "Every " + spoken(role) + " in calibration is taken on that day, by "
                                        + String.join(
                                                " and ",
                                                wanting.subList(0, usable.size()).stream()
                                                        .map(facts::personName)
                                                        .toList())
                                        + ".");
            }
        });
    }

    private static void parts(
            LocalDate day,
            Collection<RoundRows.Row> mine,
            Map<Long, Plan> plans,
            ReadyFacts facts,
            Map<String, Tick> ticks,
            List<LoadItem> items) {
        Map<String, Integer> needed = new TreeMap<>();
        mine.forEach(r -> {
            Plan plan = r.plan() == null ? null : plans.get(r.plan());
            if (plan != null) {
                plan.parts().forEach((part, count) -> needed.merge(part, count, Integer::sum));
            }
        });
        needed.forEach((part, count) -> {
            int left = count;
            for (ReadyFacts.Lot lot : facts.lotsOf(part)) {
                LocalDate expires = lot.expires();
                if (!lot.usable(day)) {
                    items.add(item(
                            "part:" + part + ":" + lot.lot(),
                            "part",
                            lot.name() + ", lot " + lot.lot(),
                            "expired " + DAY.format(java.util.Objects.requireNonNull(expires)) + ": leave it",
                            false,
                            lot.count() + " in the stores",
                            ticks));
                } else if (left > 0) {
                    int take = Math.min(left, lot.count());
                    left -= take;
                    items.add(item(
                            "part:" + part + ":" + lot.lot(),
                            "part",
                            take + " \u00d7 " + lot.name() + ", lot " + lot.lot(),
                            expires == null
                                    ? "does not expire"
                                    : (expires.isBefore(day.plusDays(SOON_DAYS)) ? "expires soon, " : "expires ")
                                            + DAY.format(expires),
                            true,
                            lot.count() + " in the stores",
                            ticks));
                }
            }
            if (left > 0) {
                items.add(item(
                        "part:" + part,
                        "part",
                        left + " \u00d7 " + facts.partName(part),
                        "not in the stores",
                        false,
                        count + " needed",
                        ticks));
            }
        });
    }
}
