package org.juratest.server.variant;

import java.security.Principal;
import java.util.List;
import org.springframework.http.ContentDisposition;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Variants: list, revisions, files out and in. They are made and applied in a run. */
@RestController
@RequestMapping("/api/variants")
class VariantController {

    private final Variants variants;

    VariantController(Variants variants) {
        this.variants = variants;
    }

    @GetMapping
    List<Variants.VariantSummary> of(@RequestParam String procedure) {
        return variants.of(procedure);
    }

    @GetMapping("/{code}")
    List<Variants.VariantSummary> revisions(@PathVariable String code) {
        return variants.revisions(code);
    }

    @GetMapping(value = "/{code}/{revision}", produces = MediaType.APPLICATION_JSON_VALUE)
    ResponseEntity<byte[]> file(@PathVariable String code, @PathVariable int revision) {
        return ResponseEntity.ok()
                .header(
                        HttpHeaders.CONTENT_DISPOSITION,
                        ContentDisposition.attachment()
                                .filename(code + "-" + revision + ".json")
                                .build()
                                .toString())
                .body(variants.revision(code, revision).body());
    }

    @PostMapping
    @ResponseStatus(HttpStatus.CREATED)
    Variants.VariantSummary take(@RequestBody byte[] document, Principal person) {
        return variants.take(document, person.getName());
    }
}
