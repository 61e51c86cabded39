package org.juratest.server.register;

import java.util.LinkedHashMap;
import java.util.Map;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.run.AssetFacts;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;
import tools.jackson.databind.JsonNode;

/** Sites, positions and the assets in them, as of now. */
@Repository
public class Register {

  private final JdbcClient jdbc;

  public Register(JdbcClient jdbc) {
    this.jdbc = jdbc;
  }

  /**
   * An asset where it stands now.
   *
   * @throws NotFoundException if there is none, or it is installed nowhere
   */
  public AssetFacts installed(String asset) {
    return jdbc.sql("""
        SELECT a.id, p.code, s.code, s.name, a.class, a.maker, a.model, a.serial, a.nameplate::text, a.curve
        FROM asset a JOIN installation i ON i.asset = a.id AND i.during @> now()
        JOIN position p ON p.code = i.position JOIN site s ON s.code = p.site WHERE a.id = :asset""")
        .param("asset", asset)
        .query((rs, n) -> new AssetFacts(rs.getString(1), rs.getString(2), rs.getString(3), rs.getString(4), rs.getString(5),
            rs.getString(6), rs.getString(7), rs.getString(8), CoreJson.mapper().readValue(rs.getString(9), Nameplate.class),
            rs.getString(10)))
        .optional().orElseThrow(() -> new NotFoundException("installed asset", asset));
  }

  /** Titles of the nameplate values of a class by key, in the order of its schema. */
  public Map<String, String> labels(String assetClass) {
    JsonNode schema = jdbc.sql("SELECT nameplate_schema::text FROM asset_class WHERE code = :code").param("code", assetClass).query(String.class)
        .optional().map(CoreJson.mapper()::readTree).orElseThrow(() -> new NotFoundException("asset class", assetClass));
    Map<String, String> labels = new LinkedHashMap<>();
    // jsonb keeps no order; what is required comes first, as the schema lists it.
    schema.at("/properties/ratings/required").forEach(key -> labels.put(key.asString(), title(schema, key.asString())));
    schema.at("/properties/ratings/properties").propertyNames().forEach(key -> labels.putIfAbsent(key, title(schema, key)));
    return labels;
  }

  private static String title(JsonNode schema, String key) {
    return schema.at("/properties/ratings/properties/" + key).path("title").asString(key);
  }

  /** Time zone of a site. */
  public String zone(String site) {
    return jdbc.sql("SELECT zone FROM site WHERE code = :site").param("site", site).query(String.class).optional()
        .orElseThrow(() -> new NotFoundException("site", site));
  }
}
