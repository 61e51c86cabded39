package org.juratest.server.register;

import java.util.Map;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.run.AssetFacts;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;
import tools.jackson.core.type.TypeReference;

/** Sites, positions and the assets in them, as of now. */
@Repository
public class Register {

    private final JdbcClient jdbc;
    private final AssetClasses classes;

    public Register(JdbcClient jdbc, AssetClasses classes) {
        this.jdbc = jdbc;
        this.classes = classes;
    }

    /**
     * An asset where it stands now.
     *
     * @throws NotFoundException if there is none, or it is installed nowhere
     */
    public AssetFacts installed(String asset) {
        return jdbc.sql(
                        """
        SELECT a.id, p.code, s.code, s.name, a.class, a.maker, a.model, a.serial, a.nameplate::text, a.curve,
          s.range::text
        FROM asset a JOIN installation i ON i.asset = a.id AND i.during @> now()
        JOIN position p ON p.code = i.position JOIN site s ON s.code = p.site WHERE a.id = :asset""")
                .param("asset", asset)
                .query((rs, n) -> new AssetFacts(
                        rs.getString(1),
                        rs.getString(2),
                        rs.getString(3),
                        rs.getString(4),
                        rs.getString(5),
                        rs.getString(6),
                        rs.getString(7),
                        rs.getString(8),
                        CoreJson.mapper()
                                .readValue(rs.getString(9), Nameplate.class)
                                .called(labels(rs.getString(5))),
                        rs.getString(10),
                        rs.getString(11) == null
                                ? null
                                : CoreJson.mapper()
                                        .readValue(rs.getString(11), new TypeReference<Map<String, Double>>() {})))
                .optional()
                .orElseThrow(() -> new NotFoundException("installed asset", asset));
    }

    /** Titles of the nameplate values of a class by key, in the order of its schema. */
    public Map<String, String> labels(String assetClass) {
        return classes.labels(assetClass);
    }

    /** Time zone of a site. */
    public String zone(String site) {
        return jdbc.sql("SELECT zone FROM site WHERE code = :site")
                .param("site", site)
                .query(String.class)
                .optional()
                .orElseThrow(() -> new NotFoundException("site", site));
    }
}
