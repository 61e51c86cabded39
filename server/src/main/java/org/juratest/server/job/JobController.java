package org.juratest.server.job;

import java.security.Principal;
import java.time.LocalDate;
import java.time.format.DateTimeParseException;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.juratest.core.run.Refusal;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Jobs: what is due. */
@RestController
@RequestMapping("/api/jobs")
class JobController {

    private static final int LARGEST_PAGE = 200;

    private final Jobs jobs;
    private final Decisions decisions;
    private final Moves moves;

    JobController(Jobs jobs, Decisions decisions, Moves moves) {
        this.jobs = jobs;
        this.decisions = decisions;
        this.moves = moves;
    }

    /**
     * A page of jobs.
     *
     * @param next cursor of the next page; absent on the last
     */
    record Page(List<Jobs.Job> jobs, @Nullable String next) {}

    @GetMapping
    Page open(@RequestParam(required = false) @Nullable String after, @RequestParam(defaultValue = "50") int limit) {
        if (limit < 1 || limit > LARGEST_PAGE) {
            throw new Refusal("out-of-range", "A page has 1 to " + LARGEST_PAGE + " jobs, not " + limit + ".", "limit");
        }
        LocalDate due = null;
        long id = 0;
        if (after != null) {
            try {
                due = LocalDate.parse(after.substring(0, Math.min(10, after.length())));
                id = Long.parseLong(after.substring(Math.min(11, after.length())));
            } catch (DateTimeParseException | NumberFormatException e) {
                throw new Refusal("bad-cursor", "The cursor \"" + after + "\" is not one this list gave.", "after");
            }
        }
        List<Jobs.Job> page = jobs.open(due, id, limit);
        Jobs.Job last = page.size() < limit ? null : page.get(page.size() - 1);
        return new Page(page, last == null ? null : last.due() + "." + last.id());
    }

    /** One's own jobs with an open run. */
    @GetMapping("/running")
    List<Jobs.Job> running(Principal who) {
        return jobs.running(who.getName());
    }

    @GetMapping("/{job}")
    Jobs.Job one(@PathVariable long job) {
        return jobs.byId(job);
    }

    /** What was decided about a job, newest first. */
    @GetMapping("/{job}/decisions")
    List<Decisions.Decision> decided(@PathVariable long job) {
        jobs.byId(job);
        return decisions.of(job);
    }

    /** Raises a job beside the plans. */
    @PostMapping
    @ResponseStatus(HttpStatus.CREATED)
    Jobs.Job raise(@RequestBody Decisions.Raised given, Principal who) {
        return decisions.raise(given, who.getName());
    }

    @PutMapping("/{job}/day")
    Jobs.Job day(@PathVariable long job, @RequestBody Decisions.DayGiven given, Principal who) {
        return decisions.day(job, given, who.getName());
    }

    /** Whether it stays on its day when jobs are shared out. */
    record Fixed(boolean fixed) {}

    @PutMapping("/{job}/fixed")
    Jobs.Job fix(@PathVariable long job, @RequestBody Fixed given, Principal who) {
        return decisions.fix(job, given.fixed, who.getName());
    }

    @PostMapping("/{job}/deferral")
    Jobs.Job defer(@PathVariable long job, @RequestBody Decisions.Deferral given, Principal who) {
        return decisions.defer(job, given, who.getName());
    }

    @PostMapping("/{job}/obstacle")
    Jobs.Job cannot(@PathVariable long job, @RequestBody Decisions.Obstacle given, Principal who) {
        return decisions.cannot(job, given, who.getName());
    }

    /** Takes a deferral or an obstacle away. */
    @PostMapping("/{job}/resumption")
    Jobs.Job resume(@PathVariable long job, Principal who) {
        return decisions.resume(job, who.getName());
    }

    @PostMapping("/{job}/put-back")
    Jobs.Job putBack(@PathVariable long job, @RequestBody Decisions.Reason given, Principal who) {
        return decisions.putBack(job, given, who.getName());
    }

    /** The newest moves, of one person where one is given. */
    @GetMapping("/moves")
    List<Moves.PlanAct> moves(@RequestParam(required = false) @Nullable String by) {
        return moves.newest(by);
    }

    /** Jobs with the days they are given. */
    record JobMoves(List<Decisions.JobMove> moves) {}

    /** Moves several jobs as one act. */
    @PostMapping("/moves")
    Moves.PlanAct move(@RequestBody JobMoves given, Principal who) {
        return decisions.moveAll(given.moves, who.getName());
    }

    /** Puts all that was moved in one go back to where it stood. */
    @PostMapping("/moves/{id}/undo")
    Moves.Undone undo(@PathVariable long id, Principal who) {
        return moves.undo(id, who.getName());
    }
}
