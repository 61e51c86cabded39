package org.juratest.formats.family.fibre;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.awt.BasicStroke;
import java.awt.Color;
import java.awt.Graphics2D;
import java.awt.RenderingHints;
import java.awt.geom.Ellipse2D;
import java.awt.geom.Line2D;
import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Random;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.run.Refusal;
import org.juratest.formats.analyse.Analyses;
import org.juratest.formats.picture.GreyFile;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

class EndFaceAnalysisTest {

    private static final Map<String, String> SINGLE = Map.of("um-per-pixel", "0.5", "fibre", "sm");

    @TempDir
    private Path folder;

    /** A face of 0.5 um a pixel with its middle at 300, 280; a defect of 6 um on the cladding, a scratch of 3 um. */
    private static BufferedImage face(int type, boolean marks) {
        BufferedImage image = new BufferedImage(620, 560, type);
        Graphics2D g = image.createGraphics();
        g.setRenderingHint(RenderingHints.KEY_ANTIALIASING, RenderingHints.VALUE_ANTIALIAS_ON);
        g.setRenderingHint(RenderingHints.KEY_STROKE_CONTROL, RenderingHints.VALUE_STROKE_PURE);
        g.setColor(new Color(190, 190, 190));
        g.fillRect(0, 0, 620, 560);
        disc(g, 125, 300, 280, 120);
        disc(g, 9, 300, 280, 140);
        if (marks) {
            disc(g, 6, 380, 250, 20);
            g.setStroke(new BasicStroke(6, BasicStroke.CAP_BUTT, BasicStroke.JOIN_MITER));
            g.draw(new Line2D.Double(240.5, 240.5, 240.5, 320.5));
        }
        g.dispose();
        return image;
    }

    private static void disc(Graphics2D g, double um, double x, double y, int grey) {
        g.setColor(new Color(grey, grey, grey));
        double d = um / 0.5;
        g.fill(new Ellipse2D.Double(x + 0.5 - d / 2, y + 0.5 - d / 2, d, d));
    }

