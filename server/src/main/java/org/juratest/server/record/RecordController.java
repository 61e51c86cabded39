package org.juratest.server.record;

import jakarta.servlet.http.HttpServletRequest;
import java.security.Principal;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.run.EventData;
import org.juratest.core.run.RecordEvents;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.RunState;
import org.juratest.server.plan.Horizon;
import org.juratest.server.record.Records.RecordLine;
import org.juratest.server.web.PreconditionException;
import org.springframework.format.annotation.DateTimeFormat;
import org.springframework.http.ResponseEntity;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Records: listed, read, signed. */
@RestController
@RequestMapping("/api")
class RecordController {

    private static final int LARGEST_PAGE = 200;
    private static final int OTHERS = 40;

    private final Records records;
    private final RecordService service;
    private final JdbcClient jdbc;
    private final Horizon horizon;

    RecordController(Records records, RecordService service, JdbcClient jdbc, Horizon horizon) {
        this.horizon = horizon;
        this.records = records;
        this.service = service;
        this.jdbc = jdbc;
    }

    /**
     * A page of records, newest first.
     *
     * @param count how many there are in all
     * @param next cursor of the next page; absent on the last
     */
    record RecordPage(List<RecordLine> records, long count, @Nullable String next) {}

    /** What a list can be narrowed by. */
    record RecordChoices(List<Choice> sites, List<Choice> people, List<Choice> procedures) {}

    /** A value with its word. */
    record Choice(String id, String word) {}

    /**
     * A record with what surrounds it now.
     *
     * @param personEvents what {@code If-Match} must say to sign
     */
    record RecordAnswer(RecordView record, RecordContext context, long personEvents) {}

    /**
     * What surrounds a record now.
     *
     * @param since since when the asset stands at the position; absent if it does not stand there any more
     * @param others other records of the asset, newest first
     * @param next the next job of the asset; absent if none is laid
     * @param mayNotSign why the person asking cannot sign that it was performed; absent where they can
     * @param mayNotReview why they cannot review it; absent where they can
     * @param open required point that has no verdict, in words; absent where every one has
     */
    record RecordContext(
            @Nullable Instant since,
            List<RecordLine> others,
            @Nullable NextJob next,
            @Nullable String mayNotSign,
            @Nullable String mayNotReview,
            @Nullable String open) {}

    /**
     * What is due next.
     *
     * @param job absent where its day is so far ahead that no job is laid yet
     */
    record NextJob(@Nullable Long job, LocalDate due, String reason) {}

    /** A signature: the password entered again. */
    record Signature(@Nullable String password) {}

    /** A review. */
    record Review(RecordEvents.Decision decision, @Nullable String words, @Nullable String password) {}

    /** An amendment: what it concerns, what it should say, and why. */
    record Amendment(String field, String text, String reason, @Nullable String password) {}

    @GetMapping("/records")
    RecordPage page(
            @RequestParam(required = false) @Nullable String asset,
            @RequestParam(required = false) @Nullable String position,
            @RequestParam(required = false) @Nullable String site,
            @RequestParam(required = false) @Nullable String text,
            @RequestParam(required = false) @Nullable String person,
            @RequestParam(required = false) @Nullable String procedure,
            @RequestParam(required = false) @Nullable String verdict,
            @RequestParam(required = false) @Nullable String signing,
            @RequestParam(required = false) @DateTimeFormat(iso = DateTimeFormat.ISO.DATE) @Nullable LocalDate from,
            @RequestParam(required = false) @DateTimeFormat(iso = DateTimeFormat.ISO.DATE) @Nullable LocalDate to,
            @RequestParam(required = false) @Nullable String after,
            @RequestParam(defaultValue = "50") int limit) {
        if (limit < 1 || limit > LARGEST_PAGE) {
            throw new Refusal(
                    "out-of-range", "A page has 1 to " + LARGEST_PAGE + " records, not " + limit + ".", "limit");
        }
        RecordFilter filter =
                new RecordFilter(asset, position, site, text, person, procedure, verdict, signing, from, to);
        List<RecordLine> page = records.page(filter, after == null ? null : Records.Cursor.parse(after), limit);
        String next = page.size() < limit
                ? null
                : Records.Cursor.of(page.get(page.size() - 1)).toString();
        return new RecordPage(page, records.count(filter), next);
    }

    @GetMapping("/records/choices")
    RecordChoices choices() {
        return new RecordChoices(
                choice("SELECT code, name FROM site ORDER BY km, code"),
                choice("SELECT id, name FROM person ORDER BY name, id"),
                choice("SELECT DISTINCT ON (code) code, title FROM procedure_version ORDER BY code, version DESC"));
    }

    private List<Choice> choice(String sql) {
        return jdbc.sql(sql)
                .query((rs, i) -> new Choice(rs.getString(1), rs.getString(2)))
                .list();
    }

    @GetMapping("/records/{position}/{year}/{n}")
    ResponseEntity<RecordAnswer> one(
            @PathVariable String position, @PathVariable int year, @PathVariable int n, Principal person) {
        return answer(records.run(number(position, year, n)), person);
    }

