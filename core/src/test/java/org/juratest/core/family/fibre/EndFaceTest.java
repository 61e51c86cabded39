package org.juratest.core.family.fibre;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.Arrays;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.family.fibre.EndFace.Finding;
import org.juratest.core.family.fibre.EndFace.NoFaceException;
import org.juratest.core.family.fibre.EndFace.Verdict;

class EndFaceTest {

    private static final double SCALE = 0.5;

    private static MadeFace face() {
        return new MadeFace(640, 560, SCALE).blur(0.4).noise(0.008, 7);
    }

    private static EndFace look(MadeFace face, EndFaceTable table) {
        return EndFace.of(face.picture(), SCALE, table);
    }

    private static EndFace.Zone zone(EndFace face, String name) {
        return face.zones().stream()
                .filter(z -> z.name().equals(name))
                .findFirst()
                .orElseThrow();
    }

    private static List<Verdict> verdicts(EndFace face) {
        return face.zones().stream().map(EndFace.Zone::verdict).toList();
    }

    /** Ferrules lighter and darker than the fibre, with an edge of adhesive and without, lit from one side. */
    @ParameterizedTest
    @CsvSource({
        "0.75, 0.35, 0.5, 0.58, 0, 4.5",
        "0.2, 0.1, 0.55, 0.9, 0, 4.5",
        "0.8, 0.8, 0.45, 0.45, 0.08, 4.5",
        "0.6, 0.3, 0.6, 0.2, -0.06, 4.5",
        "0.7, 0.4, 0.5, 0.65, 0, 25"
    })
    void aCleanFaceIsFoundAndPasses(double ferrule, double ring, double cladding, double core, double tilt, double r) {
        MadeFace made = face().levels(ferrule, ring, cladding, core).tilt(tilt).coreRadius(r);
        EndFace found = look(made, r > 10 ? EndFaceTable.multimode() : EndFaceTable.singleMode());
        assertEquals(made.centreX(), found.x(), 0.6);
        assertEquals(made.centreY(), found.y(), 0.6);
        assertEquals(125, found.radius(), 3);
        assertEquals(Verdict.PASS, found.verdict(), found.toString());
        assertNull(found.reason());
        assertTrue(found.zones().stream()
                .allMatch(z -> z.scratches().isEmpty() && z.defects().isEmpty() && z.seen() == 1));
    }

    /** Diameters by area, in every zone, dark and light, at scales from fine to just good enough. */
    @ParameterizedTest
    @CsvSource({"0.25, 0.2", "0.5, 0", "0.5, 0.5", "0.8, 0.4", "1, 0.3"})
    void defectsHaveTheDiameterOfTheirArea(double scale, double blur) {
        MadeFace made = new MadeFace((int) (300 / scale), (int) (290 / scale), scale)
                .blur(blur)
                .noise(0.008, 3)
                .defect(30, 10, 4, 0.1)
                .defect(-20, 35, 8, 0.85)
                .defect(-25, -30, 3, 0.1)
                .defect(85, -20, 12, 0.2)
                .defect(5, -4, 5, 0.1);
        EndFace found = EndFace.of(made.picture(), scale, EndFaceTable.singleMode());
        assertEquals(List.of(5.0), rounded(zone(found, "A").defects()));
        assertEquals(List.of(3.0, 4.0, 8.0), rounded(zone(found, "B").defects()));
        assertEquals(List.of(12.0), rounded(zone(found, "D").defects()));
        assertEquals(List.of(Verdict.FAIL, Verdict.FAIL, Verdict.PASS, Verdict.FAIL), verdicts(found));
        assertNotNull(found.reason());
    }

    private static List<Double> rounded(List<Finding> found) {
        return found.stream().map(f -> (double) Math.round(f.size())).sorted().toList();
    }

