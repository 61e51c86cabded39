package org.juratest.formats.family.fibre;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.juratest.core.family.fibre.ArrayLayout;
import org.juratest.core.family.fibre.EndFace;
import org.juratest.core.family.fibre.EndFaceTable;
import org.juratest.core.family.fibre.FaceArray;
import org.juratest.core.family.fibre.GreyPicture;
import org.juratest.core.run.Refusal;
import org.juratest.formats.analyse.Analysis;
import org.juratest.formats.json.CoreJson;
import org.juratest.formats.picture.GreyFile;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** {@code analyse endface}: a picture of the end of one fibre, or of those of a multi-fibre ferrule. */
final class EndFaceAnalysis implements Analysis {

    private static final String SCALE = "um-per-pixel";
    private static final String FIBRE = "fibre";
    private static final String ARRAY = "array";
    private static final String LIVE = "live";

    @Override
    public String kind() {
        return "endface";
    }

    @Override
    public List<Option> options() {
        return List.of(
                new Option(SCALE, "um a pixel, 0.05 to 10", true),
                new Option(FIBRE, "sm, mm or apc", true),
                new Option(ARRAY, "layout of a multi-fibre ferrule: " + String.join(", ", ArrayLayout.NAMES), false),
                new Option(
                        LIVE,
                        "its fibres that carry light: " + String.join(", ", ArrayLayout.LIVE) + ", or such as 1-4,9-12",
                        false));
    }

    @Override
    public ObjectNode of(List<Path> inputs, Map<String, String> options) throws IOException {
        double scale = scale(options.getOrDefault(SCALE, ""));
        EndFaceTable table = table(options.getOrDefault(FIBRE, ""));
        ArrayLayout layout = layout(options);
        Path input = inputs.get(0);
        try {
            long size = Files.size(input);
            if (size > GreyFile.MOST_BYTES) {
                throw GreyFile.tooLong(size);
            }
            GreyFile file = GreyFile.read(Files.readAllBytes(input));
            GreyPicture picture = new GreyPicture(file.width(), file.height(), file.level());
            return layout == null
                    ? node(EndFace.of(picture, scale, table))
                    : node(FaceArray.of(picture, scale, layout, table));
        } catch (GreyFile.PictureException e) {
            throw new Refusal("bad-picture", String.valueOf(e.getMessage()), "INPUT");
        } catch (EndFace.NoFaceException e) {
            throw new Refusal("no-fibre", String.valueOf(e.getMessage()), "INPUT");
        }
    }

    private static @Nullable ArrayLayout layout(Map<String, String> options) {
        String array = options.get(ARRAY);
        if (array == null) {
            if (options.containsKey(LIVE)) {
                throw new Refusal("bad-option", "--live goes with --array", LIVE);
            }
            return null;
        }
        try {
            return ArrayLayout.of(array, options.getOrDefault(LIVE, "all"));
        } catch (IllegalArgumentException e) {
            boolean layout = !ArrayLayout.NAMES.contains(array);
            throw new Refusal(
                    "bad-option", "--" + (layout ? ARRAY : LIVE) + ": " + e.getMessage(), layout ? ARRAY : LIVE);
        }
    }

    /** Of each face what a single one has, with its number, and why it is not judged; then of all. */
    private static ObjectNode node(FaceArray array) {
        ObjectNode result = CoreJson.mapper().createObjectNode();
        ArrayNode faces = result.putArray("faces");
        for (FaceArray.Face f : array.faces()) {
            ObjectNode face = faces.addObject();
            face.put("fibre", f.number());
            face.putArray("centre").add(rounded(f.x())).add(rounded(f.y()));
            face.set(
                    "zones",
                    f.face() == null ? face.arrayNode() : node(f.face()).get("zones"));
            face.put("verdict", verdict(f.verdict()));
            if (f.verdict() == EndFace.Verdict.NOT_JUDGED) {
                face.put("reason", f.reason());
            }
        }
        result.put("verdict", verdict(array.verdict()));
        return result;
    }

    private static double scale(String text) {
        try {
            double scale = Double.parseDouble(text);
            if (scale >= 0.05 && scale <= 10) {
                return scale;
            }
        } catch (NumberFormatException e) {
            // Told below.
        }
        throw new Refusal("bad-option", "--um-per-pixel is a number of um, 0.05 to 10, not \"" + text + "\"", SCALE);
    }

    private static EndFaceTable table(String fibre) {
        return switch (fibre) {
            case "sm" -> EndFaceTable.singleMode();
            case "mm" -> EndFaceTable.multimode();
            case "apc" -> EndFaceTable.angled();
            default -> throw new Refusal("bad-option", "--fibre is sm, mm or apc, not \"" + fibre + "\"", FIBRE);
        };
    }

    private static ObjectNode node(EndFace face) {
        ObjectNode result = CoreJson.mapper().createObjectNode();
        result.putArray("centre").add(rounded(face.x())).add(rounded(face.y()));
        ArrayNode zones = result.putArray("zones");
        for (EndFace.Zone z : face.zones()) {
            ObjectNode zone = zones.addObject();
            zone.put("zone", z.name());
            ArrayNode scratches = zone.putArray("scratches");
            z.scratches().forEach(s -> scratches
                    .addObject()
                    .put("width_um", rounded(s.size()))
                    .put("length_um", rounded(s.length())));
            ArrayNode defects = zone.putArray("defects");
            z.defects().forEach(d -> defects.addObject().put("diameter_um", rounded(d.size())));
            zone.put("verdict", verdict(z.verdict()));
        }
        result.put("verdict", verdict(face.verdict()));
        if (face.verdict() == EndFace.Verdict.NOT_JUDGED) {
            result.put("reason", face.reason());
        }
        return result;
    }

    private static String verdict(EndFace.Verdict verdict) {
        return CoreJson.constantName(verdict);
    }

    private static double rounded(double value) {
        return Math.round(value * 100) / 100.0;
    }
}
