package org.juratest.server.plan;

import java.time.LocalDate;
import java.time.MonthDay;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.juratest.core.plan.Readiness;
import org.juratest.core.plan.Readiness.Lack;
import org.springframework.jdbc.core.simple.JdbcClient;

/** What is there for jobs: outages, authorisations, parts, and who is where on which day. Read once for many jobs. */
public final class ReadyFacts {

    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("d MMM yyyy", Locale.UK);
    private static final DateTimeFormatter OF_YEAR = DateTimeFormatter.ofPattern("d MMM", Locale.UK);

    private final List<OutageView> outages;
    private final List<Readiness.Authorisation> authorisations;
    private final List<Lot> lots;
    private final Map<String, String> partNames = new HashMap<>();
    private final Map<String, String> names = new HashMap<>();
    /** Who is at a site on a day, by "site day". */
    private final Map<String, Set<String>> presence = new HashMap<>();

    /**
     * An outage or permit.
     *
     * @param position absent for the whole site
     * @param state {@code asked}, {@code granted} or {@code refused}
     */
    public record OutageView(
            long id,
            String site,
            @Nullable String position,
            LocalDate fromDay,
            LocalDate toDay,
            String state,
            String words,
            String by) {

        /** Whether it covers a position of a site. */
        public boolean covers(String at, String place) {
            return site.equals(at) && (position == null || position.equals(place));
        }

        /** How it stands. */
        public Readiness.Outage how() {
            return Readiness.Outage.valueOf(state.toUpperCase(Locale.ROOT));
        }
    }

    /** A lot of a part. */
    public record Lot(String part, String name, String lot, int count, @Nullable LocalDate expires) {

        public boolean usable(LocalDate day) {
            return expires == null || !day.isAfter(expires);
        }
    }

    ReadyFacts(JdbcClient jdbc) {
        outages = outages(jdbc);
        authorisations = authorisations(jdbc);
        lots = lots(jdbc);
        jdbc.sql("SELECT code, name FROM part").query(rs -> {
            partNames.put(rs.getString(1), rs.getString(2));
        });
        jdbc.sql("SELECT id, name FROM person").query(rs -> {
            names.put(rs.getString(1), rs.getString(2));
        });
        jdbc.sql("SELECT DISTINCT p.site, j.planned_for, j.person FROM job j JOIN position p ON p.code = "
                        + "j.position WHERE j.planned_for >= current_date - 1 AND j.person IS NOT NULL")
                .query(rs -> {
                    presence.computeIfAbsent(
                                    rs.getString(1) + " " + rs.getObject(2, LocalDate.class), k -> new HashSet<>())
                            .add(rs.getString(3));
                });
    }

    /** Authorisations of everybody. */
    public static List<Readiness.Authorisation> authorisations(JdbcClient jdbc) {
        return jdbc.sql("SELECT person, kind, since, expires FROM authorisation ORDER BY kind, person")
                .query((rs, i) -> new Readiness.Authorisation(
                        rs.getString(1),
                        rs.getString(2),
                        rs.getObject(3, LocalDate.class),
                        rs.getObject(4, LocalDate.class)))
                .list();
    }

    /** Outages and permits, first day first. */
    public static List<OutageView> outages(JdbcClient jdbc) {
        return jdbc.sql("SELECT o.id, o.site, o.position, o.from_day, o.to_day, o.state, o.words, "
                        + "coalesce(p.name, o.by) FROM outage o LEFT JOIN person p ON p.id = o.by ORDER "
                        + "BY o.from_day, o.id")
                .query((rs, i) -> new OutageView(
                        rs.getLong(1),
                        rs.getString(2),
                        rs.getString(3),
                        rs.getObject(4, LocalDate.class),
                        rs.getObject(5, LocalDate.class),
                        rs.getString(6),
                        rs.getString(7),
                        rs.getString(8)))
                .list();
    }

    /** Lots of all parts, those that expire first in front. */
    public static List<Lot> lots(JdbcClient jdbc) {
        return jdbc.sql("SELECT l.part, p.name, l.lot, l.count, l.expires FROM part_lot l JOIN part p ON p.code "
                        + "= l.part ORDER BY p.name, l.expires NULLS LAST, l.lot")
                .query((rs, i) -> new Lot(
                        rs.getString(1),
                        rs.getString(2),
                        rs.getString(3),
                        rs.getInt(4),
                        rs.getObject(5, LocalDate.class)))
                .list();
    }

    /** Lots of a part, the one that expires first in front. */
    public List<Lot> lotsOf(String part) {
        return lots.stream().filter(l -> l.part.equals(part) && l.count > 0).toList();
    }

    public String partName(String part) {
        return partNames.getOrDefault(part, part);
    }

    public String personName(String person) {
        return names.getOrDefault(person, person);
    }

    private Readiness.Outage outage(String site, String position, LocalDate day) {
        return Readiness.outage(outages.stream()
                .filter(o -> o.covers(site, position) && !day.isBefore(o.fromDay) && !day.isAfter(o.toDay))
                .map(OutageView::how)
                .toList());
    }

    /**
     * What a job lacks on a day, in words; empty where it is ready.
     *
     * @param person absent while it is nobody's
     */
    public List<String> lacks(Plan plan, String site, String position, @Nullable String person, LocalDate day) {
        Map<String, Integer> usable = new HashMap<>();
        lots.stream().filter(l -> l.usable(day)).forEach(l -> usable.merge(l.part, l.count, Integer::sum));
        List<String> people = new ArrayList<>();
        if (person != null) {
            people.add(person);
            presence.getOrDefault(site + " " + day, Set.of()).stream()
                    .filter(p -> !p.equals(person))
                    .forEach(people::add);
        }
        return Readiness.lacks(
                        plan.needs(),
                        new Readiness.There(outage(site, position, day), people, authorisations, usable),
                        day)
                .stream()
                .map(this::words)
                .toList();
    }

    private String words(Lack lack) {
        if (lack instanceof Lack.OutageLacks outage) {
            return switch (outage.how()) {
                case REFUSED -> "outage refused";
                case ASKED -> "outage asked for, not granted yet";
                default -> "outage not asked for yet";
            };
        } else if (lack instanceof Lack.AuthorisationLacks a) {
            return a.person() == null
                    ? "nobody is authorised for " + a.kind() + " on that day"
                    : a.ended() == null
                            ? personName(a.person()) + " is not authorised for " + a.kind()
                            : personName(a.person()) + "'s authorisation for " + a.kind() + " ended "
                                    + DAY.format(a.ended());
        } else if (lack instanceof Lack.PeopleLack p) {
            return "needs " + p.needed() + " people at the site, " + p.there() + " planned";
        } else if (lack instanceof Lack.OutOfSeason s) {
            return "out of season: only " + ofYear(s.season().from()) + " to "
                    + ofYear(s.season().to());
        }
        Lack.PartsLack parts = (Lack.PartsLack) lack;
        return "needs " + parts.needed() + " \u00d7 " + partName(parts.part()) + ", " + parts.there()
                + " usable on that day";
    }

    private static String ofYear(MonthDay day) {
        return OF_YEAR.format(day);
    }
}