    @Test
    void aScratchHasWidthAndLengthInEveryZoneItPasses() {
        EndFace found = look(face().scratch(-10, -90, -10, 90, 2.5, 0.2), EndFaceTable.singleMode());
        for (String z : List.of("A", "B", "C", "D")) {
            assertEquals(1, zone(found, z).scratches().size(), found.toString());
            assertEquals(2.5, zone(found, z).scratches().get(0).size(), 0.4);
            assertTrue(zone(found, z).defects().isEmpty());
        }
        // Chords of the zones at 10 um from the middle.
        double inA = 2 * Math.sqrt(12.5 * 12.5 - 100);
        double inB = 2 * Math.sqrt(57.5 * 57.5 - 100) - inA;
        assertEquals(inA, zone(found, "A").scratches().get(0).length(), 1.5);
        assertEquals(inB, zone(found, "B").scratches().get(0).length(), 4);
        assertEquals(List.of(Verdict.FAIL, Verdict.PASS, Verdict.PASS, Verdict.PASS), verdicts(found));
        // An angled one may have four in its core that are no wider than 3 um.
        assertEquals(
                Verdict.PASS,
                look(face().scratch(-10, -90, -10, 90, 2.5, 0.2), EndFaceTable.angled())
                        .verdict());
        assertEquals(
                Verdict.FAIL,
                look(face().scratch(-10, -90, -10, 90, 4.2, 0.2), EndFaceTable.angled())
                        .verdict());
    }

    /** The table of single mode at its edges: what is free, what is counted, what is none. */
    @ParameterizedTest
    @CsvSource({"1.5, 12, PASS", "3.5, 5, PASS", "3.5, 6, FAIL", "5.8, 1, FAIL", "4.4, 1, PASS"})
    void theCladdingHasClassesOfDefects(double diameter, int count, Verdict verdict) {
        MadeFace made = face();
        for (int i = 0; i < count; i++) {
            double angle = 2 * Math.PI * i / count + 0.3;
            made.defect(36 * Math.cos(angle), 36 * Math.sin(angle), diameter, 0.1);
        }
        EndFace found = look(made, EndFaceTable.singleMode());
        assertEquals(verdict, zone(found, "B").verdict(), found.toString());
        assertEquals(verdict, found.verdict());
    }

    @Test
    void aDefectCountsOnceInTheInnermostZoneItTouches() {
        EndFace found = look(face().defect(0, 12.5, 6, 0.1), EndFaceTable.singleMode());
        assertEquals(1, zone(found, "A").defects().size());
        assertEquals(0, zone(found, "B").defects().size());
        assertEquals(6, zone(found, "A").defects().get(0).size(), 0.4);
        assertEquals(List.of(Verdict.FAIL, Verdict.PASS, Verdict.PASS, Verdict.PASS), verdicts(found));
        // In the adhesive and the contact zone what is small is free.
        EndFace outside = look(face().defect(64, 0, 4, 0.95).defect(0, 90, 8, 0.3), EndFaceTable.singleMode());
        assertEquals(Verdict.PASS, outside.verdict(), outside.toString());
    }

    /** Dirt on a third of the face is dirt, and not light from the other side. */
    @Test
    void muchDirtIsNoShadow() {
        EndFace found = look(face().defect(-36, 0, 48, 0.2).tilt(0.05), EndFaceTable.singleMode());
        assertEquals(Verdict.FAIL, zone(found, "A").verdict(), found.toString());
        assertEquals(48, zone(found, "A").defects().get(0).size(), 5, found.toString());
    }

    /** What lies right in the middle is the same all around, and is no core: it is too wide, or lies on one. */
    @ParameterizedTest
    @CsvSource({"4.5, 0, 18", "4.5, 0, 30", "4.5, 3, 22", "4.5, 0, 70", "25, 0, 14", "25, 1, 24", "25, 0, 80"})
    void dirtRoundTheMiddleIsDirt(double core, double aside, double diameter) {
        MadeFace made = face().coreRadius(core).defect(aside, 0, diameter, 0.12);
        EndFaceTable table = core > 10 ? EndFaceTable.multimode() : EndFaceTable.singleMode();
        EndFace found = look(made, table);
        assertEquals(Verdict.FAIL, found.verdict(), found.toString());
        Finding largest = zone(found, "A").defects().stream()
                .max(java.util.Comparator.comparingDouble(Finding::size))
                .orElseThrow();
        // The core beneath it hides a part, where it is as dark as dirt.
        assertEquals(diameter, largest.size(), 0.15 * diameter, found.toString());
        assertEquals(Verdict.PASS, look(face().coreRadius(core), table).verdict());
    }

