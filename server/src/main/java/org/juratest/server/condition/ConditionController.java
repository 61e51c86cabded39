package org.juratest.server.condition;

import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.security.Principal;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;
import org.jspecify.annotations.Nullable;
import org.juratest.core.run.Refusal;
import org.juratest.formats.table.CellText;
import org.springdoc.core.annotations.ParameterObject;
import org.springframework.http.ContentDisposition;
import org.springframework.http.HttpHeaders;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** The condition of the fleet. */
@RestController
@RequestMapping("/api/condition")
class ConditionController {

    private static final int PAGE = 100;
    private static final int MOST_EXPORTED = 1_000_000;

    private final FleetRows fleet;
    private final Trends trends;
    private final Baselines baselines;
    private final Selections selections;
    private final WatchList watchList;
    private final Clock clock;

    ConditionController(
            FleetRows fleet,
            Trends trends,
            Baselines baselines,
            Selections selections,
            WatchList watchList,
            Clock clock) {
        this.fleet = fleet;
        this.selections = selections;
        this.watchList = watchList;
        this.trends = trends;
        this.baselines = baselines;
        this.clock = clock;
    }

    /**
     * The fleet, or a part of it. A region does not narrow it: it is of the list.
     *
     * @param counts of the part, whatever standing is asked for
     * @param needs what needs attention in it, the gravest and soonest first
     * @param choices what can be filtered by, by its name, over the whole fleet
     */
    record ConditionView(
            Instant at,
            FleetRows.FleetCounts counts,
            FleetRows.FleetMarks marks,
            List<FleetRows.FleetDevice> needs,
            Map<String, List<FleetRows.FilterChoice>> choices) {}

    @GetMapping
    @Transactional(readOnly = true)
    ConditionView fleet(@ParameterObject ConditionFilter filter) {
        ConditionFilter part = filter.checked().everywhere();
        Instant now = clock.instant();
        FleetRows.FleetMap map = fleet.map(part, now);
        return new ConditionView(now, map.counts(), map.marks(), fleet.needs(part, now), map.choices());
    }

    /**
     * Devices in a list, page by page.
     *
     * @param count of all that are selected, by standing
     * @param total how many that are
     */
    record FleetList(FleetRows.FleetCounts count, long total, List<FleetRows.FleetDevice> devices) {}

    /** Those of a part of the fleet, a hundred at a time. */
    @GetMapping("/devices")
    @Transactional(readOnly = true)
    FleetList devices(
            @ParameterObject ConditionFilter filter,
            @RequestParam(defaultValue = "gravest") String order,
            @RequestParam(defaultValue = "0") long from) {
        if (from < 0) {
            throw new Refusal("out-of-range", "A list begins at 0.", "from");
        }
        Instant now = clock.instant();
        FleetRows.FleetCounts counts = fleet.counts(filter.checked(), now);
        return new FleetList(
                counts,
                counts.act() + counts.watch() + counts.sound() + counts.unknown(),
                fleet.devices(filter, order, from, PAGE, now));
    }

    /** All of them as a table. */
    @GetMapping(value = "/devices/table", produces = "text/csv")
    @Transactional(readOnly = true)
    ResponseEntity<byte[]> table(
            @ParameterObject ConditionFilter filter, @RequestParam(defaultValue = "gravest") String order) {
        StringWriter text = new StringWriter();
        try (CSVPrinter out = new CSVPrinter(
                text,
                CSVFormat.RFC4180
                        .builder()
                        .setHeader(
                                "asset",
                                "position",
                                "site",
                                "title",
                                "model",
                                "serial",
                                "standing",
                                "reason",
                                "limit_met",
                                "margin_used",
                                "margin_used_per_year",
                                "last_tested")
                        .get())) {
            for (FleetRows.FleetDevice d : fleet.devices(filter.checked(), order, 0, MOST_EXPORTED, clock.instant())) {
                out.printRecord(
                        d.asset(),
                        d.position(),
                        CellText.guarded(d.siteName()),
                        CellText.guarded(d.title()),
                        CellText.guarded(d.model()),
                        CellText.guarded(d.serial()),
                        d.standing(),
                        CellText.guarded(d.reason()),
                        d.crossing(),
                        d.margin(),
                        d.drift(),
                        d.tested());
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return ResponseEntity.ok()
                .contentType(new MediaType("text", "csv", StandardCharsets.UTF_8))
                .header(
                        HttpHeaders.CONTENT_DISPOSITION,
                        ContentDisposition.attachment()
                                .filename("condition-of-the-fleet.csv")
                                .build()
                                .toString())
                .body(text.toString().getBytes(StandardCharsets.UTF_8));
    }

    /** What the test points of a device did over time; one of them where it is named. */
    @GetMapping("/trends/{key}")
    @Transactional(readOnly = true)
    TrendViews.TrendsView trends(
            @PathVariable String key,
            @RequestParam(required = false) @Nullable String series,
            @RequestParam(required = false) @Nullable String lane) {
        return trends.of(key, series, lane);
    }

    /**
     * A choice of what is compared with.
     *
     * @param record number of a record of the device
     */
    record BaselineChoice(String record, String reason) {}

    /** Makes a record the baseline of its device and procedure; trends begin anew with it. */
    @PutMapping("/baselines/{asset}")
    TrendViews.TrendsView choose(@PathVariable String asset, @RequestBody BaselineChoice given, Principal who) {
        baselines.choose(asset, given.record, given.reason, who.getName());
        return trends.of(asset, null, null);
    }

    /** What the devices a filter selects have in common beyond chance. */
    @GetMapping("/shared")
    @Transactional(readOnly = true)
    Selections.SharedView shared(@ParameterObject ConditionFilter filter) {
        return selections.shared(filter.checked());
    }

    /**
     * Jobs for a selection.
     *
     * @param due their day
     */
    record SelectionJobs(ConditionFilter filter, LocalDate due, String why) {}

    /** Raises a job for each device a filter selects; what cannot have one is told. */
    @PostMapping("/jobs")
    Selections.RaisedJobs raise(@RequestBody SelectionJobs given, Principal who) {
        return selections.raise(given.filter.checked(), given.due, given.why, who.getName());
    }

    record WatchReason(@Nullable String why) {}

    /** Puts a device on the watch list. */
    @PutMapping("/watch/{asset}")
    TrendViews.TrendsView watch(@PathVariable String asset, @RequestBody WatchReason given, Principal who) {
        watchList.put(asset, given.why, who.getName());
        return trends.of(asset, null, null);
    }

    /** Takes it off. */
    @DeleteMapping("/watch/{asset}")
    TrendViews.TrendsView unwatch(@PathVariable String asset, Principal who) {
        watchList.remove(asset, who.getName());
        return trends.of(asset, null, null);
    }

    record AdviceRisk(double risk) {}

    /** Sets the risk that advised intervals may bear; what is advised is worked out anew. */
    @PutMapping("/advice-risk")
    AdviceRisk risk(@RequestBody AdviceRisk given) {
        return new AdviceRisk(selections.risk(given.risk));
    }
}
