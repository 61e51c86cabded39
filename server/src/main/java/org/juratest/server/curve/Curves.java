package org.juratest.server.curve;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.juratest.core.curve.CurveLibrary;
import org.juratest.core.curve.CurveModel;
import org.juratest.core.curve.TimeCurrentBand;
import org.juratest.core.run.AssetFacts;
import org.juratest.formats.curve.CurveJson;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.family.FamilyFiles;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Repository;

/** The curve library: what ships with the program, and what people added. */
@Repository
public class Curves {

    private static final Logger LOG = LoggerFactory.getLogger(Curves.class);
    /** Serves where the model of a device is not in the library. */
    private static final String RATED_CURRENT = "ratedCurrent";

    private static final String GENERIC = "generic-field";

    private final JdbcClient jdbc;
    private final CurveLibrary shipped;

    public Curves(JdbcClient jdbc) {
        this.jdbc = jdbc;
        this.shipped = new CurveLibrary(shipped());
    }

    private static List<CurveModel> shipped() {
        return FamilyFiles.all("curves.json").stream()
                .flatMap(f -> CurveJson.read(f.bytes()).stream())
                .toList();
    }

    public CurveLibrary library() {
        return shipped.with(jdbc.sql("SELECT body::text FROM curve_model ORDER BY id")
                .query((rs, i) -> CoreJson.mapper().readValue(rs.getString(1), CurveModel.class))
                .list());
    }

    /** Adds models, or replaces those of the same id. */
    public void add(List<CurveModel> models) {
        for (CurveModel model : models) {
            jdbc.sql("INSERT INTO curve_model (id, body) VALUES (:id, :body::jsonb) ON CONFLICT (id) DO "
                            + "UPDATE SET body = excluded.body")
                    .param("id", model.id())
                    .param("body", CoreJson.mapper().writeValueAsString(model))
                    .update();
        }
    }

    /**
     * The band of an asset: of the curve named in the register, else of its maker and model, else the generic field
     * limits. Absent where the nameplate does not fit it; what needs the band then says so.
     */
    public @Nullable TimeCurrentBand curveOf(AssetFacts asset) {
        if (asset.curve() == null && asset.nameplate().base(RATED_CURRENT).isEmpty()) {
            // Not a device that trips by current, or one of which not even that is known.
            return null;
        }
        CurveLibrary library = library();
        CurveModel model = (asset.curve() == null
                        ? library.byNameplate(asset.maker(), asset.model())
                        : library.byId(asset.curve()))
                .or(() -> library.byId(GENERIC))
                .orElseThrow();
        try {
            return model.bandFor(asset.nameplate().bases());
        } catch (IllegalArgumentException e) {
            LOG.info("the curve {} does not fit {}: {}", model.id(), asset.position(), e.getMessage());
            return null;
        }
    }

    /** Models of ids, or all for an empty list. */
    List<CurveModel> models(List<String> ids) {
        return new ArrayList<>(library().models())
                .stream().filter(m -> ids.isEmpty() || ids.contains(m.id())).toList();
    }
}
