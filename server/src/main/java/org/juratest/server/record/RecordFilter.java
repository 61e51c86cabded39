package org.juratest.server.record;

import java.sql.Types;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.juratest.core.run.Refusal;
import org.springframework.jdbc.core.namedparam.MapSqlParameterSource;

/**
 * Which records are meant. What is absent does not narrow them.
 *
 * @param text part of a position, a serial number or a model
 * @param person sign-in name of who finished it
 * @param verdict {@code pass}, {@code marginal}, {@code outside}, {@code fail} or {@code incomplete}
 * @param signing {@code unsigned}, {@code signed} (waits for review), {@code returned} or {@code reviewed}
 * @param from first day, at the sites
 * @param to last day, at the sites
 */
public record RecordFilter(
        @Nullable String asset,
        @Nullable String position,
        @Nullable String site,
        @Nullable String text,
        @Nullable String person,
        @Nullable String procedure,
        @Nullable String verdict,
        @Nullable String signing,
        @Nullable LocalDate from,
        @Nullable LocalDate to) {

    private static final Map<String, String> VERDICTS = Map.of(
            "pass",
            "r.complete AND r.verdict = 'pass'",
            "marginal",
            "r.complete AND r.verdict = 'marginalInside'",
            "outside",
            "r.complete AND r.verdict = 'marginalOutside'",
            "fail",
            "r.verdict = 'fail'",
            "incomplete",
            "NOT r.complete");
    /** A record number begins with its position. Two searches, as one condition over two tables has no index. */
    private static final String PART =
            """
      r.id IN (SELECT id FROM run WHERE status = 'finished' AND record ILIKE :text
        UNION SELECT n.id FROM run n JOIN asset d ON d.id = n.asset WHERE n.status = 'finished'
          AND (d.serial ILIKE :text OR d.model ILIKE :text))""";

    private static final List<String> SIGNINGS = List.of("unsigned", "signed", "returned", "reviewed");

    public RecordFilter {
        if (verdict != null && !VERDICTS.containsKey(verdict)) {
            throw new Refusal(
                    "unknown-verdict",
                    "A verdict is one of pass, marginal, outside, fail, incomplete; not \"" + verdict + "\".",
                    "verdict");
        }
        if (signing != null && !SIGNINGS.contains(signing)) {
            throw new Refusal(
                    "unknown-signing",
                    "Signing is one of " + String.join(", ", SIGNINGS) + "; not \"" + signing + "\".",
                    "signing");
        }
        if (from != null && to != null && to.isBefore(from)) {
            throw new Refusal("dates-crossed", "The last day " + to + " is before the first day " + from + ".", "to");
        }
    }

    /** Conditions on {@code run r}, {@code asset a} and {@code position p}, each beginning with AND. */
    String where() {
        List<String> conditions = new ArrayList<>();
        add(conditions, asset, "r.asset = :asset");
        add(conditions, position, "r.position = :position");
        add(conditions, site, "p.site = :site");
        add(conditions, person, "r.performed_by = :person");
        add(conditions, procedure, "r.procedure = :procedure");
        add(conditions, signing, "r.sign_off = :signing");
        add(conditions, from, "r.finished_at >= :from");
        add(conditions, to, "r.finished_at < :to");
        add(conditions, text, PART);
        add(conditions, verdict, verdict == null ? "" : VERDICTS.get(verdict));
        return conditions.isEmpty() ? "" : " AND " + String.join(" AND ", conditions);
    }

    private static void add(List<String> conditions, @Nullable Object given, String condition) {
        if (given != null) {
            conditions.add(condition);
        }
    }

    /** Values of the conditions; days begin and end in the zone of the sites. */
    MapSqlParameterSource values(ZoneId zone) {
        return new MapSqlParameterSource()
                .addValue("asset", asset)
                .addValue("position", position)
                .addValue("site", site)
                .addValue("person", person)
                .addValue("procedure", procedure)
                .addValue("signing", signing)
                .addValue(
                        "text",
                        text == null
                                ? null
                                : "%"
                                        + text.replace("\\", "\\\\")
                                                .replace("%", "\\%")
                                                .replace("_", "\\_") + "%")
                .addValue("from", from == null ? null : day(from, zone), Types.TIMESTAMP_WITH_TIMEZONE)
                .addValue("to", to == null ? null : day(to.plusDays(1), zone), Types.TIMESTAMP_WITH_TIMEZONE);
    }

    private static java.time.OffsetDateTime day(LocalDate day, ZoneId zone) {
        Instant start = day.atStartOfDay(zone).toInstant();
        return start.atOffset(ZoneOffset.UTC);
    }
}
