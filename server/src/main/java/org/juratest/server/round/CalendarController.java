package org.juratest.server.round;

import java.nio.charset.StandardCharsets;
import java.security.Principal;
import java.time.Instant;
import org.jspecify.annotations.Nullable;
import org.juratest.server.web.NotFoundException;
import org.springframework.http.CacheControl;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** One's rounds as a calendar. */
@RestController
class CalendarController {

    private final Calendars calendars;

    CalendarController(Calendars calendars) {
        this.calendars = calendars;
    }

    /**
     * The secret address.
     *
     * @param address told when it is made, and never again
     * @param made absent if there is none
     */
    record CalendarAddress(@Nullable String address, @Nullable Instant made) {}

    @GetMapping("/api/calendar-address")
    CalendarAddress there(Principal who) {
        return new CalendarAddress(null, calendars.made(who.getName()).orElse(null));
    }

    @PostMapping("/api/calendar-address")
    CalendarAddress make(Principal who) {
        String address = calendars.make(who.getName());
        return new CalendarAddress(address, calendars.made(who.getName()).orElse(null));
    }

    @DeleteMapping("/api/calendar-address")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void end(Principal who) {
        calendars.end(who.getName());
    }

    /** The calendar, for programs that know the address. */
    @GetMapping(value = "/calendar/{secret}.ics")
    ResponseEntity<byte[]> calendar(@PathVariable String secret) {
        String text = calendars.read(secret).orElseThrow(() -> new NotFoundException("calendar", "at this address"));
        return ResponseEntity.ok()
                .contentType(new MediaType("text", "calendar", StandardCharsets.UTF_8))
                .cacheControl(CacheControl.noStore())
                .body(text.getBytes(StandardCharsets.UTF_8));
    }
}
