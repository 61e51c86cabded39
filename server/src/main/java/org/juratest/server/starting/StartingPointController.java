package org.juratest.server.starting;

import java.security.Principal;
import java.time.Instant;
import java.util.List;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Starting points by type of device. */
@RestController
@RequestMapping("/api/starting-points")
class StartingPointController {

    private final StartingPoints points;

    StartingPointController(StartingPoints points) {
        this.points = points;
    }

    @GetMapping
    List<StartingPointView> points() {
        return points.all();
    }

    /** Sets one by hand. */
    @PutMapping("/{id}")
    StartingPointView set(
            @PathVariable long id, @RequestBody StartingPointView.StartingPointForm given, Principal person) {
        return points.set(id, given, person.getName());
    }

    /** Forgets one. */
    @DeleteMapping("/{id}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void forget(@PathVariable long id, @RequestParam Instant seen) {
        points.forget(id, seen);
    }
}
