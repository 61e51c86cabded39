package org.juratest.server.round;

import java.security.Principal;
import java.time.LocalDate;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.juratest.server.Juratest;
import org.juratest.server.paper.PaperPress;
import org.springframework.format.annotation.DateTimeFormat;
import org.springframework.http.ContentDisposition;
import org.springframework.http.HttpHeaders;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Days of people. */
@RestController
@RequestMapping("/api")
class RoundController {

    private final Rounds rounds;
    private final PaperPress press;

    RoundController(Rounds rounds, PaperPress press) {
        this.rounds = rounds;
        this.press = press;
    }

    /** Jobs by their ids. */
    record JobsGiven(List<Long> jobs) {}

    /** @param leaves minute of the day */
    record DayStart(int leaves) {}

    /** Something of the loadout, taken along or not. */
    record TickGiven(String item, boolean on) {}

    /** One's own day, today. */
    @GetMapping("/round")
    Rounds.Round own(Principal who) {
        return rounds.of(who.getName(), rounds.today());
    }

    /** Everybody's day, side by side. */
    @GetMapping("/rounds")
    List<Rounds.DayOf> side(
            @RequestParam(required = false) @DateTimeFormat(iso = DateTimeFormat.ISO.DATE) @Nullable LocalDate day) {
        return rounds.side(day == null ? rounds.today() : day);
    }

    @GetMapping("/rounds/{person}/{day}")
    Rounds.Round one(
            @PathVariable String person, @PathVariable @DateTimeFormat(iso = DateTimeFormat.ISO.DATE) LocalDate day) {
        return rounds.of(person, day);
    }

    /** What can be put on the day. */
    @GetMapping("/rounds/{person}/{day}/free")
    List<Rounds.FreeJob> free(
            @PathVariable String person,
            @PathVariable @DateTimeFormat(iso = DateTimeFormat.ISO.DATE) LocalDate day,
            @RequestParam(required = false) @Nullable String site) {
        return rounds.free(person, day, site);
    }

    @PostMapping("/rounds/{person}/{day}/jobs")
    Rounds.Round add(
            @PathVariable String person,
            @PathVariable @DateTimeFormat(iso = DateTimeFormat.ISO.DATE) LocalDate day,
            @RequestBody JobsGiven given,
            Principal who) {
        rounds.add(person, day, given.jobs, who.getName());
        return rounds.of(person, day);
    }

    /** Orders the stops by hand; an empty list orders them along the line. */
    @PutMapping("/rounds/{person}/{day}/order")
    Rounds.Round order(
            @PathVariable String person,
            @PathVariable @DateTimeFormat(iso = DateTimeFormat.ISO.DATE) LocalDate day,
            @RequestBody JobsGiven given,
            Principal who) {
        rounds.order(person, day, given.jobs, who.getName());
        return rounds.of(person, day);
    }

    @PutMapping("/rounds/{person}/{day}/start")
    Rounds.Round start(
            @PathVariable String person,
            @PathVariable @DateTimeFormat(iso = DateTimeFormat.ISO.DATE) LocalDate day,
            @RequestBody DayStart given,
            Principal who) {
        rounds.leaves(person, day, given.leaves, who.getName());
        return rounds.of(person, day);
    }

    @PutMapping("/rounds/{person}/{day}/loadout")
    Rounds.Round tick(
            @PathVariable String person,
            @PathVariable @DateTimeFormat(iso = DateTimeFormat.ISO.DATE) LocalDate day,
            @RequestBody TickGiven given,
            Principal who) {
        rounds.tick(person, day, given.item, given.on, who.getName());
        return rounds.of(person, day);
    }

    /** The day on paper. */
    @GetMapping(value = "/rounds/{person}/{day}/sheet", produces = MediaType.APPLICATION_PDF_VALUE)
    ResponseEntity<byte[]> sheet(
            @PathVariable String person, @PathVariable @DateTimeFormat(iso = DateTimeFormat.ISO.DATE) LocalDate day) {
        byte[] pdf = press.print(RoundSheet.html(rounds.of(person, day)), "Juratest " + Juratest.VERSION);
        return ResponseEntity.ok()
                .header(
                        HttpHeaders.CONTENT_DISPOSITION,
                        ContentDisposition.inline()
                                .filename("round-" + person + "-" + day + ".pdf")
                                .build()
                                .toString())
                .contentType(MediaType.APPLICATION_PDF)
                .body(pdf);
    }
}
