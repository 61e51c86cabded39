package org.juratest.core.family.fibre;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.Random;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import org.juratest.core.family.fibre.EndFace.NoFaceException;
import org.juratest.core.family.fibre.EndFace.Verdict;

class FaceArrayTest {

    private static final double SCALE = 0.5;

    private static FaceArray look(MadeArray made, ArrayLayout layout, double scale) {
        return FaceArray.of(made.picture(), scale, layout, EndFaceTable.singleMode());
    }

    private static List<Integer> numbers(FaceArray found, Verdict verdict) {
        return found.faces().stream()
                .filter(f -> f.verdict() == verdict)
                .map(FaceArray.Face::number)
                .toList();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = ';',
            value = {
                "1x8; all; 1 2 3 4 5 6 7 8",
                "1x12; outer dark; 2 3 4 5 6 7 8 9 10 11",
                "1x12; inner dark; 1 2 3 4 9 10 11 12",
                "1x12; inner-eight; 3 4 5 6 7 8 9 10",
                "1x8; inner eight; 1 2 3 4 5 6 7 8",
                "1x16; inner eight; 5 6 7 8 9 10 11 12",
                "2x12; outer dark; 2 3 4 5 6 7 8 9 10 11 14 15 16 17 18 19 20 21 22 23",
                "2x16; inner dark; 1 2 3 4 5 6 11 12 13 14 15 16 17 18 19 20 21 22 27 28 29 30 31 32",
                "2x12; 1-3, 24; 1 2 3 24"
            })
    void whichAreLive(String name, String live, String expected) {
        ArrayLayout layout = ArrayLayout.of(name, live);
        assertEquals(
                expected,
                IntStream.of(layout.liveNumbers()).mapToObj(String::valueOf).collect(Collectors.joining(" ")));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = ';',
            value = {"3x4; all", "1x12; 0-3", "1x12; 5-3", "1x12; 13", "1x12; some", "1x12; ''", "2X12; all"})
    void whatIsNoLayoutIsToldInWords(String name, String live) {
        String said = assertThrows(IllegalArgumentException.class, () -> ArrayLayout.of(name, live))
                .getMessage();
        assertTrue(said.contains("such as 1-4,9-12") || said.contains("1x8, 1x12"), said);
    }

    /** Every layout, shifted and turned, is found face by face where it was drawn. */
    @ParameterizedTest
    @CsvSource({
        "1x8, all, 0.6, 0, 0, 0",
        "1x12, all, 0.5, 30, -20, 0.03",
        "1x16, outer dark, 0.8, -40, 15, -0.02",
        "2x12, inner dark, 0.8, 25, 30, 0.025",
        "2x16, all, 0.9, 0, -35, -0.015"
    })
    void everyFaceIsFoundWhereItIs(String name, String live, double scale, double x, double y, double turned) {
        ArrayLayout layout = ArrayLayout.of(name, live);
        MadeArray made = new MadeArray(layout, scale).shifted(x, y).turned(turned);
        FaceArray found = look(made, layout, scale);
        assertArrayEquals(
                layout.liveNumbers(),
                found.faces().stream().mapToInt(FaceArray.Face::number).toArray());
        for (FaceArray.Face f : found.faces()) {
            assertEquals(made.x(f.number()), f.x(), 0.8, "fibre " + f.number());
            assertEquals(made.y(f.number()), f.y(), 0.8, "fibre " + f.number());
            assertEquals(Verdict.PASS, f.verdict(), "fibre " + f.number() + ": " + f.reason());
            assertEquals(
                    List.of("A", "B"),
                    f.face().zones().stream().map(EndFace.Zone::name).toList());
        }
        assertEquals(Verdict.PASS, found.verdict());
    }

    /** What lies on a face is that fibre's, and no other's; what is on the ferrule is nobody's. */
    @Test
    void marksBelongToTheirFibre() {
        ArrayLayout layout = ArrayLayout.of("2x12", "all");
        MadeArray made = new MadeArray(layout, SCALE)
                .face(3, f -> f.defect(4, -3, 5, 0.1))
                .face(8, f -> f.defect(30, 10, 4, 0.1))
                .face(14, f -> f.scratch(-40, 6, 40, 6, 2, 0.2))
                .face(20, f -> f.defect(80, 0, 14, 0.1))
                .face(24, f -> f.defect(-20, 30, 8, 0.9));
        FaceArray found = look(made, layout, SCALE);
        assertEquals(List.of(3, 14, 24), numbers(found, Verdict.FAIL));
        assertEquals(21, numbers(found, Verdict.PASS).size());
        FaceArray.Face third = found.faces().get(2);
        EndFace.Finding defect = third.face().zones().get(0).defects().get(0);
        assertEquals(5, defect.size(), 0.4);
        int middle = defect.pixels()[defect.pixels().length / 2];
        assertEquals(made.x(3) + 4 / SCALE, third.part().x(middle), 6);
        assertEquals(made.y(3) - 3 / SCALE, third.part().y(middle), 6);
        assertEquals("zone A has marks that are not allowed", third.reason());
        assertEquals(
                4, found.faces().get(7).face().zones().get(1).defects().get(0).size(), 0.4);
        assertTrue(found.faces().get(19).face().zones().stream()
                .allMatch(z -> z.defects().isEmpty()));
        assertEquals(Verdict.FAIL, found.verdict());
    }

