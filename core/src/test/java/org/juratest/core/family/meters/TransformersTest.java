package org.juratest.core.family.meters;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.signal.SignalException;

/** Burdens, classes and excitation of instrument transformers; the error of what they make up with a meter. */
class TransformersTest {

    /** Half the nominal current: a quarter of the burden is seen, all of it is told. */
    @Test
    void aBurdenIsScaledByTheSquareOfTheCurrent() {
        Burden half = Burden.of(Phasor.of(0.5, 30), Phasor.of(2.5, 0), 5);
        assertEquals(1.25, half.va(), 1e-12);
        assertEquals(5, half.vaNominal(), 1e-12);
        assertEquals(30, half.degrees(), 1e-9);
        assertEquals(0.8660, half.powerFactor(), 1e-4);
        assertEquals(0.2, half.ohms(), 1e-12);
        Burden whole = Burden.of(Phasor.of(1, 30), Phasor.of(5, 0), 5);
        assertEquals(whole.vaNominal(), half.vaNominal(), 1e-12, "the same loop at either current");
        assertThrows(IllegalArgumentException.class, () -> Burden.of(Phasor.of(1, 0), Phasor.ZERO, 5));
        assertThrows(IllegalArgumentException.class, () -> Burden.of(Phasor.of(1, 0), Phasor.of(1, 0), 0));
    }

    @ParameterizedTest
    @CsvSource({
        "10,5,WITHIN",
        "5,5,WITHIN",
        "4.9,5,ABOVE",
        "20,5,WITHIN",
        "21,5,BELOW_FLOOR",
        "0,5,NOT_JUDGED",
        "NaN,5,NOT_JUDGED"
    })
    void aBurdenIsJudgedAgainstWhatIsRatedAndItsFloor(double rated, double va, Burden.Standing standing) {
        assertEquals(
                standing, Burden.of(Phasor.of(va / 5, 0), Phasor.of(5, 0), 5).against(rated));
    }

    @ParameterizedTest
    @CsvSource({
        "0.2,5,0.75,30", "0.2,20,0.35,15", "0.2,100,0.2,10", "0.2,120,0.2,10", "0.5,5,1.5,90", "0.5,60,0.625,37.5",
        "1,20,1.5,90", "0.2s,1,0.75,30", "0.2S,20,0.2,10", "0.5S,5,0.75,45", "0.5S,3,1.125,67.5", "5P,100,1,60"
    })
    void aClassAllowsWhatItsTableSays(String name, double at, double percent, double minutes) {
        TransformerClass.Allowed allowed =
                TransformerClass.ofCurrent(name).orElseThrow().at(at).orElseThrow();
        assertEquals(percent, allowed.percent(), 1e-12);
        assertEquals(minutes, allowed.minutes(), 1e-12);
    }

    @Test
    void whereAClassSaysNothingNothingIsAllowed() {
        TransformerClass half = TransformerClass.ofCurrent("0.5").orElseThrow();
        assertEquals(Optional.empty(), half.at(4.9));
        assertEquals(Optional.empty(), half.at(121));
        assertEquals(Optional.empty(), half.at(Double.NaN));
        assertEquals(Optional.empty(), TransformerClass.ofCurrent("0.3"));
        TransformerClass volts = TransformerClass.ofVoltage("0.5").orElseThrow();
        assertEquals(20, volts.at(80).orElseThrow().minutes());
        assertEquals(Optional.empty(), volts.at(79));
    }

    /** A class never allows less at a smaller current. */
    @Test
    void classesAreMonotonic() {
        for (String name : new String[] {"0.2", "0.5", "1", "0.2S", "0.5S"}) {
            TransformerClass c = TransformerClass.ofCurrent(name).orElseThrow();
            double before = Double.POSITIVE_INFINITY;
            for (double at = c.places().get(0); at <= 120; at += 0.5) {
                double now = c.at(at).orElseThrow().percent();
                assertTrue(now <= before, name + " at " + at);
                before = now;
            }
        }
    }

    @Test
    void aRatioIsFoundFromBothSides() {
        TransformerClass.Measured m = TransformerClass.Measured.of(Phasor.of(100, 0), Phasor.of(4.975, 0.25), 20);
        assertEquals(-0.5, m.percent(), 1e-9);
        assertEquals(15, m.minutes(), 1e-9);
        assertTrue(m.plausible(1, 0.5));
        // The wrong tap: 150/5 instead of 100/5.
        assertFalse(TransformerClass.Measured.of(Phasor.of(100, 0), Phasor.of(3.33, 0), 20)
                .plausible(1, 0.5));
        assertFalse(
                TransformerClass.Measured.of(Phasor.of(100, 0), Phasor.of(5, 180), 20)
                        .plausible(1, 0.5),
                "reversed");
        assertTrue(
                Double.isNaN(TransformerClass.Measured.of(Phasor.of(100, 0), Phasor.of(5, 0), Double.NaN)
                        .percent()),
                "left to be measured");
    }

