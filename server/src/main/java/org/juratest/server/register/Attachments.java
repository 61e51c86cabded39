package org.juratest.server.register;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.OptionalLong;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.register.FieldProblem;
import org.juratest.server.blob.Blobs;
import org.juratest.server.people.Reach;
import org.juratest.server.web.FieldsException;
import org.juratest.server.web.NotFoundException;
import org.juratest.server.web.Picture;
import org.springframework.http.MediaType;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;
import org.springframework.transaction.annotation.Transactional;

/**
 * Photos and documents of sites, measuring installations, positions and assets. What they are is told from their bytes.
 */
@Repository
public class Attachments {

    static final int LARGEST = 20 * 1024 * 1024;
    private static final int THUMBNAIL = 240;
    private static final Map<String, String> TABLES = Map.of(
            "site",
            "site",
            "measuringInstallation",
            "measuring_installation",
            "position",
            "position",
            "asset",
            "asset");
    private static final Map<String, byte[]> SIGNATURES = Map.of(
            MediaType.IMAGE_JPEG_VALUE,
            new byte[] {(byte) 0xFF, (byte) 0xD8, (byte) 0xFF},
            MediaType.IMAGE_PNG_VALUE,
            new byte[] {(byte) 0x89, 'P', 'N', 'G', '\r', '\n', 0x1A, '\n'},
            MediaType.APPLICATION_PDF_VALUE,
            new byte[] {'%', 'P', 'D', 'F', '-'});

    private final JdbcClient jdbc;
    private final Acts acts;
    private final Blobs blobs;
    private final Reach reach;

    Attachments(JdbcClient jdbc, Acts acts, Blobs blobs, Reach reach) {
        this.jdbc = jdbc;
        this.acts = acts;
        this.blobs = blobs;
        this.reach = reach;
    }

    /**
     * A file.
     *
     * @param picture whether it has a thumbnail
     */
    public record FileView(
            UUID id,
            String name,
            String mediaType,
            long bytes,
            String caption,
            boolean picture,
            Instant at,
            String by) {}

    /** What a file belongs to. */
    record Owner(String kind, String key) {}

    static List<FileView> of(JdbcClient jdbc, String kind, String key) {
        return jdbc.sql(
                        """
        SELECT f.id, f.name, f.media_type, f.bytes, f.caption, f.thumbnail IS NOT NULL, f.at, coalesce(p.name, f.by)
          FROM attachment f LEFT JOIN person p ON p.id = f.by
        WHERE f.kind = :kind AND f.key = :key ORDER BY f.at DESC, f.id""")
                .param("kind", kind)
                .param("key", key)
                .query((rs, i) -> new FileView(
                        rs.getObject(1, UUID.class),
                        rs.getString(2),
                        rs.getString(3),
                        rs.getLong(4),
                        rs.getString(5),
                        rs.getBoolean(6),
                        rs.getTimestamp(7).toInstant(),
                        rs.getString(8)))
                .list();
    }

    /**
     * Attaches a file.
     *
     * @throws FieldsException if it is too large, of a kind that is not kept, or cannot be read as what it says it is
     */
    @Transactional
    public long add(Owner owner, String name, String caption, byte[] bytes, String by) {
        List<FieldProblem> problems = new ArrayList<>();
        String table = TABLES.get(owner.kind);
        if (table == null) {
            problems.add(new FieldProblem(
                    "kind",
                    "A file belongs to a site, a measuringInstallation, a position or an asset; not to \""
                            + Codes.shortened(owner.kind) + "\"."));
        } else if (!jdbc.sql("SELECT EXISTS (SELECT 1 FROM " + table + " WHERE "
                        + (table.equals("asset") ? "id" : "code") + " = :key)")
                .param("key", owner.key)
                .query(Boolean.class)
                .single()) {
            throw new NotFoundException(owner.kind, owner.key);
        }
        Codes.words("name", "a name", name, problems);
        Codes.length("caption", caption, problems);
        String type = type(bytes);
        if (bytes.length > LARGEST) {
            problems.add(new FieldProblem(
                    "file",
                    "A file has at most " + LARGEST / 1024 / 1024 + " MiB; this one has "
                            + (bytes.length + 1024 * 1024 - 1) / 1024 / 1024
                            + ". Make the photo smaller, or split the document."));
        } else if (type == null) {
            problems.add(new FieldProblem(
                    "file",
                    bytes.length == 0
                            ? "The file is empty."
                            : "\"" + Codes.shortened(name)
                                    + "\" is none of JPEG, PNG, PDF and plain text in UTF-8, as its "
                                    + "first bytes show. Export it as one of these."));
        }
        byte[] thumbnail = problems.isEmpty() && type != null && type.startsWith("image/")
                ? thumbnail(name, bytes, problems)
                : null;
        FieldsException.throwIf(problems);
        long act = acts.begin(by, "Attached " + name.strip() + " to " + owner.key);
        String kept = blobs.keep(String.valueOf(type), bytes);
        jdbc.sql("INSERT INTO attachment (kind, key, sha256, thumbnail, name, media_type, bytes, caption, "
                        + "by) VALUES (:kind, :key, :sha256, :thumbnail, :name, :type, :bytes, :caption, :by)")
                .param("kind", owner.kind)
                .param("key", owner.key)
                .param("sha256", kept)
                .param(
                        "thumbnail",
                        thumbnail == null ? null : blobs.keep(MediaType.IMAGE_JPEG_VALUE, thumbnail),
                        java.sql.Types.VARCHAR)
                .param("name", name.strip())
                .param("type", type)
                .param("bytes", bytes.length)
                .param("caption", caption.strip())
                .param("by", by)
                .update();
        return act;
    }

