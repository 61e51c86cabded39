package org.juratest.server.procedure;

import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.run.Refusal;
import org.juratest.formats.procedure.ProcedureJson;
import org.juratest.server.family.Families;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;

/** Procedure versions in the database. A version is frozen when the first run uses it. */
@Repository
public class Procedures {

    private final JdbcClient jdbc;

    public Procedures(JdbcClient jdbc) {
        this.jdbc = jdbc;
    }

    /** A version with the hash of its canonical form. */
    public record Version(Procedure procedure, String hash) {}

    /** What a list shows of a version. */
    public record Summary(String code, int version, String title, String hash, boolean frozen) {}

    public List<Summary> all() {
        return jdbc.sql("SELECT code, version, title, hash, frozen_at IS NOT NULL FROM procedure_version ORDER "
                        + "BY code, version DESC")
                .query((rs, i) ->
                        new Summary(rs.getString(1), rs.getInt(2), rs.getString(3), rs.getString(4), rs.getBoolean(5)))
                .list();
    }

    /** The newest version of a code. */
    public Version newest(String code) {
        return found(
                code,
                jdbc.sql("SELECT body FROM procedure_version WHERE code = :code ORDER BY version DESC LIMIT 1")
                        .param("code", code)
                        .query((rs, i) -> rs.getBytes(1))
                        .optional());
    }

    /** One version. */
    public Version version(String code, int version) {
        return found(
                code + " " + version,
                jdbc.sql("SELECT body FROM procedure_version WHERE code = :code AND version = :version")
                        .param("code", code)
                        .param("version", version)
                        .query((rs, i) -> rs.getBytes(1))
                        .optional());
    }

    private static Version found(String name, Optional<byte[]> body) {
        Procedure procedure = ProcedureJson.published(body.orElseThrow(() -> new NotFoundException("procedure", name)));
        return new Version(procedure, ProcedureJson.hash(procedure));
    }

    /** Marks a version as used; from then on the database refuses to change it. */
    public void freeze(String code, int version) {
        jdbc.sql("UPDATE procedure_version SET frozen_at = now() WHERE code = :code AND version = "
                        + ":version AND frozen_at IS NULL")
                .param("code", code)
                .param("version", version)
                .update();
    }

    /**
     * Takes in a version. The same again does nothing; a used version is never replaced.
     *
     * @throws Refusal if another document is frozen under this version
     */
    public Summary put(Procedure procedure) {
        if (!Families.ids().contains(procedure.family())) {
            throw new Refusal(
                    "unknown-family",
                    "There is no family \"" + procedure.family() + "\"; there are " + String.join(", ", Families.ids())
                            + ".",
                    "family");
        }
        String hash = ProcedureJson.hash(procedure);
        @Nullable
        Summary there = jdbc.sql(
                        "SELECT code, version, title, hash, frozen_at IS NOT NULL FROM procedure_version WHERE "
                                + "code = :code AND version = :version")
                .param("code", procedure.code())
                .param("version", procedure.version())
                .query((rs, i) ->
                        new Summary(rs.getString(1), rs.getInt(2), rs.getString(3), rs.getString(4), rs.getBoolean(5)))
                .optional()
                .orElse(null);
        if (there != null && there.hash().equals(hash)) {
            return there;
        }
        if (there != null && there.frozen()) {
            throw new Refusal(
                    "version-frozen",
                    "Version " + procedure.version() + " of " + procedure.code()
                            + " has been used and never changes. Give the document the next version number.",
                    "version");
        }
        jdbc.sql(
                        """
        INSERT INTO procedure_version (code, version, title, hash, body) VALUES (:code, :version, :title, :hash, :body)
        ON CONFLICT (code, version) DO UPDATE SET title = excluded.title, hash = excluded.hash, body = excluded.body""")
                .param("code", procedure.code())
                .param("version", procedure.version())
                .param("title", procedure.title())
                .param("hash", hash)
                .param("body", ProcedureJson.canonical(procedure))
                .update();
        return new Summary(procedure.code(), procedure.version(), procedure.title(), hash, false);
    }
}
