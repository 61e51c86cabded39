package org.juratest.server.round;

import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.security.SecureRandom;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.ZonedDateTime;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import java.util.TreeSet;
import java.util.stream.Collectors;
import net.fortuna.ical4j.data.CalendarOutputter;
import net.fortuna.ical4j.model.Calendar;
import net.fortuna.ical4j.model.component.VEvent;
import net.fortuna.ical4j.model.property.Description;
import net.fortuna.ical4j.model.property.DtEnd;
import net.fortuna.ical4j.model.property.DtStamp;
import net.fortuna.ical4j.model.property.DtStart;
import net.fortuna.ical4j.model.property.Location;
import net.fortuna.ical4j.model.property.ProdId;
import net.fortuna.ical4j.model.property.Summary;
import net.fortuna.ical4j.model.property.Uid;
import net.fortuna.ical4j.model.property.Url;
import net.fortuna.ical4j.model.property.immutable.ImmutableCalScale;
import net.fortuna.ical4j.model.property.immutable.ImmutableVersion;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/**
 * Rounds as a calendar (iCalendar, RFC 5545) at an address that nobody can guess. Of the secret only the SHA-256 is
 * kept; a new one ends the old.
 */
@Component
class Calendars {

    private static final int SECRET_BYTES = 32;
    private static final int DAYS_BACK = 14;
    private static final int DAYS_AHEAD = 90;

    private final JdbcClient jdbc;
    private final RoundRows rows;
    private final Rounds rounds;
    private final Clock clock;
    private final String address;
    private final SecureRandom random = new SecureRandom();

    Calendars(
            JdbcClient jdbc,
            RoundRows rows,
            Rounds rounds,
            Clock clock,
            @Value("${juratest.public-address}") String address) {
        this.jdbc = jdbc;
        this.rows = rows;
        this.rounds = rounds;
        this.clock = clock;
        this.address = address.replaceAll("/+$", "");
    }

    /** Makes a new secret address, and ends what there was. It is told this once. */
    @Transactional
    public String make(String person) {
        byte[] bytes = new byte[SECRET_BYTES];
        random.nextBytes(bytes);
        String secret = Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
        end(person);
        jdbc.sql("INSERT INTO calendar_feed (hash, person, made_at) VALUES (:hash, :person, :at)")
                .param("hash", hash(secret))
                .param("person", person)
                .param("at", clock.instant().atOffset(ZoneOffset.UTC))
                .update();
        return address + "/calendar/" + secret + ".ics";
    }

    /** When the address in force was made; empty if there is none. */
    Optional<Instant> made(String person) {
        return jdbc.sql("SELECT made_at FROM calendar_feed WHERE person = :person AND NOT ended")
                .param("person", person)
                .query((rs, i) -> rs.getTimestamp(1).toInstant())
                .optional();
    }

    @Transactional
    public void end(String person) {
        jdbc.sql("UPDATE calendar_feed SET ended = true WHERE person = :person AND NOT ended")
                .param("person", person)
                .update();
    }

    private static String hash(String secret) {
        try {
            return HexFormat.of()
                    .formatHex(MessageDigest.getInstance("SHA-256").digest(secret.getBytes(StandardCharsets.UTF_8)));
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }

    /** The calendar at a secret address; empty where it is not one, or was ended. */
    Optional<String> read(String secret) {
        return jdbc.sql("SELECT person FROM calendar_feed WHERE hash = :hash AND NOT ended")
                .param("hash", hash(secret))
                .query(String.class)
                .optional()
                .map(this::calendar);
    }

    private String calendar(String person) {
        Calendar calendar = new Calendar();
        calendar.add(new ProdId("-//Juratest//Rounds//EN"));
        calendar.add(ImmutableVersion.VERSION_2_0);
        calendar.add(ImmutableCalScale.GREGORIAN);
        LocalDate today = rows.today();
        List<LocalDate> days = new ArrayList<>(
                new TreeSet<>(rows.planned(person, today.minusDays(DAYS_BACK), today.plusDays(DAYS_AHEAD)).stream()
                        .map(RoundRows.Row::day)
                        .toList()));
        days.forEach(day -> calendar.add(event(person, day)));
        StringWriter text = new StringWriter();
        try {
            // Folds long lines, RFC 5545, 3.1.
            new CalendarOutputter(false).output(calendar, text);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return text.toString();
    }

    private VEvent event(String person, LocalDate day) {
        Rounds.DayOf round = rounds.side(day).stream()
                .filter(d -> d.person().equals(person))
                .findFirst()
                .orElseThrow();
        ZonedDateTime midnight = day.atStartOfDay(rows.base().zone());
        int jobs = round.stops().stream().mapToInt(s -> s.jobs().size()).sum();
        VEvent event = new VEvent();
        event.add(new Uid(person + "-" + day + "@juratest"));
        event.add(new DtStamp(clock.instant()));
        event.add(new DtStart<>(midnight.plusMinutes(round.leaves()).toInstant()));
        event.add(new DtEnd<>(midnight.plusMinutes(round.back()).toInstant()));
        event.add(new Summary("Round: " + jobs + (jobs == 1 ? " job" : " jobs") + " at "
                + round.stops().size() + (round.stops().size() == 1 ? " stop" : " stops")));
        event.add(new Location(round.stops().stream().map(Rounds.DayStop::name).collect(Collectors.joining(", "))));
        event.add(new Description(round.stops().stream()
                .flatMap(s -> s.jobs().stream())
                .map(j -> j.position() + ", " + j.title() + ", " + j.minutes() + " min")
                .collect(Collectors.joining("\n"))));
        event.add(new Url(java.net.URI.create(address + "/round/" + person + "/" + day)));
        return event;
    }
}
