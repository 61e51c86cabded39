package org.juratest.server.imports;

import io.swagger.v3.oas.annotations.media.Content;
import io.swagger.v3.oas.annotations.media.Schema;
import io.swagger.v3.oas.annotations.responses.ApiResponse;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.io.OutputStreamWriter;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.Principal;
import java.util.UUID;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;
import org.jspecify.annotations.Nullable;
import org.juratest.formats.table.CellText;
import org.juratest.server.web.Working;
import org.springframework.http.ContentDisposition;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/**
 * Tables into and out of the register. Checking and storing answer with server-sent events: progress, then the result.
 * Whoever goes away while a table is being stored has cancelled it: nothing is stored then.
 */
@RestController
@RequestMapping("/api/register")
class ImportController {

    private final Imports imports;
    private final RegisterSheet sheet;
    private final Working working;

    ImportController(Imports imports, RegisterSheet sheet, Working working) {
        this.imports = imports;
        this.sheet = sheet;
        this.working = working;
    }

    @PostMapping("/imports")
    @ResponseStatus(HttpStatus.CREATED)
    Imports.ImportView take(
            @RequestParam(defaultValue = "table.csv") String name,
            @RequestBody(required = false) byte @Nullable [] bytes,
            Principal person) {
        return imports.view(imports.take(name, bytes == null ? new byte[0] : bytes, person.getName()));
    }

    @GetMapping("/imports/{id}")
    Imports.ImportView one(@PathVariable UUID id) {
        return imports.view(id);
    }

    @PutMapping("/imports/{id}")
    Imports.ImportView understand(@PathVariable UUID id, @RequestBody Imports.Understanding given) {
        imports.understand(id, given);
        return imports.view(id);
    }

    @DeleteMapping("/imports/{id}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void giveUp(@PathVariable UUID id) {
        imports.giveUp(id);
    }

    @PostMapping("/imports/{id}/check")
    @ApiResponse(
            responseCode = "200",
            content =
                    @Content(
                            mediaType = MediaType.TEXT_EVENT_STREAM_VALUE,
                            schema = @Schema(implementation = Imports.ImportResult.class)))
    void check(@PathVariable UUID id, HttpServletResponse response) throws IOException {
        working.tell(response, progress -> imports.check(id, progress));
    }

    @PostMapping("/imports/{id}/store")
    @ApiResponse(
            responseCode = "200",
            content =
                    @Content(
                            mediaType = MediaType.TEXT_EVENT_STREAM_VALUE,
                            schema = @Schema(implementation = Imports.ImportResult.class)))
    void store(@PathVariable UUID id, HttpServletResponse response, Principal person) throws IOException {
        working.tell(response, progress -> imports.store(id, person.getName(), progress));
    }

    /** Every problem of a table, as a table. */
    @GetMapping("/imports/{id}/problems")
    void problems(@PathVariable UUID id, HttpServletResponse response) throws IOException {
        response.setContentType("text/csv;charset=UTF-8");
        response.setHeader(
                HttpHeaders.CONTENT_DISPOSITION,
                ContentDisposition.attachment().filename("problems.csv").build().toString());
        Writer writer = new OutputStreamWriter(response.getOutputStream(), StandardCharsets.UTF_8);
        CSVPrinter printer = new CSVPrinter(
                writer,
                CSVFormat.RFC4180
                        .builder()
                        .setHeader("line", "column", "field", "problem")
                        .get());
        for (Imports.ImportProblem p : imports.problems(id)) {
            printer.printRecord(p.line(), CellText.guarded(p.column()), p.field(), CellText.guarded(p.what()));
        }
        printer.flush();
    }

    /** The register as a table that comes back unchanged; with {@code empty} only its header. */
    @GetMapping("/export")
    void export(
            @RequestParam(required = false) @Nullable String site,
            @RequestParam(defaultValue = "false") boolean empty,
            HttpServletResponse response)
            throws IOException {
        response.setContentType("text/csv;charset=UTF-8");
        response.setHeader(
                HttpHeaders.CONTENT_DISPOSITION,
                ContentDisposition.attachment()
                        .filename(
                                empty
                                        ? "register-empty.csv"
                                        : site == null
                                                ? "register.csv"
                                                : "register-" + site.replaceAll("\\W", "") + ".csv")
                        .build()
                        .toString());
        // Into a file first: the database is not kept waiting for a client that reads slowly.
        Path spooled = Files.createTempFile("register", ".csv");
        try {
            try (Writer writer = Files.newBufferedWriter(spooled, StandardCharsets.UTF_8)) {
                sheet.write(site, empty, writer);
            }
            Files.copy(spooled, response.getOutputStream());
        } finally {
            Files.delete(spooled);
        }
    }
}