    @Test
    void whatShowsTooLittleIsNotJudged() {
        MadeFace coarse = new MadeFace(240, 220, 1.25).defect(0, 0, 6, 0.1);
        EndFace seen = EndFace.of(coarse.picture(), 1.25, EndFaceTable.singleMode());
        assertEquals(Verdict.NOT_JUDGED, seen.verdict());
        assertTrue(String.valueOf(seen.reason()).contains("too coarse"), seen.reason());
        EndFace blurred = look(face().blur(3.5), EndFaceTable.singleMode());
        assertEquals(Verdict.NOT_JUDGED, blurred.verdict());
        assertTrue(String.valueOf(blurred.reason()).contains("not sharp"), blurred.reason());
        EndFace aside = look(face().centre(180, 280), EndFaceTable.singleMode());
        assertEquals(Verdict.NOT_JUDGED, aside.verdict());
        assertTrue(String.valueOf(aside.reason()).contains("off centre"), aside.reason());
        // What fails in the part that is seen fails.
        assertEquals(
                Verdict.FAIL,
                look(face().centre(180, 280).defect(5, 5, 4, 0.1), EndFaceTable.singleMode())
                        .verdict());
    }

    @Test
    void withoutAFibreThereIsNothingToJudge() {
        Random random = new Random(2);
        float[] any = new float[400 * 400];
        for (int kind = 0; kind < 4; kind++) {
            for (int i = 0; i < any.length; i++) {
                any[i] = kind == 0
                        ? 1
                        : kind == 1 ? 0 : kind == 2 ? random.nextFloat() : i % 400 / 40 % 2 == 0 ? 0.2f : 0.8f;
            }
            GreyPicture picture = new GreyPicture(400, 400, any);
            assertThrows(NoFaceException.class, () -> EndFace.of(picture, 0.5, EndFaceTable.singleMode()), "" + kind);
        }
        // The wrong scale: the circle there is not 125 um across.
        GreyPicture picture = face().picture();
        assertThrows(NoFaceException.class, () -> EndFace.of(picture, 0.35, EndFaceTable.singleMode()));
        for (double bad : new double[] {0, -1, Double.NaN, 100}) {
            assertThrows(IllegalArgumentException.class, () -> EndFace.of(picture, bad, EndFaceTable.singleMode()));
        }
        assertThrows(IllegalArgumentException.class, () -> new GreyPicture(3, 3, new float[8]));
    }

    /** Random faces: what lies on them is found with its size, and nothing else is. */
    @Test
    void whatLiesThereIsFoundAndNothingElse() {
        Random random = new Random(11);
        for (int n = 0; n < 25; n++) {
            MadeFace made = new MadeFace(620, 600, SCALE)
                    .blur(0.3 + 0.4 * random.nextDouble())
                    .noise(0.004 + 0.01 * random.nextDouble(), n)
                    .tilt(0.1 * random.nextDouble() - 0.05);
            int defects = random.nextInt(5);
            double[] sizes = new double[defects];
            for (int i = 0; i < defects; i++) {
                sizes[i] = 2.5 + 6 * random.nextDouble();
                double angle = 2 * Math.PI * (i + 0.3 * random.nextDouble()) / defects;
                double r = 20 + 30 * random.nextDouble();
                made.defect(r * Math.cos(angle), r * Math.sin(angle), sizes[i], random.nextBoolean() ? 0.15 : 0.85);
            }
            EndFace found = look(made, EndFaceTable.singleMode());
            String said = "face " + n + ": " + Arrays.toString(sizes) + " " + found;
            List<Finding> all = found.zones().stream()
                    .flatMap(z -> z.defects().stream())
                    .sorted(java.util.Comparator.comparingDouble(Finding::size))
                    .toList();
            assertEquals(
                    0,
                    found.zones().stream().mapToInt(z -> z.scratches().size()).sum(),
                    said);
            assertEquals(defects, all.size(), said);
            Arrays.sort(sizes);
            for (int i = 0; i < defects; i++) {
                assertEquals(sizes[i], all.get(i).size(), 0.4, said);
            }
        }
    }
}
