package org.juratest.server.record;

import jakarta.servlet.http.HttpServletResponse;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.io.OutputStreamWriter;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.security.Principal;
import java.time.LocalDate;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.juratest.core.record.FileNamePattern;
import org.juratest.core.run.Refusal;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.run.RecordLines;
import org.springframework.format.annotation.DateTimeFormat;
import org.springframework.http.ContentDisposition;
import org.springframework.http.HttpHeaders;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Records as files: one as PDF, JSON or CSV, many as JSON or CSV, and how they are named. */
@RestController
@RequestMapping("/api")
class ExportController {

    private final Records records;
    private final FileNames names;
    private final RecordPdf pdf;
    private final CaptureFiles captures;

    ExportController(Records records, FileNames names, RecordPdf pdf, CaptureFiles captures) {
        this.captures = captures;
        this.records = records;
        this.names = names;
        this.pdf = pdf;
    }

    /**
     * How files are named.
     *
     * @param preview name of an example, with its ending
     * @param of number of the record it is of; absent where there is no record yet
     * @param words that may stand in braces
     */
    record FileNaming(String pattern, String preview, @Nullable String of, List<String> words) {}

    /** Another way to name files. */
    record NewPattern(String pattern) {}

    @GetMapping(value = "/records/{position}/{year}/{n}/pdf", produces = MediaType.APPLICATION_PDF_VALUE)
    ResponseEntity<byte[]> pdf(@PathVariable String position, @PathVariable int year, @PathVariable int n) {
        Records.Whole whole = records.whole(records.run(RecordController.number(position, year, n)));
        RecordView view = records.view(whole);
        return file(view, MediaType.APPLICATION_PDF, ".pdf", pdf.of(view, RecordFile.of(view, whole.bodies())));
    }

    @GetMapping(value = "/records/{position}/{year}/{n}/json", produces = MediaType.APPLICATION_JSON_VALUE)
    ResponseEntity<byte[]> json(@PathVariable String position, @PathVariable int year, @PathVariable int n) {
        Records.Whole whole = records.whole(records.run(RecordController.number(position, year, n)));
        RecordView view = records.view(whole);
        return file(view, MediaType.APPLICATION_JSON, ".json", RecordFile.of(view, whole.bodies()));
    }

    @GetMapping(value = "/records/{position}/{year}/{n}/files", produces = "application/zip")
    ResponseEntity<byte[]> files(
            @PathVariable String position,
            @PathVariable int year,
            @PathVariable int n,
            @RequestParam(required = false) @Nullable String pattern)
            throws IOException {
        CaptureFiles.check(pattern);
        Records.Whole whole = withFiles(position, year, n);
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        captures.write(whole.run(), pattern, out);
        return file(records.view(whole), MediaType.parseMediaType("application/zip"), ".zip", out.toByteArray());
    }

    private Records.Whole withFiles(String position, int year, int n) {
        Records.Whole whole = records.whole(records.run(RecordController.number(position, year, n)));
        if (!CaptureFiles.any(whole.run())) {
            throw new Refusal("no-files", "This record captured nothing that is written as a file.");
        }
        return whole;
    }

    /** @param pattern to be tried; absent for the one in use */
    @GetMapping("/records/{position}/{year}/{n}/files/names")
    CaptureFiles.CaptureNaming captureNames(
            @PathVariable String position,
            @PathVariable int year,
            @PathVariable int n,
            @RequestParam(required = false) @Nullable String pattern) {
        CaptureFiles.check(pattern);
        return captures.naming(withFiles(position, year, n).run(), pattern);
    }

    /** Names the files of this record's work order. */
    @PutMapping("/records/{position}/{year}/{n}/files/names")
    CaptureFiles.CaptureNaming nameCaptures(
            @PathVariable String position,
            @PathVariable int year,
            @PathVariable int n,
            @RequestBody NewPattern given,
            Principal who) {
        CaptureFiles.check(given.pattern());
        Records.Whole whole = withFiles(position, year, n);
        captures.keep(whole.run(), given.pattern(), who.getName());
        return captures.naming(whole.run(), null);
    }

