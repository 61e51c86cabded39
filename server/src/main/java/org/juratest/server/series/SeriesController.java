package org.juratest.server.series;

import java.security.Principal;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Series of like devices. */
@RestController
@RequestMapping("/api/series")
class SeriesController {

    private final SeriesService series;

    SeriesController(SeriesService series) {
        this.series = series;
    }

    @GetMapping("/{position}")
    TestSeries series(@PathVariable String position) {
        return series.view(position);
    }

    /** Keeps how a series goes on. */
    @PutMapping("/{position}")
    TestSeries keep(@PathVariable String position, @RequestBody TestSeries.SeriesForm given, Principal person) {
        return series.keep(position, given, person.getName());
    }

    /** Puts the next device in its place and opens its run. */
    @PostMapping("/{position}/next")
    @ResponseStatus(HttpStatus.CREATED)
    TestSeries.SeriesStarted next(
            @PathVariable String position, @RequestBody TestSeries.SeriesNext given, Principal person) {
        return series.next(position, given, person.getName());
    }
}
