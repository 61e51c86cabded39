package org.juratest.server.compliance;

import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.util.Arrays;
import java.util.List;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;
import org.jspecify.annotations.Nullable;
import org.juratest.core.run.Refusal;
import org.juratest.formats.json.CoreJson;
import org.juratest.formats.table.CellText;
import org.juratest.server.Juratest;
import org.juratest.server.paper.PaperPress;
import org.springframework.format.annotation.DateTimeFormat;
import org.springframework.http.ContentDisposition;
import org.springframework.http.HttpHeaders;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Compliance: the report, the jobs behind it, and both to take away. */
@RestController
@RequestMapping("/api/compliance")
class ComplianceController {

    private final Compliance compliance;
    private final PaperPress press;
    private final JdbcClient jdbc;

    ComplianceController(Compliance compliance, PaperPress press, JdbcClient jdbc) {
        this.compliance = compliance;
        this.press = press;
        this.jdbc = jdbc;
    }

    @GetMapping
    Compliance.ComplianceReport report(
            @RequestParam @DateTimeFormat(iso = DateTimeFormat.ISO.DATE) LocalDate from,
            @RequestParam @DateTimeFormat(iso = DateTimeFormat.ISO.DATE) LocalDate to,
            @RequestParam(defaultValue = "quarter") String by,
            @RequestParam(required = false) @Nullable String site) {
        return compliance.report(from, to, by, site);
    }

    /** The jobs of a cell; {@code outcome} narrows them to one. */
    @GetMapping("/jobs")
    List<Compliance.ComplianceJob> jobs(
            @RequestParam @DateTimeFormat(iso = DateTimeFormat.ISO.DATE) LocalDate from,
            @RequestParam @DateTimeFormat(iso = DateTimeFormat.ISO.DATE) LocalDate to,
            @RequestParam(required = false) @Nullable String site,
            @RequestParam(required = false) @Nullable String procedure,
            @RequestParam(required = false) @Nullable String outcome) {
        List<String> known = Arrays.stream(Compliance.Outcome.values())
                .map(CoreJson::constantName)
                .toList();
        if (outcome != null && !known.contains(outcome)) {
            throw new Refusal(
                    "unknown-outcome",
                    "\"" + outcome + "\" is no outcome; it is one of " + String.join(", ", known) + ".",
                    "outcome");
        }
        return compliance.jobs(from, to, site, procedure).stream()
                .filter(j ->
                        outcome == null || CoreJson.constantName(j.outcome()).equals(outcome))
                .toList();
    }

    /** Every job of the report as a row. */
    @GetMapping(value = "/table", produces = "text/csv")
    ResponseEntity<byte[]> table(
            @RequestParam @DateTimeFormat(iso = DateTimeFormat.ISO.DATE) LocalDate from,
            @RequestParam @DateTimeFormat(iso = DateTimeFormat.ISO.DATE) LocalDate to,
            @RequestParam(required = false) @Nullable String site) {
        StringWriter text = new StringWriter();
        try (CSVPrinter out = new CSVPrinter(
                text,
                CSVFormat.RFC4180
                        .builder()
                        .setHeader(
                                "job",
                                "procedure",
                                "title",
                                "asset",
                                "position",
                                "site",
                                "reason",
                                "opens",
                                "due",
                                "closes",
                                "done_on",
                                "outcome",
                                "why",
                                "record")
                        .get())) {
            for (Compliance.ComplianceJob j : compliance.jobs(from, to, site, null)) {
                out.printRecord(
                        j.id(),
                        j.procedure(),
                        CellText.guarded(j.title()),
                        j.asset(),
                        j.position(),
                        CellText.guarded(j.siteName()),
                        CellText.guarded(j.reason()),
                        j.opens(),
                        j.due(),
                        j.closes(),
                        j.doneOn(),
                        CoreJson.constantName(j.outcome()),
                        CellText.guarded(j.why()),
                        j.record());
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return file(
                "tests-due-" + from + "-to-" + to + ".csv",
                new MediaType("text", "csv", StandardCharsets.UTF_8),
                text.toString().getBytes(StandardCharsets.UTF_8));
    }

    @GetMapping(value = "/paper", produces = MediaType.APPLICATION_PDF_VALUE)
    ResponseEntity<byte[]> paper(
            @RequestParam @DateTimeFormat(iso = DateTimeFormat.ISO.DATE) LocalDate from,
            @RequestParam @DateTimeFormat(iso = DateTimeFormat.ISO.DATE) LocalDate to,
            @RequestParam(defaultValue = "quarter") String by,
            @RequestParam(required = false) @Nullable String site) {
        String where = site == null
                ? "all sites"
                : jdbc.sql("SELECT name FROM site WHERE code = :code")
                        .param("code", site)
                        .query(String.class)
                        .optional()
                        .orElse(site);
        return file(
                "tests-due-" + from + "-to-" + to + ".pdf",
                MediaType.APPLICATION_PDF,
                press.print(
                        CompliancePaper.html(compliance.report(from, to, by, site), where),
                        "Juratest " + Juratest.VERSION));
    }

    private static ResponseEntity<byte[]> file(String name, MediaType type, byte[] bytes) {
        return ResponseEntity.ok()
                .header(
                        HttpHeaders.CONTENT_DISPOSITION,
                        ContentDisposition.attachment().filename(name).build().toString())
                .contentType(type)
                .body(bytes);
    }
}