    private static @Nullable String type(byte[] bytes) {
        for (Map.Entry<String, byte[]> signature : SIGNATURES.entrySet()) {
            if (bytes.length > signature.getValue().length
                    && Arrays.equals(signature.getValue(), Arrays.copyOf(bytes, signature.getValue().length))) {
                return signature.getKey();
            }
        }
        try {
            String text = StandardCharsets.UTF_8
                    .newDecoder()
                    .decode(ByteBuffer.wrap(bytes))
                    .toString();
            return text.isBlank() || text.chars().anyMatch(c -> c < ' ' && c != '\n' && c != '\r' && c != '\t')
                    ? null
                    : MediaType.TEXT_PLAIN_VALUE;
        } catch (CharacterCodingException e) {
            // Bytes that are no text are no plain text.
            return null;
        }
    }

    /** A small picture, turned as the camera said it was held. */
    private static byte @Nullable [] thumbnail(String name, byte[] bytes, List<FieldProblem> problems) {
        OptionalLong pixels = Picture.pixels(bytes);
        if (pixels.isPresent() && pixels.getAsLong() > Picture.MOST_PIXELS) {
            problems.add(new FieldProblem(
                    "file",
                    "The picture has " + pixels.getAsLong() / 1_000_000 + " million pixels; make it smaller than "
                            + Picture.MOST_PIXELS / 1_000_000 + " million."));
            return null;
        }
        try {
            if (pixels.isPresent()) {
                return Picture.small(bytes, THUMBNAIL);
            }
        } catch (IOException | RuntimeException e) {
            // PastJob below: whatever the reader stumbled over, the file is not whole.
        }
        problems.add(new FieldProblem(
                "file",
                "\"" + Codes.shortened(name)
                        + "\" begins like a picture but cannot be read as one; it may be cut off. Take "
                        + "or send it again."));
        return null;
    }

    /** A file's bytes, or its thumbnail's. */
    Blobs.Blob bytes(UUID id, boolean thumbnail) {
        return jdbc.sql("SELECT " + (thumbnail ? "thumbnail" : "sha256") + " FROM attachment WHERE id = :id")
                .param("id", id)
                .query(String.class)
                .optional()
                .flatMap(blobs::byHash)
                .orElseThrow(() -> new NotFoundException("file", id.toString()));
    }

    String name(UUID id) {
        return jdbc.sql("SELECT name FROM attachment WHERE id = :id")
                .param("id", id)
                .query(String.class)
                .optional()
                .orElseThrow(() -> new NotFoundException("file", id.toString()));
    }

    /** Takes a file off; its bytes are kept, so that it can be undone. */
    @Transactional
    public long remove(UUID id, String by) {
        record Row(String name, String key, String by) {}
        Row row = jdbc.sql("SELECT name, key, by FROM attachment WHERE id = :id FOR UPDATE")
                .param("id", id)
                .query((rs, i) -> new Row(rs.getString(1), rs.getString(2), rs.getString(3)))
                .optional()
                .orElseThrow(() -> new NotFoundException("file", id.toString()));
        reach.own(
                by,
                row.by,
                "Somebody else attached " + row.name + "; who did, an engineer or a supervisor takes it off.");
        long act = acts.begin(by, "Took " + row.name + " off " + row.key);
        jdbc.sql("DELETE FROM attachment WHERE id = :id").param("id", id).update();
        return act;
    }
}
