package org.juratest.server.variant;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.Variant;
import org.juratest.formats.json.CoreJson;
import org.juratest.formats.json.JsonFault;
import org.juratest.formats.run.EventCodec;
import org.juratest.server.procedure.Procedures;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;
import org.springframework.transaction.annotation.Transactional;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.DeserializationFeature;

/** Variants in the database. A revision never changes; editing a variant makes the next one. */
@Repository
public class Variants {

    private static final String COLUMNS = "v.code, v.procedure, v.name, r.revision, r.hash, r.words, r.by, r.at";

    /** Stands for a person where nobody made a variant. */
    private static final String SHIPPED_BY = "the program";

    private final JdbcClient jdbc;
    private final Procedures procedures;

    Variants(JdbcClient jdbc, Procedures procedures) {
        this.jdbc = jdbc;
        this.procedures = procedures;
    }

    /** What a list shows of a variant's revision. */
    public record VariantSummary(
            String code,
            String procedure,
            String name,
            int revision,
            String hash,
            String words,
            String by,
            Instant at) {}

    /** A revision with its hash and its canonical document. */
    public record Kept(Variant variant, String hash, byte[] body) {}

    private static VariantSummary summary(java.sql.ResultSet rs, int i) throws java.sql.SQLException {
        return new VariantSummary(
                rs.getString(1),
                rs.getString(2),
                rs.getString(3),
                rs.getInt(4),
                rs.getString(5),
                rs.getString(6),
                rs.getString(7),
                rs.getTimestamp(8).toInstant());
    }

    /** Newest revisions of a procedure's variants, by name. */
    public List<VariantSummary> of(String procedure) {
        return jdbc.sql("SELECT " + COLUMNS
                        + " FROM variant v JOIN variant_revision r ON r.variant = v.code AND r.revision "
                        + "= v.revision WHERE v.procedure = :procedure ORDER BY v.name, v.code")
                .param("procedure", procedure)
                .query(Variants::summary)
                .list();
    }

    /** All revisions of a variant, newest first. */
    public List<VariantSummary> revisions(String code) {
        List<VariantSummary> all = jdbc.sql("SELECT " + COLUMNS
                        + " FROM variant v JOIN variant_revision r ON r.variant = v.code WHERE v.code = "
                        + ":code ORDER BY r.revision DESC")
                .param("code", code)
                .query(Variants::summary)
                .list();
        if (all.isEmpty()) {
            throw new NotFoundException("variant", code);
        }
        return all;
    }

    /** The newest revision. */
    public Kept newest(String code) {
        return found(
                code,
                jdbc.sql("SELECT r.body, r.hash FROM variant v JOIN variant_revision r ON r.variant = "
                                + "v.code AND r.revision = v.revision WHERE v.code = :code")
                        .param("code", code)
                        .query((rs, i) -> kept(rs.getBytes(1), rs.getString(2)))
                        .optional());
    }

    /** One revision. */
    public Kept revision(String code, int revision) {
        return found(
                code + " " + revision,
                jdbc.sql("SELECT body, hash FROM variant_revision WHERE variant = :code AND revision = :revision")
                        .param("code", code)
                        .param("revision", revision)
                        .query((rs, i) -> kept(rs.getBytes(1), rs.getString(2)))
                        .optional());
    }

    private static Kept found(String name, Optional<Kept> kept) {
        return kept.orElseThrow(() -> new NotFoundException("variant", name));
    }

    private static Kept kept(byte[] body, String hash) {
        return new Kept(read(body), hash, body);
    }

    /**
     * Reads a document.
     *
     * @throws Refusal naming the field at fault
     */
    static Variant read(byte[] document) {
        try {
            return CoreJson.mapper()
                    .readerFor(Variant.class)
                    .with(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES)
                    .readValue(document);
        } catch (JacksonException e) {
            String field = CoreJson.path(e);
            throw new Refusal(
                    "bad-variant",
                    "This is no variant: " + JsonFault.words(e) + ".",
                    field.isEmpty() ? "line " + e.getLocation().getLineNr() : field);
        }
    }

    /**
     * Keeps a variant a person made of a run: as a new one, or as the next revision of one.
     *
     * @param code absent for a new one
     */
    @Transactional
    public VariantSummary save(
            java.util.function.BiFunction<String, Integer, Variant> made,
            @org.jspecify.annotations.Nullable String code,
            String name,
            String procedure,
            String words,
            String person) {
        if (code == null) {
            String fresh = freshCode(name, procedure);
            return put(made.apply(fresh, 1), words, person);
        }
        int last = jdbc.sql("SELECT revision FROM variant WHERE code = :code FOR UPDATE")
                .param("code", code)
                .query(Integer.class)
                .optional()
                .orElseThrow(() -> new NotFoundException("variant", code));
        return put(made.apply(code, last + 1), words, person);
    }