    @GetMapping(value = "/records/{position}/{year}/{n}/csv", produces = "text/csv")
    ResponseEntity<byte[]> csv(@PathVariable String position, @PathVariable int year, @PathVariable int n) {
        Records.Whole whole = records.whole(records.run(RecordController.number(position, year, n)));
        RecordView view = records.view(whole);
        StringBuilder table = new StringBuilder(RecordLines.header());
        RecordLines.of(whole.run())
                .write(
                        view.by(),
                        CoreJson.constantName(view.verdict()),
                        CoreJson.constantName(view.signing().state()),
                        table);
        return file(
                view,
                new MediaType("text", "csv", StandardCharsets.UTF_8),
                ".csv",
                table.toString().getBytes(StandardCharsets.UTF_8));
    }

    private ResponseEntity<byte[]> file(RecordView view, MediaType type, String ending, byte[] bytes) {
        return ResponseEntity.ok()
                .contentType(type)
                .header(HttpHeaders.CONTENT_DISPOSITION, disposition(FileNames.name(names.pattern(), view) + ending))
                .body(bytes);
    }

    private static String disposition(String name) {
        return ContentDisposition.attachment()
                .filename(name, StandardCharsets.UTF_8)
                .build()
                .toString();
    }

    /** Every record a filter finds, one after the other: nothing but a few at hand is in memory. */
    @GetMapping("/records/export/{kind}")
    void many(
            @PathVariable String kind,
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
            HttpServletResponse response)
            throws IOException {
        RecordFilter filter =
                new RecordFilter(asset, position, site, text, person, procedure, verdict, signing, from, to);
        boolean table = kind.equals("csv");
        if (!table && !kind.equals("json")) {
            throw new Refusal("unknown-kind", "Records are exported as csv or json, not \"" + kind + "\".", "kind");
        }
        response.setContentType(table ? "text/csv;charset=UTF-8" : MediaType.APPLICATION_JSON_VALUE);
        response.setHeader(HttpHeaders.CONTENT_DISPOSITION, disposition("records." + kind));
        if (table) {
            writeTable(filter, response.getOutputStream());
        } else {
            writeArray(filter, response.getOutputStream());
        }
    }

    /** Writes records as one table. */
    void writeTable(RecordFilter filter, OutputStream out) throws IOException {
        Writer writer = new OutputStreamWriter(out, StandardCharsets.UTF_8);
        writer.write(RecordLines.header());
        records.eachLines(filter, rows -> {
            try {
                writer.append(rows);
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        });
        writer.flush();
    }

    /** Writes records as an array of record files. */
    void writeArray(RecordFilter filter, OutputStream out) throws IOException {
        out.write('[');
        boolean[] first = {true};
        records.eachWhole(filter, (whole, view) -> RecordFile.of(view, whole.bodies()), file -> {
            try {
                if (!first[0]) {
                    out.write(",\n".getBytes(StandardCharsets.UTF_8));
                }
                first[0] = false;
                out.write(file);
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        });
        out.write(']');
        out.flush();
    }

    @GetMapping("/file-naming")
    FileNaming naming(@RequestParam(required = false) @Nullable String pattern) {
        FileNamePattern shown = pattern == null ? names.pattern() : new FileNamePattern(pattern);
        RecordView example =
                records
                        .page(new RecordFilter(null, null, null, null, null, null, null, null, null, null), null, 1)
                        .stream()
                        .findFirst()
                        .map(line -> records.view(records.whole(line.run())))
                        .orElse(null);
        return new FileNaming(
                shown.text(),
                example == null ? "" : FileNames.name(shown, example) + ".pdf",
                example == null ? null : example.number(),
                FileNamePattern.WORDS);
    }

    @PutMapping("/file-naming")
    FileNaming rename(@RequestBody NewPattern given) {
        names.put(new FileNamePattern(given.pattern()));
        return naming(null);
    }
}
