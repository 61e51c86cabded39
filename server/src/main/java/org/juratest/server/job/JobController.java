package org.juratest.server.job;

import java.time.LocalDate;
import java.time.format.DateTimeParseException;
import java.util.List;
import org.juratest.core.run.Refusal;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Jobs: what is due. */
@RestController
@RequestMapping("/api/jobs")
class JobController {

  private static final int LARGEST_PAGE = 200;

  private final Jobs jobs;

  JobController(Jobs jobs) {
    this.jobs = jobs;
  }

  /**
   * A page of jobs.
   *
   * @param next cursor of the next page; absent on the last
   */
  record Page(List<Jobs.Job> jobs, @Nullable String next) {
  }

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

  @GetMapping("/{job}")
  Jobs.Job one(@PathVariable long job) {
    return jobs.byId(job);
  }
}