    /** A core by a law whose knees are known: u = a sinh-like below, saturating above. */
    private static Excitation core(int points) {
        double[] i = new double[points];
        double[] u = new double[points];
        for (int k = 0; k < points; k++) {
            i[k] = 0.001 * Math.pow(10_000, (double) k / (points - 1));
            u[k] = law(i[k]);
        }
        return new Excitation(i, u);
    }

    /** Slope of ln u over ln i falls from 1.4 at small currents to 0.1 at large ones. */
    private static double law(double amperes) {
        double x = Math.log(amperes / 0.1);
        return 100 * Math.exp(0.75 * x - 0.65 * Math.log(Math.cosh(x)));
    }

    @Test
    void bothKneesLieWhereTheLawHasThem() {
        Excitation core = core(60);
        Excitation.Knee ieee = core.kneeIeee().orElseThrow();
        // Slope 0.75 - 0.65 tanh x = 1 where tanh x = -0.3846.
        double x = -0.40547;
        assertEquals(0.1 * Math.exp(x), ieee.current(), 0.002 * 0.1);
        assertEquals(law(0.1 * Math.exp(x)), ieee.voltage(), 0.3);
        Excitation.Knee iec = core.kneeIec().orElseThrow();
        assertEquals(1.5, core.currentAt(1.1 * iec.voltage()).orElseThrow() / iec.current(), 1e-3);
        assertTrue(iec.voltage() > ieee.voltage(), "the IEC knee lies above the 45 degrees");
        assertTrue(
                core.currentAt(1.1 * 0.95 * iec.voltage()).orElseThrow()
                        < 1.5 * core.currentAt(0.95 * iec.voltage()).orElseThrow(),
                "it is the first such place");
    }

    @Test
    void coarserPointsMoveTheKneesByLittleAndAStraightLineHasNone() {
        assertEquals(
                core(60).kneeIeee().orElseThrow().voltage(),
                core(12).kneeIeee().orElseThrow().voltage(),
                6);
        assertEquals(
                core(60).kneeIec().orElseThrow().voltage(),
                core(12).kneeIec().orElseThrow().voltage(),
                6);
        Excitation straight = new Excitation(new double[] {1, 2, 4, 8, 16}, new double[] {1, 2.2, 4.8, 10.6, 23});
        assertEquals(Optional.empty(), straight.kneeIeee());
        assertEquals(Optional.empty(), straight.kneeIec());
        assertEquals(
                "bad-samples",
                assertThrows(
                                SignalException.class,
                                () -> new Excitation(new double[] {1, 2, 2, 8, 16}, new double[] {1, 2, 3, 4, 5}))
                        .code());
        assertEquals(
                "too-short",
                assertThrows(SignalException.class, () -> new Excitation(new double[] {1}, new double[] {1}))
                        .code());
    }

    @Test
    void copperIsWarmerMoreOhms() {
        assertEquals(1.0, Excitation.copperAt(1.0, 20, 20), 1e-12);
        assertEquals(309.5 / 254.5, Excitation.copperAt(1, 20, 75), 1e-12);
    }

    /** The page's own figure: 30 minutes at 0.5 lagging are 1.51 %. */
    @Test
    void theWholeInstallationsErrorHasItsAnglesInIt() {
        assertEquals(1.51, InstallationError.of(0, 0, 0, 30, 0, 0.5, true), 0.005);
        assertEquals(-1.51, InstallationError.of(0, 0, 0, 30, 0, 0.5, false), 0.005);
        assertEquals(0.3, InstallationError.of(0.1, -0.2, 0.4, 20, 20, 0.5, true), 1e-12, "equal angles cancel");
        assertEquals(0.6, InstallationError.of(0.1, 0.2, 0.3, 30, -30, 1, true), 1e-12, "at 1 angles are nothing");
        double sum = InstallationError.limit(InstallationError.Limit.SUM, 1, 0.5, 0.5, 30, 20, 0.5);
        double rss = InstallationError.limit(InstallationError.Limit.ROOT_SUM_SQUARE, 1, 0.5, 0.5, 30, 20, 0.5);
        assertEquals(2 + 0.0290888 * 50 * Math.sqrt(3), sum, 1e-4);
        assertTrue(rss < sum && rss > 1.5, rss + " of " + sum);
        assertThrows(IllegalArgumentException.class, () -> InstallationError.of(0, 0, 0, 0, 0, 0, true));
    }

    @ParameterizedTest
    @CsvSource({"199.1, 200", "0.98, 1", "8.6, 7.5", "8.8, 10", "690, 750", "660, 600", "12.4, 12.5", "6300, 6000"})
    void theNearestUsualCurrentIsByRatio(double amperes, double usual) {
        assertEquals(usual, UsualCurrents.nearest(amperes), 1e-9 * usual);
    }

    @ParameterizedTest
    @CsvSource({"0", "-1", "NaN", "Infinity"})
    void ofNothingNoCurrentIsNearest(double amperes) {
        assertThrows(IllegalArgumentException.class, () -> UsualCurrents.nearest(amperes));
    }
}
