package org.juratest.server.plan;

import io.swagger.v3.oas.annotations.media.Content;
import io.swagger.v3.oas.annotations.media.Schema;
import io.swagger.v3.oas.annotations.responses.ApiResponse;
import java.security.Principal;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.juratest.core.run.Refusal;
import org.juratest.server.procedure.Procedures;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;

/** Plans and the load they make. */
@RestController
@RequestMapping("/api")
class PlanController {

    private static final int LARGEST_PAGE = 200;

    private final PlanPages pages;
    private final PlanService service;
    private final Plans plans;
    private final PlanNews news;
    private final Procedures procedures;
    private final JdbcClient jdbc;

    PlanController(
            PlanPages pages, PlanService service, Plans plans, PlanNews news, Procedures procedures, JdbcClient jdbc) {
        this.pages = pages;
        this.service = service;
        this.plans = plans;
        this.news = news;
        this.procedures = procedures;
        this.jdbc = jdbc;
    }

    /** What plans are made of. */
    record PlanChoices(
            List<PlanClass> classes,
            List<PlanProcedure> procedures,
            List<String> authorisations,
            List<PlanPart> parts) {}

    /** A class with its models, each "Maker Model". */
    record PlanClass(String code, String title, List<String> models) {}

    record PlanProcedure(String code, String title, List<String> appliesTo) {}

    record PlanPart(String code, String name) {}

    /** Load against capacity, week by week. */
    @GetMapping("/plan/load")
    PlanPages.Load load() {
        return pages.load();
    }

    @GetMapping("/plan/jobs")
    PlanPages.PlanJobs jobs(
            @RequestParam(required = false) @Nullable String person,
            @RequestParam(required = false) @Nullable String site,
            @RequestParam(required = false) @Nullable String asset,
            @RequestParam(defaultValue = "all") String when,
            @RequestParam(required = false) @Nullable String plan,
            @RequestParam(required = false) @Nullable String after,
            @RequestParam(defaultValue = "60") int limit) {
        if (limit < 1 || limit > LARGEST_PAGE) {
            throw new Refusal("out-of-range", "A page has 1 to " + LARGEST_PAGE + " jobs, not " + limit + ".", "limit");
        }
        if (plan != null && !plan.matches("\\d{1,18}")) {
            throw new Refusal("bad-plan", "\"" + plan + "\" is not the number of a plan.", "plan");
        }
        return pages.jobs(person, site, asset, when, plan, after, limit);
    }

    @GetMapping("/plan/jobs/{job}")
    PlanPages.PlanJob job(@PathVariable long job) {
        return pages.one(job);
    }

    /** Tells what kinds of things changed, as they change. */
    @GetMapping(value = "/plan/news", produces = MediaType.TEXT_EVENT_STREAM_VALUE)
    @ApiResponse(
            responseCode = "200",
            content =
                    @Content(
                            mediaType = MediaType.TEXT_EVENT_STREAM_VALUE,
                            schema = @Schema(implementation = PlanNews.PlanChanged.class)))
    SseEmitter news() {
        return news.follow();
    }

    @GetMapping("/plans")
    List<PlanService.PlanLine> all() {
        return service.lines();
    }

    @GetMapping("/plans/{id}")
    Plan one(@PathVariable long id) {
        return plans.byId(id);
    }

    /** All that a plan ever said, newest first. */
    @GetMapping("/plans/{id}/revisions")
    List<Plans.PlanRevision> revisions(@PathVariable long id) {
        return plans.revisions(id);
    }

    @GetMapping("/plan-choices")
    PlanChoices choices() {
        Map<String, List<String>> models = new HashMap<>();
        jdbc.sql("SELECT DISTINCT class, maker || ' ' || model FROM asset WHERE retired_at IS NULL ORDER BY 1, 2")
                .query(rs -> {
                    models.computeIfAbsent(rs.getString(1), c -> new ArrayList<>())
                            .add(rs.getString(2));
                });
        List<PlanClass> classes = jdbc.sql("SELECT code, title FROM asset_class ORDER BY title")
                .query((rs, i) -> new PlanClass(
                        rs.getString(1), rs.getString(2), models.getOrDefault(rs.getString(1), List.of())))
                .list();
        List<PlanProcedure> known = pages.titles().keySet().stream()
                .map(code -> procedures.newest(code).procedure())
                .map(p -> new PlanProcedure(p.code(), p.title(), List.copyOf(p.appliesTo())))
                .toList();
        List<String> kinds = jdbc.sql(
                        "SELECT kind FROM authorisation UNION SELECT authorisation FROM plan WHERE authorisation "
                                + "IS NOT NULL ORDER BY 1")
                .query(String.class)
                .list();
        return new PlanChoices(
                classes,
                known,
                kinds,
                jdbc.sql("SELECT code, name FROM part ORDER BY name")
                        .query((rs, i) -> new PlanPart(rs.getString(1), rs.getString(2)))
                        .list());
    }

    /** What storing a plan would do to open jobs. */
    @PostMapping("/plans/preview")
    PlanService.PlanPreview preview(@RequestBody Plan plan) {
        return service.preview(plan);
    }

    @PostMapping("/plans")
    @ResponseStatus(HttpStatus.CREATED)
    Plan add(@RequestBody Plan plan, Principal who) {
        if (plan.id() != 0) {
            throw new Refusal("bad-id", "A new plan has the number 0.", "id");
        }
        return service.store(plan, who.getName());
    }

    @PutMapping("/plans/{id}")
    Plan change(@PathVariable long id, @RequestBody Plan plan, Principal who) {
        if (plan.id() != id) {
            throw new Refusal(
                    "bad-id", "The plan says that it is " + plan.id() + ", its address that it is " + id + ".", "id");
        }
        return service.store(plan, who.getName());
    }
}
