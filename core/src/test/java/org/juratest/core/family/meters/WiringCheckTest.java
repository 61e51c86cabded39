package org.juratest.core.family.meters;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.List;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Wirings found from phasors. */
class WiringCheckTest {

    private static final WiringCheck.Assumed USUAL = WiringCheck.Assumed.USUAL;

    /**
     * What is measured where leads are exchanged.
     *
     * @param u which phase, 0 to 2, is on each input; -1 for none
     * @param i likewise of the currents
     * @param signs 1 or -1
     */
    private static ThreePhase measured(int[] u, int[] i, int[] signs, double phi) {
        List<Phasor> voltages = new ArrayList<>();
        List<Phasor> currents = new ArrayList<>();
        for (int k = 0; k < 3; k++) {
            voltages.add(u[k] < 0 ? Phasor.ZERO : Phasor.of(230, -120.0 * u[k]));
            currents.add(
                    i[k] < 0 ? Phasor.ZERO : Phasor.of(5, -120.0 * i[k] - phi).times(signs[k]));
        }
        return new ThreePhase(50, 10, List.of(), voltages, currents);
    }

    private static int[] three(String words) {
        String[] parts = words.split(" ");
        return new int[] {Integer.parseInt(parts[0]), Integer.parseInt(parts[1]), Integer.parseInt(parts[2])};
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "0 1 2 | 0 1 2 | 1 1 1   | as it should be",
                "0 1 2 | 0 1 2 | 1 -1 1  | current 2 reversed",
                "0 1 2 | 1 0 2 | 1 1 1   | currents 1 and 2 exchanged",
                "0 2 1 | 0 1 2 | 1 1 1   | voltages 2 and 3 exchanged",
                "2 1 0 | 0 1 2 | 1 1 -1  | voltages 1 and 3 exchanged, current 3 reversed",
                "0 1 2 | 1 2 0 | 1 1 1   | currents moved on: input 1 has phase 2, 2 has 3, 3 has 1",
                "0 1 2 | 0 1 2 | -1 -1 -1| current 1 reversed, current 2 reversed, current 3 reversed"
            })
    void aFaultIsAmongWhatFits(String u, String i, String signs, String name) {
        for (double phi : new double[] {-10, 0, 10, 25, 45}) {
            List<WiringCheck.Wiring> fits = WiringCheck.fitting(measured(three(u), three(i), three(signs), phi), USUAL);
            assertTrue(fits.stream().anyMatch(w -> w.name().equals(name)), phi + ": " + names(fits));
        }
    }

    private static List<String> names(List<WiringCheck.Wiring> all) {
        return all.stream().map(WiringCheck.Wiring::name).toList();
    }

    /** Whatever is exchanged and reversed: the truth is among what fits, or another name of the same connections. */
    @Test
    void theTruthAlwaysFitsAndPutRightFollowsFromIt() {
        SplittableRandom random = new SplittableRandom(11);
        int[][] orders = {{0, 1, 2}, {1, 2, 0}, {2, 0, 1}, {0, 2, 1}, {2, 1, 0}, {1, 0, 2}};
        for (int n = 0; n < 400; n++) {
            int[] u = orders[random.nextInt(6)];
            int[] i = orders[random.nextInt(6)];
            int[] signs = {random.nextBoolean() ? 1 : -1, random.nextBoolean() ? 1 : -1, random.nextBoolean() ? 1 : -1};
            double phi = -14 + 63 * random.nextDouble();
            ThreePhase seen = measured(u, i, signs, phi);
            List<WiringCheck.Wiring> fits = WiringCheck.fitting(seen, USUAL);
            assertTrue(
                    fits.stream().anyMatch(w -> same(w, u, i, signs)),
                    java.util.Arrays.toString(u) + java.util.Arrays.toString(i) + " of " + names(fits));
            for (WiringCheck.Wiring w : fits) {
                // Put right as it says, each phase draws at an angle of the kind that was assumed.
                w.angles().forEach(a -> assertTrue(a >= -15 && a <= 50, w + ""));
            }
            for (int k = 1; k < fits.size(); k++) {
                assertTrue(changed(fits.get(k - 1)) <= changed(fits.get(k)), "least to change first");
            }
        }
    }

    private static long changed(WiringCheck.Wiring w) {
        long count = w.reversed().stream().filter(r -> r).count();
        for (int k = 0; k < 3; k++) {
            count += w.voltages().get(k) == k + 1 ? 0 : 1;
            count += w.currents().get(k) == k + 1 ? 0 : 1;
        }
        return count;
    }

    /** The same but for what the phases are called. */
    private static boolean same(WiringCheck.Wiring w, int[] u, int[] i, int[] signs) {
        int named = Math.floorMod(w.voltages().get(0) - 1 - u[0], 3);
        for (int k = 0; k < 3; k++) {
            if (Math.floorMod(w.voltages().get(k) - 1 - u[k], 3) != named
                    || Math.floorMod(w.currents().get(k) - 1 - i[k], 3) != named
                    || w.reversed().get(k) != (signs[k] < 0)) {
                return false;
            }
        }
        return true;
    }

    /** Phasors alone do not tell: with a wide range of power factors several fit, and what is right comes first. */
    @Test
    void aWiderAssumptionLetsMoreFitAndANarrowOneFewer() {
        ThreePhase good = measured(three("0 1 2"), three("0 1 2"), three("1 1 1"), 30);
        List<WiringCheck.Wiring> usual = WiringCheck.fitting(good, USUAL);
        List<WiringCheck.Wiring> wide =
                WiringCheck.fitting(good, new WiringCheck.Assumed(90, 90, 180, WiringCheck.Direction.IMPORT));
        assertTrue(usual.get(0).right());
        assertTrue(wide.get(0).right());
        assertTrue(wide.size() > usual.size(), wide.size() + " of " + usual.size());
        assertEquals(
                List.of("as it should be"),
                names(WiringCheck.fitting(good, new WiringCheck.Assumed(0, 40, 20, WiringCheck.Direction.IMPORT))));
    }

    @Test
    void whoDeliversSeesAllReversedUnlessThatIsAssumed() {
        ThreePhase delivering = measured(three("0 1 2"), three("0 1 2"), three("-1 -1 -1"), 20);
        WiringCheck.Assumed out = new WiringCheck.Assumed(15, 50, 30, WiringCheck.Direction.EXPORT);
        assertTrue(WiringCheck.fitting(delivering, out).get(0).right());
        assertFalse(WiringCheck.fitting(delivering, USUAL).stream().anyMatch(WiringCheck.Wiring::right));
    }

    @Test
    void aMissingVoltageOrCurrentIsToldAndTheRestIsStillJudged() {
        ThreePhase noVoltage = measured(three("0 -1 2"), three("0 1 2"), three("1 1 -1"), 15);
        assertEquals(List.of(2), WiringCheck.missingVoltages(noVoltage));
        assertTrue(names(WiringCheck.fitting(noVoltage, USUAL)).contains("current 3 reversed"));
        ThreePhase noCurrent = measured(three("0 1 2"), three("0 -1 2"), three("1 1 1"), 15);
        assertEquals(List.of(2), WiringCheck.missingCurrents(noCurrent));
        WiringCheck.Wiring first = WiringCheck.fitting(noCurrent, USUAL).get(0);
        assertTrue(first.right(), first.name());
        assertTrue(Double.isNaN(first.angles().get(1)), "nothing is said of a phase without current");
        assertEquals(15, first.angles().get(0), 1e-9);
    }

    @Test
    void aLoadOfAnotherKindFitsNothing() {
        // Leading by 40 degrees: no wiring explains it for one that was assumed to lag.
        ThreePhase leading = measured(three("0 1 2"), three("0 1 2"), three("1 1 1"), -40);
        assertEquals(
                List.of(),
                WiringCheck.fitting(leading, new WiringCheck.Assumed(0, 15, 10, WiringCheck.Direction.IMPORT)));
        assertThrows(
                IllegalArgumentException.class,
                () -> new WiringCheck.Assumed(-1, 20, 10, WiringCheck.Direction.IMPORT));
        assertEquals(
                "power factor 0.97 leading to 0.64 lagging, phases alike within 30\u00b0, energy drawn", USUAL.words());
    }

    private static double[][] sampled(Phasor[] three) {
        double[][] series = new double[3][2000];
        for (int k = 0; k < 3; k++) {
            for (int n = 0; n < 2000; n++) {
                series[k][n] = three[k].rms()
                        * Math.sqrt(2)
                        * Math.cos(2 * Math.PI * 50 * n / 10_000.0 + Math.toRadians(three[k].degrees()));
            }
        }
        return series;
    }

    /** Two elements see the power of all three phases, balanced or not, as long as there is no neutral. */
    @Test
    void twoElementsSeeAllOfIt() {
        SplittableRandom random = new SplittableRandom(3);
        for (int n = 0; n < 25; n++) {
            Phasor first = Phasor.of(1 + 4 * random.nextDouble(), -20 * random.nextDouble());
            Phasor third = Phasor.of(1 + 4 * random.nextDouble(), 120 - 20 * random.nextDouble());
            Phasor second = first.plus(third).times(-1);
            Phasor[] u = {Phasor.of(230, 0), Phasor.of(230, -120), Phasor.of(230, 120)};
            Phasor[] i = {first, second, third};
            double whole = ThreePhase.of(10_000, sampled(u), sampled(i)).active();
            Phasor against2 = u[0].plus(u[1].times(-1));
            Phasor other = u[2].plus(u[1].times(-1));
            double[][][] three = ThreePhase.ofThreeWires(
                    sampled(new Phasor[] {against2, Phasor.ZERO, other}),
                    sampled(new Phasor[] {first, Phasor.ZERO, third}));
            ThreePhase seen = ThreePhase.of(10_000, three[0], three[1]);
            assertEquals(whole, seen.active(), 1e-6 * whole);
            assertEquals(230, seen.phases().get(1).voltage(), 1e-6);
        }
    }

    /** Where the second phase has no transformer its current is exchanged with none. */
    @Test
    void withThreeWiresOnlyTheFirstAndTheThirdAreExchanged() {
        ThreePhase exchanged = measured(new int[] {0, 1, 2}, new int[] {2, -1, 0}, new int[] {1, 1, 1}, 20);
        List<WiringCheck.Wiring> fits = WiringCheck.fitting(exchanged, USUAL, true);
        assertEquals("currents 1 and 3 exchanged", fits.get(0).name());
        assertTrue(
                fits.stream().allMatch(w -> w.currents().get(1) == 2),
                names(fits).toString());
        ThreePhase moved = measured(new int[] {0, 1, 2}, new int[] {1, -1, 0}, new int[] {1, 1, 1}, 20);
        assertTrue(WiringCheck.fitting(moved, USUAL).stream()
                .anyMatch(w -> w.currents().get(1) != 2));
        assertTrue(WiringCheck.fitting(moved, USUAL, true).stream()
                .allMatch(w -> w.currents().get(1) == 2));
    }
}
