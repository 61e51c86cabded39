package org.juratest.formats.curve;

import java.util.List;
import org.juratest.core.curve.CurveModel;
import org.juratest.formats.json.CoreJson;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.DeserializationFeature;

/** Curve models as JSON: {@code {"format":"juratest-curves/1","models":[...]}}, for import and export. */
public final class CurveJson {

    public static final String FORMAT = "juratest-curves/1";

    private CurveJson() {}

    private record Document(String format, List<CurveModel> models) {}

    /**
     * Reads models.
     *
     * @throws IllegalArgumentException naming the place that cannot be read
     */
    public static List<CurveModel> read(byte[] json) {
        try {
            Document document = CoreJson.mapper()
                    .readerFor(Document.class)
                    .with(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES)
                    .readValue(json);
            if (!FORMAT.equals(document.format())) {
                throw new IllegalArgumentException("format must be \"" + FORMAT + "\"");
            }
            return document.models();
        } catch (JacksonException e) {
            throw new IllegalArgumentException("curves cannot be read: " + e.getMessage(), e);
        }
    }

    /** Writes models so that {@link #read} gives them back. */
    public static byte[] write(List<CurveModel> models) {
        return CoreJson.mapper().writerWithDefaultPrettyPrinter().writeValueAsBytes(new Document(FORMAT, models));
    }
}
