package org.juratest.server.register;

import java.nio.charset.StandardCharsets;
import java.security.Principal;
import java.time.Duration;
import java.util.UUID;
import org.juratest.server.blob.Blobs;
import org.juratest.server.register.Acts.ActView;
import org.springframework.http.CacheControl;
import org.springframework.http.ContentDisposition;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Photos and documents in the register. */
@RestController
@RequestMapping("/api/attachments")
class AttachmentController {

    private final Attachments attachments;
    private final Acts acts;

    AttachmentController(Attachments attachments, Acts acts) {
        this.attachments = attachments;
        this.acts = acts;
    }

    @PostMapping
    @ResponseStatus(HttpStatus.CREATED)
    ActView add(
            @RequestParam String kind,
            @RequestParam String key,
            @RequestParam String name,
            @RequestParam(defaultValue = "") String caption,
            @RequestBody(required = false) byte[] bytes,
            Principal person) {
        return acts.one(attachments.add(
                new Attachments.Owner(kind, key),
                name,
                caption,
                bytes == null ? new byte[0] : bytes,
                person.getName()));
    }

    @GetMapping("/{id}")
    ResponseEntity<byte[]> read(@PathVariable UUID id) {
        Blobs.Blob blob = attachments.bytes(id, false);
        MediaType type = blob.mediaType().equals(MediaType.TEXT_PLAIN_VALUE)
                ? new MediaType("text", "plain", StandardCharsets.UTF_8)
                : MediaType.parseMediaType(blob.mediaType());
        return ResponseEntity.ok()
                .contentType(type)
                .cacheControl(CacheControl.maxAge(Duration.ofDays(30)).cachePrivate())
                .header(
                        HttpHeaders.CONTENT_DISPOSITION,
                        ContentDisposition.inline()
                                .filename(attachments.name(id), StandardCharsets.UTF_8)
                                .build()
                                .toString())
                .body(blob.bytes());
    }

    @GetMapping("/{id}/thumbnail")
    ResponseEntity<byte[]> thumbnail(@PathVariable UUID id) {
        Blobs.Blob blob = attachments.bytes(id, true);
        return ResponseEntity.ok()
                .contentType(MediaType.parseMediaType(blob.mediaType()))
                .cacheControl(CacheControl.maxAge(Duration.ofDays(30)).cachePrivate())
                .body(blob.bytes());
    }

    @DeleteMapping("/{id}")
    ActView remove(@PathVariable UUID id, Principal person) {
        return acts.one(attachments.remove(id, person.getName()));
    }
}
