package org.juratest.core.family.fibre;

import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;

/** What is drawn over a picture of end faces: zones as rings, findings as boxes, in shares of its width. */
final class FaceFacts {

    private FaceFacts() {}

    /** Of a single face. */
    static Map<String, String> of(EndFace face, GreyPicture picture, double scale, EndFaceTable table) {
        Map<String, String> facts = begun(picture, scale, table, face.verdict());
        rings(facts, "", face.x(), face.y(), picture.width(), scale, table);
        boxes(facts, face, new FaceArray.Part(0, 0, picture.width()), picture.width());
        return facts;
    }

    /** Of many: each has its place and what comes of it as well. */
    static Map<String, String> of(FaceArray array, GreyPicture picture, double scale, EndFaceTable table) {
        Map<String, String> facts = begun(picture, scale, table, array.verdict());
        double width = picture.width();
        for (FaceArray.Face f : array.faces()) {
            facts.put(
                    "#spot " + f.number(),
                    String.format(
                            Locale.ROOT,
                            "%.5f %.5f %.5f %s %s",
                            f.x() / width,
                            f.y() / width,
                            FaceCircle.RADIUS / scale / width,
                            verdict(f.verdict()).replace(' ', '-'),
                            f.reason() == null ? "" : f.reason()));
            EndFace face = f.face();
            if (face != null) {
                EndFaceTable own = table.within(2 * FaceCircle.RADIUS);
                rings(facts, f.number() + " ", f.x(), f.y(), width, scale, own);
                boxes(facts, face, f.part(), width);
            }
        }
        return facts;
    }

    private static String verdict(EndFace.Verdict verdict) {
        return verdict.name().toLowerCase(Locale.ROOT).replace('_', ' ');
    }

    private static Map<String, String> begun(
            GreyPicture picture, double scale, EndFaceTable table, EndFace.Verdict verdict) {
        Map<String, String> facts = new LinkedHashMap<>();
        facts.put("width", String.valueOf(picture.width()));
        facts.put("height", String.valueOf(picture.height()));
        facts.put("scale", String.format(Locale.ROOT, "%.4g um a pixel", scale));
        facts.put("table", table.edition());
        facts.put("verdict", verdict(verdict));
        return facts;
    }

    private static void rings(
            Map<String, String> facts, String of, double x, double y, double width, double scale, EndFaceTable table) {
        for (EndFaceTable.Zone z : table.zones()) {
            facts.put(
                    "#ring " + of + z.name(),
                    String.format(Locale.ROOT, "%.5f %.5f %.5f", x / width, y / width, z.to() / 2 / scale / width));
        }
    }

    private static void boxes(Map<String, String> facts, EndFace face, FaceArray.Part part, double width) {
        int n = (int) facts.keySet().stream().filter(k -> k.startsWith("#box ")).count();
        for (EndFace.Zone z : face.zones()) {
            for (EndFace.Finding f : z.defects()) {
                facts.put("#box " + ++n, box(part, width, z, f, "defect"));
            }
            for (EndFace.Finding f : z.scratches()) {
                facts.put("#box " + ++n, box(part, width, z, f, "scratch"));
            }
        }
    }

    /** The box that a mark lies in, whether its zone fails, and what it is. */
    private static String box(FaceArray.Part part, double width, EndFace.Zone zone, EndFace.Finding f, String kind) {
        int left = Integer.MAX_VALUE;
        int right = 0;
        int top = Integer.MAX_VALUE;
        int bottom = 0;
        for (int p : f.pixels()) {
            left = Math.min(left, part.x(p));
            right = Math.max(right, part.x(p));
            top = Math.min(top, part.y(p));
            bottom = Math.max(bottom, part.y(p));
        }
        return String.format(
                Locale.ROOT,
                "%.5f %.5f %.5f %.5f %s %s %.1f \u00b5m",
                left / width,
                top / width,
                (right + 1) / width,
                (bottom + 1) / width,
                zone.verdict() == EndFace.Verdict.FAIL ? "bad" : "free",
                kind,
                f.size());
    }
}