    static String number(String position, int year, int n) {
        return position + "/" + year + "/" + n;
    }

    private ResponseEntity<RecordAnswer> answer(UUID run, Principal person) {
        Records.Whole whole = records.whole(run);
        RecordAnswer answer = new RecordAnswer(
                records.view(whole),
                context(whole.run(), run, person.getName()),
                whole.run().personEvents());
        return ResponseEntity.ok().eTag("\"" + answer.personEvents + "\"").body(answer);
    }

    private RecordContext context(RunState run, UUID id, String person) {
        String asset = run.opened().asset().asset();
        Instant since = jdbc.sql("SELECT lower(during) FROM installation WHERE asset = :asset AND position = :position "
                        + "AND during @> now()")
                .param("asset", asset)
                .param("position", run.opened().asset().position())
                .query(java.sql.Timestamp.class)
                .optional()
                .map(java.sql.Timestamp::toInstant)
                .orElse(null);
        NextJob next = jdbc.sql(
                        "SELECT id, due, reason FROM job WHERE asset = :asset AND status IN ('open', 'running', "
                                + "'partly done') ORDER BY due, id LIMIT 1")
                .param("asset", asset)
                .query((rs, i) -> new NextJob(rs.getLong(1), rs.getObject(2, LocalDate.class), rs.getString(3)))
                .optional()
                .or(() -> horizon.next(asset).map(n -> new NextJob(null, n.due(), n.reason())))
                .orElse(null);
        org.juratest.core.run.PointJudgement open = org.juratest.core.run.SignOff.firstOpen(run);
        return new RecordContext(
                since,
                records.ofAsset(asset, OTHERS).stream()
                        .filter(r -> !r.run().equals(id))
                        .toList(),
                next,
                refusal(run, service.signature(person)),
                refusal(
                        run,
                        service.review(
                                person,
                                open == null
                                        ? RecordEvents.Decision.ACCEPTED
                                        : RecordEvents.Decision.ACCEPTED_INCOMPLETE,
                                "would do")),
                open == null ? null : open.label() + ": " + open.why());
    }

    private static @Nullable String refusal(RunState run, EventData data) {
        try {
            data.check(run);
            return null;
        } catch (Refusal e) {
            return e.getMessage();
        }
    }

    @PostMapping("/records/{position}/{year}/{n}/signatures")
    ResponseEntity<RecordAnswer> sign(
            @PathVariable String position,
            @PathVariable int year,
            @PathVariable int n,
            @RequestBody Signature signature,
            @RequestHeader(name = "If-Match", required = false) @Nullable String ifMatch,
            Principal person,
            HttpServletRequest request) {
        UUID run = records.run(number(position, year, n));
        service.sign(
                run,
                new RecordService.Act(
                        person.getName(),
                        signature.password(),
                        PreconditionException.expected(ifMatch),
                        request.getRemoteAddr()));
        return answer(run, person);
    }

    /** Signs a run by its id, as the bench knows it; refused, naming the point, while one is open. */
    @PostMapping("/runs/{run}/signatures")
    ResponseEntity<RecordAnswer> signRun(
            @PathVariable UUID run,
            @RequestBody Signature signature,
            @RequestHeader(name = "If-Match", required = false) @Nullable String ifMatch,
            Principal person,
            HttpServletRequest request) {
        service.sign(
                run,
                new RecordService.Act(
                        person.getName(),
                        signature.password(),
                        PreconditionException.expected(ifMatch),
                        request.getRemoteAddr()));
        return answer(run, person);
    }

    @PostMapping("/records/{position}/{year}/{n}/reviews")
    ResponseEntity<RecordAnswer> review(
            @PathVariable String position,
            @PathVariable int year,
            @PathVariable int n,
            @RequestBody Review review,
            @RequestHeader(name = "If-Match", required = false) @Nullable String ifMatch,
            Principal person,
            HttpServletRequest request) {
        UUID run = records.run(number(position, year, n));
        service.review(
                run,
                new RecordService.Act(
                        person.getName(),
                        review.password(),
                        PreconditionException.expected(ifMatch),
                        request.getRemoteAddr()),
                review.decision(),
                review.words());
        return answer(run, person);
    }

    @PostMapping("/records/{position}/{year}/{n}/amendments")
    ResponseEntity<RecordAnswer> amend(
            @PathVariable String position,
            @PathVariable int year,
            @PathVariable int n,
            @RequestBody Amendment amendment,
            @RequestHeader(name = "If-Match", required = false) @Nullable String ifMatch,
            Principal person,
            HttpServletRequest request) {
        UUID run = records.run(number(position, year, n));
        service.amend(
                run,
                new RecordService.Act(
                        person.getName(),
                        amendment.password(),
                        PreconditionException.expected(ifMatch),
                        request.getRemoteAddr()),
                amendment.field(),
                amendment.text(),
                amendment.reason());
        return answer(run, person);
    }
}
