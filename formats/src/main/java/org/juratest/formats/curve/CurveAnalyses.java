package org.juratest.formats.curve;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.juratest.core.curve.InverseTimeCurve;
import org.juratest.core.run.Refusal;
import org.juratest.formats.analyse.Analyses;
import org.juratest.formats.analyse.Analysis;
import org.juratest.formats.analyse.AnalysisFamily;
import org.juratest.formats.json.CoreJson;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** {@code analyse curve}: a table of curve, time setting and multiple. */
public final class CurveAnalyses implements AnalysisFamily {

    @Override
    public List<Analysis> analyses() {
        return List.of(new Analysis() {
            @Override
            public String kind() {
                return "curve";
            }

            @Override
            public ObjectNode of(List<Path> inputs, Map<String, String> options) throws IOException {
                return curve(inputs.get(0));
            }
        });
    }

    private static ObjectNode curve(Path input) throws IOException {
        List<CurveTable.Row> rows;
        try (var in = Files.newBufferedReader(input, StandardCharsets.UTF_8)) {
            rows = CurveTable.read(in);
        } catch (IllegalArgumentException e) {
            throw new Refusal("bad-table", String.valueOf(e.getMessage()), "INPUT");
        }
        ObjectNode result = CoreJson.mapper().createObjectNode();
        ArrayNode points = result.putArray("points");
        List<String> warnings = new ArrayList<>();
        for (CurveTable.Row row : rows) {
            ObjectNode point = points.addObject();
            Analyses.put(point, "trip_s", row.curve().tripTime(row.timeSetting(), row.multiple()));
            Analyses.put(point, "reset_s", row.curve().resetTime(row.timeSetting(), row.multiple()));
            if (row.curve() == InverseTimeCurve.LTI && warnings.isEmpty()) {
                warnings.add("lti is common practice, not in the table of IEC 60255-151");
            }
        }
        return Analyses.warned(result, warnings);
    }
}