    /** A fibre that is broken off or covered is known by its place, and nobody says that it is clean. */
    @Test
    void whatCannotBeSeenIsNotJudged() {
        ArrayLayout layout = ArrayLayout.of("1x12", "all");
        for (int missing : new int[] {1, 7, 12}) {
            FaceArray found = look(new MadeArray(layout, SCALE).empty(missing), layout, SCALE);
            assertEquals(List.of(missing), numbers(found, Verdict.NOT_JUDGED));
            FaceArray.Face face = found.faces().get(missing - 1);
            assertEquals("no fibre can be seen in its place", face.reason());
            assertNull(face.face());
            assertEquals(Verdict.NOT_JUDGED, found.verdict());
        }
        FaceArray covered = look(new MadeArray(layout, SCALE).face(5, f -> f.defect(0, 0, 150, 0.15)), layout, SCALE);
        assertEquals(List.of(5), numbers(covered, Verdict.NOT_JUDGED));
        // Dark ones may be there or not.
        ArrayLayout half = ArrayLayout.of("1x12", "inner dark");
        FaceArray dark = look(new MadeArray(layout, SCALE).empty(5).empty(6).empty(8), half, SCALE);
        assertEquals(Verdict.PASS, dark.verdict());
    }

    @Test
    void anUnsharpOrCutArrayIsNotJudged() {
        ArrayLayout layout = ArrayLayout.of("1x8", "all");
        FaceArray blurred = look(new MadeArray(layout, SCALE).blur(3.2), layout, SCALE);
        assertEquals(
                8, numbers(blurred, Verdict.NOT_JUDGED).size(), blurred.faces().toString());
        assertTrue(blurred.faces().get(0).reason().contains("not sharp"));
        FaceArray cut = look(new MadeArray(layout, SCALE).shifted(190, 0), layout, SCALE);
        // Nobody knows whether it is the first or the last that is missing; that one is not seen is sure.
        assertEquals(1, numbers(cut, Verdict.NOT_JUDGED).size());
        assertEquals(Verdict.NOT_JUDGED, cut.verdict());
    }

    @ParameterizedTest
    @ValueSource(ints = {0, 1, 2})
    void aPictureOfSomethingElseIsRefused(int kind) {
        Random random = new Random(3);
        float[] any = new float[1200 * 500];
        for (int i = 0; i < any.length; i++) {
            any[i] = kind == 0 ? 0.5f + 0.1f * (float) random.nextGaussian() : kind == 1 ? 1 : i / 40 % 2 * 0.5f;
        }
        GreyPicture picture = new GreyPicture(1200, 500, any);
        assertThrows(
                NoFaceException.class,
                () -> FaceArray.of(picture, 1, ArrayLayout.of("1x12", "all"), EndFaceTable.singleMode()));
        GreyPicture single = new MadeFace(640, 560, SCALE).picture();
        assertThrows(
                NoFaceException.class,
                () -> FaceArray.of(single, SCALE, ArrayLayout.of("1x12", "all"), EndFaceTable.singleMode()));
    }

    /** Random dirt on random fibres: just those fail, wherever the ferrule lies on the picture. */
    @Test
    void justTheDirtyOnesFail() {
        Random random = new Random(19);
        for (int round = 0; round < 8; round++) {
            ArrayLayout layout = ArrayLayout.of(ArrayLayout.NAMES.get(round % 3), "all");
            MadeArray made = new MadeArray(layout, 0.8)
                    .seed(round * 100L)
                    .shifted(60 * random.nextDouble() - 30, 60 * random.nextDouble() - 30)
                    .turned(0.06 * random.nextDouble() - 0.03);
            List<Integer> dirty = IntStream.rangeClosed(1, layout.size())
                    .filter(n -> random.nextInt(3) == 0)
                    .boxed()
                    .toList();
            dirty.forEach(n -> {
                double angle = 2 * Math.PI * random.nextDouble();
                double r = 8 * random.nextDouble();
                made.face(
                        n, f -> f.defect(r * Math.cos(angle), r * Math.sin(angle), 4 + 20 * random.nextDouble(), 0.12));
            });
            FaceArray found = look(made, layout, 0.8);
            assertEquals(
                    dirty,
                    numbers(found, Verdict.FAIL),
                    "round " + round + " "
                            + found.faces().stream().map(FaceArray.Face::reason).toList());
        }
    }
}