    private static byte[] bytes(BufferedImage image, String kind) throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        ImageIO.write(image, kind, out);
        return out.toByteArray();
    }

    private ObjectNode endface(byte[] bytes, Map<String, String> options) throws IOException {
        return Analyses.byKind("endface")
                .orElseThrow()
                .of(List.of(Files.write(folder.resolve("face"), bytes)), options);
    }

    @ParameterizedTest
    @CsvSource({"png, 10", "png, 1", "jpeg, 10", "jpeg, 1", "png, 11", "png, 2"})
    void aPictureGivesTheObjectOfThePage(String kind, int type) throws IOException {
        ObjectNode found = endface(bytes(face(type, true), kind), SINGLE);
        assertEquals(
                List.of("centre", "zones", "verdict"),
                found.propertyStream().map(Map.Entry::getKey).toList());
        assertEquals(300, found.at("/centre/0").asDouble(), 0.5);
        assertEquals(280, found.at("/centre/1").asDouble(), 0.5);
        List<JsonNode> zones = found.path("zones").valueStream().toList();
        assertEquals(
                List.of("A pass", "B fail", "C pass", "D pass"),
                zones.stream()
                        .map(z -> z.path("zone").asString() + " "
                                + z.path("verdict").asString())
                        .toList());
        assertEquals(
                List.of("zone", "scratches", "defects", "verdict"),
                zones.get(1).propertyStream().map(Map.Entry::getKey).toList());
        assertEquals(6, zones.get(1).at("/defects/0/diameter_um").asDouble(), 0.3);
        assertEquals(3, zones.get(1).at("/scratches/0/width_um").asDouble(), 0.3);
        assertEquals(40, zones.get(1).at("/scratches/0/length_um").asDouble(), 1.5);
        assertEquals("fail", found.path("verdict").asString());
        assertEquals(
                "pass",
                endface(bytes(face(type, false), kind), SINGLE).path("verdict").asString());
    }

    /** Eight fibres at 0.5 um a pixel; the third has a defect of 5 um on its core, the sixth is not there. */
    private static BufferedImage array() {
        BufferedImage image = new BufferedImage(4300, 680, BufferedImage.TYPE_BYTE_GRAY);
        Graphics2D g = image.createGraphics();
        g.setRenderingHint(RenderingHints.KEY_ANTIALIASING, RenderingHints.VALUE_ANTIALIAS_ON);
        g.setRenderingHint(RenderingHints.KEY_STROKE_CONTROL, RenderingHints.VALUE_STROKE_PURE);
        g.setColor(new Color(170, 170, 170));
        g.fillRect(0, 0, 4300, 680);
        for (int n = 1; n <= 8; n++) {
            if (n != 6) {
                disc(g, 125, 400 + 500 * (n - 1), 340, 115);
                disc(g, 9, 400 + 500 * (n - 1), 340, 140);
            }
        }
        disc(g, 5, 400 + 1000 + 8, 346, 20);
        g.dispose();
        return image;
    }

    @Test
    void anArrayGivesEachFaceWithItsNumber() throws IOException {
        Map<String, String> options = new java.util.TreeMap<>(SINGLE);
        options.put("array", "1x8");
        ObjectNode found = endface(bytes(array(), "png"), options);
        assertEquals(
                List.of("faces", "verdict"),
                found.propertyStream().map(Map.Entry::getKey).toList());
        List<JsonNode> faces = found.path("faces").valueStream().toList();
        assertEquals(
                List.of("1 pass", "2 pass", "3 fail", "4 pass", "5 pass", "6 notJudged", "7 pass", "8 pass"),
                faces.stream()
                        .map(f -> f.path("fibre").asInt() + " "
                                + f.path("verdict").asString())
                        .toList());
        assertEquals(400 + 500 * 6, faces.get(6).at("/centre/0").asDouble(), 1);
        assertEquals(5, faces.get(2).at("/zones/0/defects/0/diameter_um").asDouble(), 0.6);
        assertEquals(
                "no fibre can be seen in its place", faces.get(5).path("reason").asString());
        assertEquals("fail", found.path("verdict").asString());
        options.put("live", "1-2,7-8");
        assertEquals(
                "pass", endface(bytes(array(), "png"), options).path("verdict").asString());
    }

    @ParameterizedTest
    @CsvSource({"3x3, all, array", "1x8, some, live", "1x8, 9, live", "'', all, live"})
    void anArrayThatIsNoneIsRefusedByItsOption(String array, String live, String field) {
        Map<String, String> options = new java.util.TreeMap<>(SINGLE);
        if (!array.isEmpty()) {
            options.put("array", array);
        }
        options.put("live", live);
        Refusal refusal = assertThrows(Refusal.class, () -> endface(bytes(array(), "png"), options));
        assertEquals(field, refusal.field());
    }

    @Test
    void whatIsNotJudgedSaysWhy() throws IOException {
        ObjectNode coarse = endface(
                bytes(face(10, false).getSubimage(0, 0, 620, 560), "png"),
                Map.of("um-per-pixel", "0.49", "fibre", "mm"));
        assertEquals("pass", coarse.path("verdict").asString());
        ObjectNode aside = endface(bytes(face(10, false).getSubimage(200, 0, 420, 560), "png"), SINGLE);
        assertEquals("notJudged", aside.path("verdict").asString());
        assertTrue(aside.path("reason").asString().contains("off centre"));
    }

    @ParameterizedTest
    @CsvSource({"um-per-pixel, none", "um-per-pixel, 0", "um-per-pixel, NaN", "fibre, multi", "fibre, ''"})
    void optionsAreCheckedByName(String name, String value) throws IOException {
        Map<String, String> options = new java.util.HashMap<>(SINGLE);
        options.put(name, value);
        byte[] picture = bytes(face(10, false), "png");
        assertEquals(
                name,
                assertThrows(Refusal.class, () -> endface(picture, options)).field());
    }

    /** Whatever the bytes: a picture, or words; and no more memory than for the largest that is read. */
    @Test
    void brokenFilesAreRefusedInWords() throws IOException {
        byte[] blank = bytes(new BufferedImage(300, 300, BufferedImage.TYPE_BYTE_GRAY), "png");
        assertEquals(
                "no-fibre",
                assertThrows(Refusal.class, () -> endface(blank, SINGLE)).code());
        assertEquals(
                "bad-picture",
                assertThrows(Refusal.class, () -> endface(new byte[] {1, 2, 3}, SINGLE))
                        .code());
        byte[] gif = bytes(new BufferedImage(30, 30, BufferedImage.TYPE_BYTE_GRAY), "gif");
        assertTrue(assertThrows(Refusal.class, () -> endface(gif, SINGLE))
                .getMessage()
                .contains("PNG and JPEG"));
        // A head that says 60,000 x 60,000: its width and height stand at bytes 16 to 23, big-endian.
        byte[] huge = blank.clone();
        huge[18] = (byte) 0xea;
        huge[19] = 0x60;
        huge[22] = (byte) 0xea;
        huge[23] = 0x60;
        String said = assertThrows(Refusal.class, () -> endface(huge, SINGLE)).getMessage();
        assertTrue(said.contains("60000 x 60000") || said.contains("broken"), said);
        Random random = new Random(5);
        int refused = 0;
        for (String kind : List.of("png", "jpeg")) {
            byte[] whole = bytes(face(10, true).getSubimage(150, 130, 300, 300), kind);
            for (int i = 0; i < 1500; i++) {
                byte[] other =
                        random.nextInt(4) == 0 ? Arrays.copyOf(whole, random.nextInt(whole.length)) : whole.clone();
                for (int k = 0; k < 1 + random.nextInt(8) && other.length > 0; k++) {
                    other[random.nextInt(other.length)] = (byte) random.nextInt();
                }
                try {
                    GreyFile file = GreyFile.read(other);
                    assertEquals(file.width() * file.height(), file.level().length);
                } catch (GreyFile.PictureException e) {
                    refused++;
                }
            }
        }
        assertTrue(refused > 500, refused + " were refused");
    }
}