    private String freshCode(String name, String procedure) {
        String bare = name.toUpperCase(java.util.Locale.ROOT)
                .replaceAll("[^A-Z0-9]+", "-")
                .replaceAll("^-+|-+$", "");
        String base = (procedure + "-" + (bare.isEmpty() ? "V" : bare));
        base = base.substring(0, Math.min(34, base.length())).replaceAll("-+$", "");
        String code = base;
        for (int n = 2;
                jdbc.sql("SELECT EXISTS (SELECT 1 FROM variant WHERE code = :code)")
                        .param("code", code)
                        .query(Boolean.class)
                        .single();
                n++) {
            code = base + "-" + n;
        }
        return code;
    }

    /**
     * Takes in a document from a file. The same again does nothing; a revision that is here with other contents is
     * never replaced.
     *
     * @throws Refusal if it is not a variant of a procedure there is, or another is kept under its revision
     */
    @Transactional
    public VariantSummary take(byte[] document, String person) {
        Variant variant = read(document);
        variant.check(procedures.newest(variant.procedure()).procedure());
        jdbc.sql("SELECT 1 FROM variant WHERE code = :code FOR UPDATE")
                .param("code", variant.code())
                .query(Integer.class)
                .optional();
        Optional<String> there = jdbc.sql(
                        "SELECT hash FROM variant_revision WHERE variant = :code AND revision = :revision")
                .param("code", variant.code())
                .param("revision", variant.revision())
                .query(String.class)
                .optional();
        byte[] body = EventCodec.canonical(CoreJson.mapper().writeValueAsBytes(variant));
        if (there.isPresent()) {
            if (!there.get().equals(EventCodec.hash(body))) {
                throw new Refusal(
                        "revision-kept",
                        "Revision " + variant.revision() + " of " + variant.code()
                                + " is here with other contents, and never changes. Save it as the next revision "
                                + "where it was made, and take in that.",
                        "revision");
            }
            return revisions(variant.code()).stream()
                    .filter(r -> r.revision() == variant.revision())
                    .findFirst()
                    .orElseThrow();
        }
        return put(variant, "taken in from a file", person);
    }

    /**
     * Keeps a variant that ships with the program, unless this revision is there: people may have taken it further.
     *
     * @throws Refusal if it is no variant of a procedure there is
     */
    public void ship(byte[] document) {
        Variant variant = read(document);
        boolean there = jdbc.sql(
                        "SELECT EXISTS (SELECT 1 FROM variant_revision WHERE variant = :code AND revision = :revision)")
                .param("code", variant.code())
                .param("revision", variant.revision())
                .query(Boolean.class)
                .single();
        if (!there) {
            put(variant, "came with it", SHIPPED_BY);
        }
    }

    private VariantSummary put(Variant variant, String words, String person) {
        variant.check(procedures.newest(variant.procedure()).procedure());
        if (words.length() > 400) {
            throw new Refusal("words-too-long", "At most 400 characters.", "words");
        }
        byte[] body = EventCodec.canonical(CoreJson.mapper().writeValueAsBytes(variant));
        jdbc.sql(
                        """
        INSERT INTO variant (code, procedure, name, revision) VALUES (:code, :procedure, :name, :revision)
        ON CONFLICT (code) DO UPDATE SET name = CASE WHEN excluded.revision > variant.revision THEN excluded.name
          ELSE variant.name END, revision = greatest(excluded.revision, variant.revision)""")
                .param("code", variant.code())
                .param("procedure", variant.procedure())
                .param("name", variant.name())
                .param("revision", variant.revision())
                .update();
        jdbc.sql("INSERT INTO variant_revision (variant, revision, hash, body, words, by) VALUES (:code, "
                        + ":revision, :hash, :body, :words, :by)")
                .param("code", variant.code())
                .param("revision", variant.revision())
                .param("hash", EventCodec.hash(body))
                .param("body", body)
                .param("words", words)
                .param("by", person)
                .update();
        return revisions(variant.code()).stream()
                .filter(r -> r.revision() == variant.revision())
                .findFirst()
                .orElseThrow();
    }
}
