package org.juratest.server.blob;

import java.util.Arrays;
import java.util.Map;
import java.util.OptionalLong;
import org.jspecify.annotations.Nullable;
import org.juratest.core.run.Refusal;
import org.juratest.server.web.NotFoundException;
import org.juratest.server.web.Picture;
import org.springframework.http.CacheControl;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Photos as blobs named by their SHA-256. The type is told from the bytes, not from what the client says. */
@RestController
@RequestMapping("/api/blobs")
class BlobController {

    private static final int LARGEST = 12 * 1024 * 1024;
    private static final Map<String, byte[]> SIGNATURES = Map.of(
            MediaType.IMAGE_JPEG_VALUE, new byte[] {(byte) 0xFF, (byte) 0xD8, (byte) 0xFF},
            MediaType.IMAGE_PNG_VALUE, new byte[] {(byte) 0x89, 'P', 'N', 'G', '\r', '\n', 0x1A, '\n'});

    private final Blobs blobs;

    BlobController(Blobs blobs) {
        this.blobs = blobs;
    }

    /** A stored blob. */
    record Stored(String sha256, String mediaType) {}

    @PostMapping
    @ResponseStatus(HttpStatus.CREATED)
    Stored store(@RequestBody byte[] bytes) {
        String type = type(bytes);
        if (type == null) {
            throw new Refusal(
                    "wrong-type", "A photo is a JPEG or PNG file; the first bytes of this one are neither's.", "body");
        }
        if (bytes.length > LARGEST) {
            throw new Refusal(
                    "too-large", "A photo has at most 12 MiB; this one has " + bytes.length / 1024 + " KiB.", "body");
        }
        OptionalLong pixels = Picture.pixels(bytes);
        if (pixels.isPresent() && pixels.getAsLong() > Picture.MOST_PIXELS) {
            throw new Refusal(
                    "too-large",
                    "A photo has at most " + Picture.MOST_PIXELS / 1_000_000 + " million pixels; this one has "
                            + pixels.getAsLong() / 1_000_000 + " million.",
                    "body");
        }
        return new Stored(blobs.keep(type, bytes), type);
    }

    private static @Nullable String type(byte[] bytes) {
        return SIGNATURES.entrySet().stream()
                .filter(s -> bytes.length > s.getValue().length
                        && Arrays.equals(s.getValue(), Arrays.copyOf(bytes, s.getValue().length)))
                .map(Map.Entry::getKey)
                .findFirst()
                .orElse(null);
    }

    @GetMapping("/{sha256}")
    ResponseEntity<byte[]> read(@PathVariable String sha256) {
        Blobs.Blob blob = blobs.byHash(sha256).orElseThrow(() -> new NotFoundException("blob", sha256));
        return ResponseEntity.ok()
                .contentType(MediaType.parseMediaType(blob.mediaType()))
                .cacheControl(
                        CacheControl.maxAge(java.time.Duration.ofDays(365)).cachePrivate())
                .body(blob.bytes());
    }
}
