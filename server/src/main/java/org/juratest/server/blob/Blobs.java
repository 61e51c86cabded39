package org.juratest.server.blob;

import java.util.Optional;
import org.juratest.core.trace.Trace;
import org.juratest.formats.run.EventCodec;
import org.juratest.formats.trace.TraceBytes;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;

/** Photos, traces and the like: bytes that events name by their SHA-256. */
@Repository
public class Blobs {

    private final JdbcClient jdbc;

    Blobs(JdbcClient jdbc) {
        this.jdbc = jdbc;
    }

    /** Bytes with their media type. */
    public record Blob(String mediaType, byte[] bytes) {}

    /** Keeps bytes; the same ones are kept once. Gives their SHA-256. */
    public String keep(String mediaType, byte[] bytes) {
        String hash = EventCodec.hash(bytes);
        jdbc.sql("INSERT INTO blob (sha256, media_type, bytes) VALUES (:hash, :type, :bytes) ON CONFLICT DO NOTHING")
                .param("hash", hash)
                .param("type", mediaType)
                .param("bytes", bytes)
                .update();
        return hash;
    }

    public Optional<Blob> byHash(String sha256) {
        return jdbc.sql("SELECT media_type, bytes FROM blob WHERE sha256 = :hash")
                .param("hash", sha256)
                .query((rs, i) -> new Blob(rs.getString(1), rs.getBytes(2)))
                .optional();
    }

    /** A kept trace; empty if there is none of that name, or it is something else. */
    public Optional<Trace> trace(String sha256) {
        return byHash(sha256)
                .filter(b -> b.mediaType.equals(TraceBytes.MEDIA_TYPE))
                .map(b -> TraceBytes.read(b.bytes));
    }
}
