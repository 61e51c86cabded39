package org.juratest.core.family.fibre;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.family.fibre.OtdrEvent.Type;

class OtdrTest {

    private static List<Type> types(OtdrAnalysis found) {
        return found.events().stream().map(OtdrEvent::type).toList();
    }

    private static boolean warns(OtdrAnalysis found, String word) {
        return found.warnings().stream().anyMatch(w -> w.contains(word));
    }

    /** Pulses from a metre to a kilometre, samples from a tenth of a pulse to as long as it. */
    @ParameterizedTest
    @CsvSource({"0.5, 10, 60", "0.5, 30, 45", "1, 100, 40", "2, 100, 30", "5, 500, 30", "10, 1000, 28", "10, 2000, 28"})
    void aLinkIsFoundAsItWasMade(double spacing, double pulse, double noise) {
        OtdrAnalysis found = Otdr.analyse(new MadeFibre(spacing, pulse)
                .splice(2000, 0.12)
                .connector(4000, 0.35, -48)
                .splice(6500, -0.15)
                .splice(8200, 0.4)
                .end(10_000, -15)
                .noise(noise, 3)
                .trace());
        assertEquals(
                List.of(
                        Type.LAUNCH,
                        Type.NON_REFLECTIVE,
                        Type.REFLECTIVE,
                        Type.NON_REFLECTIVE,
                        Type.NON_REFLECTIVE,
                        Type.END),
                types(found),
                found.toString());
        double[] positions = {0, 2000, 4000, 6500, 8200, 10_000};
        double[] losses = {0, 0.12, 0.35, -0.15, 0.4, 0};
        double[] before = {0, 0, 0.12, 0.47, 0.32, 0.72};
        double off = Math.max(spacing, 0.5 * found.trace().pulseLength());
        for (int i = 0; i < positions.length; i++) {
            OtdrEvent e = found.events().get(i);
            assertEquals(positions[i], e.position(), off, found.toString());
            assertEquals(before[i] + 0.34e-3 * positions[i], e.cumulative(), 0.03, e.toString());
            if (i > 0 && i < 5) {
                assertEquals(losses[i], e.loss(), 0.03, e.toString());
            }
        }
        assertEquals(-45, found.events().get(0).reflectance(), 1);
        assertEquals(-48, found.events().get(2).reflectance(), 1);
        assertEquals(-15, found.events().get(5).reflectance(), 1);
        assertNull(found.events().get(1).reflectance());
        assertEquals(0.72 + 3.4, found.loss(), 0.03);
        assertEquals(10_000, found.length(), off);
        assertTrue(found.sections().stream().allMatch(s -> Math.abs(s.attenuation() - 0.34) < 0.02), found.toString());
    }

    /** Some save a trace to just behind the end: a little noise is enough to tell where that is. */
    @ParameterizedTest
    @CsvSource({"2, 2000", "2, 600", "2, 400", "2, 200", "1, 400", "1, 120", "0.5, 100"})
    void anEndIsSeenHoweverLittleIsBehindIt(double spacing, double behind) {
        OtdrAnalysis found = Otdr.analyse(new MadeFibre(spacing, 100)
                .splice(520, 0.1)
                .connector(1540, 0.2, -62)
                .end(2565, -47)
                .noise(32, 5)
                .range(2565 + behind)
                .trace());
        assertFalse(found.events().isEmpty(), found.toString());
        OtdrEvent last = found.events().get(found.events().size() - 1);
        assertEquals(Type.END, last.type(), found.toString());
        assertEquals(2565, last.position(), 10, found.toString());
    }

    /** Return loss by definition, of fibre alone and with what reflects; the port's own light does not count. */
    @Test
    void returnLossIsAllThatComesBack() {
        MadeFibre bare =
                new MadeFibre(1, 100).noise(45, 1).end(8000, Double.NaN).port(-20);
        assertEquals(bare.returnLoss(), Otdr.analyse(bare.trace()).returnLoss(), 0.1);
        MadeFibre shiny = new MadeFibre(1, 100)
                .noise(45, 1)
                .connector(3000, 0.3, -35)
                .end(8000, -20)
                .port(-50);
        assertEquals(shiny.returnLoss(), Otdr.analyse(shiny.trace()).returnLoss(), 0.2);
        // Closed form: B (1 - e^-2aL) / 2a with B the backscatter in 1/s times the time there and back.
        double perMetre = 0.34e-3 / 10 * Math.log(10);
        double closed = -10
                * Math.log10(1e-8
                        * 2
                        * 1.468
                        / OtdrTrace.LIGHT
                        * 1e9
                        * (1 - Math.exp(-2 * perMetre * 8000))
                        / (2 * perMetre));
        assertEquals(closed, Otdr.analyse(bare.trace()).returnLoss(), 0.1);
    }

    /**
     * Random links: all that is 0.1 dB or more is found where the backscatter is 15 dB above the noise, and no more.
     */
    @Test
    void whatIsThereIsFoundAndNothingElse() {
        Random random = new Random(8);
        int events = 0;
        for (int link = 0; link < 120; link++) {
            double spacing = 1 + random.nextInt(4);
            double pulse = List.of(50.0, 100.0, 300.0).get(random.nextInt(3));
            double length = 4000 + 100 * random.nextInt(120);
            double attenuation = 0.18 + 0.2 * random.nextDouble();
            MadeFibre fibre = new MadeFibre(spacing, pulse)
                    .attenuation(attenuation)
                    .end(
                            Math.round(length / spacing) * spacing,
                            random.nextBoolean() ? -14 - random.nextInt(30) : Double.NaN)
                    .range(length * 1.5)
                    .response(link % 2);
            List<double[]> made = new ArrayList<>();
            double sum = 0;
            for (double x = 600 + random.nextInt(600); x < length - 600; x += 400 + random.nextInt(2500)) {
                double at = Math.round(x / spacing) * spacing;
                boolean connector = random.nextInt(3) == 0;
                double loss = connector
                        ? 0.1 + 0.5 * random.nextDouble()
                        : (random.nextInt(5) == 0 ? -1 : 1) * (0.1 + 0.3 * random.nextDouble());
                if (connector) {
                    fibre.connector(at, loss, -55 + random.nextInt(20));
                } else {
                    fibre.splice(at, loss);
                }
                made.add(new double[] {at, loss, connector ? 1 : 0});
                sum += loss;
            }
            fibre.noise(15 + 8 * random.nextDouble() + length * attenuation / 1000 + Math.max(0, sum), link);
            OtdrAnalysis found = Otdr.analyse(fibre.trace());
            String said = "link " + link + ": "
                    + made.stream().map(java.util.Arrays::toString).toList() + " " + found.events() + found.warnings();
            assertEquals(made.size() + 2, found.events().size(), said);
            double off = Math.max(spacing, 0.5 * found.trace().pulseLength()) + 1e-6;
            for (int i = 0; i < made.size(); i++) {
                OtdrEvent e = found.events().get(i + 1);
                assertEquals(made.get(i)[0], e.position(), off, said);
                assertEquals(made.get(i)[1], e.loss(), 0.03, said);
                assertEquals(made.get(i)[2] > 0 ? Type.REFLECTIVE : Type.NON_REFLECTIVE, e.type(), said);
            }
            assertEquals(sum + attenuation * length / 1000, found.loss(), 0.05, said);
            events += made.size();
        }
        assertTrue(events > 400, events + " events were tried");
    }

    @Test
    void anEchoIsAWarningAndNoEvent() {
        OtdrAnalysis found = Otdr.analyse(new MadeFibre(1, 100)
                .port(-35)
                .connector(3000, 0.3, -32)
                .echo(6000, -62)
                .end(9000, -20)
                .noise(40, 2)
                .trace());
        assertEquals(List.of(Type.LAUNCH, Type.REFLECTIVE, Type.END), types(found), found.toString());
        assertTrue(warns(found, "ghost at 6000"), found.warnings().toString());
        // The same place with a loss of its own is a connector.
        OtdrAnalysis real = Otdr.analyse(new MadeFibre(1, 100)
                .port(-35)
                .connector(3000, 0.3, -32)
                .connector(6000, 0.2, -62)
                .end(9000, -20)
                .noise(40, 2)
                .trace());
        assertEquals(4, real.events().size(), real.toString());
    }

    @Test
    void echoesBehindTheEndAreNothing() {
        MadeFibre fibre = new MadeFibre(1, 100).end(5000, -14).noise(35, 4).range(20_000);
        OtdrTrace trace = fibre.trace();
        for (int i = 10_000; i < 10_010; i++) {
            trace.level()[i] = -45;
        }
        OtdrAnalysis found = Otdr.analyse(trace);
        assertEquals(List.of(Type.LAUNCH, Type.END), types(found), found.toString());
        assertEquals(5000, found.length(), 5);
    }

    @Test
    void twoReflectionsInOneDeadZoneAreCalledMerged() {
        OtdrAnalysis found = Otdr.analyse(new MadeFibre(1, 200)
                .connector(3000, 0.2, -45)
                .connector(3012, 0.3, -35)
                .end(9000, -20)
                .noise(40, 2)
                .trace());
        assertEquals(List.of(Type.LAUNCH, Type.REFLECTIVE, Type.END), types(found), found.toString());
        assertTrue(
                warns(found, "merged at 3000.0 m: another reflection at 3012.0 m"),
                found.warnings().toString());
        assertEquals(0.5, found.events().get(1).loss(), 0.03);
    }

    @Test
    void aPeakThatIsCutOffReflectsAtLeastSoMuch() {
        OtdrAnalysis found = Otdr.analyse(new MadeFibre(1, 100)
                .connector(3000, 0.2, -20)
                .end(9000, -14)
                .clipAt(12)
                .noise(40, 2)
                .trace());
        OtdrEvent cut = found.events().get(1);
        assertTrue(cut.atLeast() && found.events().get(2).atLeast(), found.toString());
        assertTrue(cut.reflectance() < -25, cut.toString());
        assertTrue(warns(found, "cut off"));
    }

    /** Positions count from the end of the lead; what is in it is not the link's, its connection is. */
    @Test
    void aLaunchLeadIsNoPartOfTheLink() {
        OtdrTrace trace = new MadeFibre(1, 100)
                .connector(500, 0.4, -50)
                .splice(2500, 0.15)
                .end(6500, -30)
                .noise(40, 2)
                .trace();
        OtdrAnalysis found = Otdr.analyse(trace, 500.0);
        assertEquals(List.of(Type.LAUNCH, Type.NON_REFLECTIVE, Type.END), types(found), found.toString());
        assertEquals(0, found.events().get(0).position(), 1);
        assertEquals(0.4, found.events().get(0).loss(), 0.03);
        assertEquals(-50, found.events().get(0).reflectance(), 1);
        assertEquals(2000, found.events().get(1).position(), 5);
        assertEquals(0.4 + 0.68, found.events().get(1).cumulative(), 0.03);
        assertEquals(6000, found.length(), 5);
        assertTrue(warns(Otdr.analyse(trace, 5.0), "shorter than the dead zone"));
        // A connection that cannot be seen: what is before it is no part of the link either.
        OtdrAnalysis unseen = Otdr.analyse(trace, 1500.0);
        assertTrue(warns(unseen, "nothing is seen where the launch lead"));
        assertEquals(List.of(Type.LAUNCH, Type.NON_REFLECTIVE, Type.END), types(unseen), unseen.toString());
        assertEquals(0, unseen.events().get(0).position());
        assertNull(unseen.events().get(0).reflectance());
        assertEquals(1000, unseen.events().get(1).position(), 5);
        assertEquals(0.34, unseen.events().get(1).cumulative(), 0.03);
        assertEquals(0.34 * 5 + 0.15, unseen.loss(), 0.03);
        assertEquals(0, unseen.sections().get(0).from());
        OtdrAnalysis open = Otdr.analyse(trace, 6500.0);
        assertEquals(List.of(), open.events());
        assertNull(open.loss());
        assertTrue(warns(open, "nothing is connected to it"), open.warnings().toString());
        assertThrows(IllegalArgumentException.class, () -> Otdr.analyse(trace, Double.NaN));
    }

    @Test
    void whatIsNotOnTheTraceIsSaidAndNotGuessed() {
        OtdrAnalysis longer = Otdr.analyse(new MadeFibre(2, 100)
                .splice(4000, 0.2)
                .end(60_000, -14)
                .noise(40, 1)
                .trace());
        assertNull(longer.length());
        assertNull(longer.loss());
        assertNull(longer.returnLoss());
        assertTrue(warns(longer, "the end of the fibre is not on the trace"));
        assertEquals(List.of(Type.LAUNCH, Type.NON_REFLECTIVE), types(longer), longer.toString());
        OtdrAnalysis faded = Otdr.analyse(
                new MadeFibre(5, 100).end(60_000, -14).range(50_000).noise(9, 1).trace());
        assertTrue(warns(faded, "goes under in the noise"), faded.toString());
        OtdrAnalysis dark = Otdr.analyse(
                new MadeFibre(1, 100).end(0, Double.NaN).port(-14).noise(20, 1).trace());
        assertTrue(warns(dark, "no backscatter"), dark.toString());
        assertEquals(List.of(), dark.events());
    }

    @Test
    void aTraceOfNonsenseIsRefusedByName() {
        double[] level = new double[100];
        assertThrows(
                IllegalArgumentException.class, () -> new OtdrTrace(1550, 100, 0, 1, 1.468, -80, new double[3], 0));
        for (double bad : new double[] {Double.NaN, -1, Double.POSITIVE_INFINITY}) {
            assertThrows(IllegalArgumentException.class, () -> new OtdrTrace(bad, 100, 0, 1, 1.468, -80, level, 0));
            assertThrows(IllegalArgumentException.class, () -> new OtdrTrace(1550, bad, 0, 1, 1.468, -80, level, 0));
            assertThrows(IllegalArgumentException.class, () -> new OtdrTrace(1550, 100, 0, bad, 1.468, -80, level, 0));
            assertThrows(IllegalArgumentException.class, () -> new OtdrTrace(1550, 100, 0, 1, bad, -80, level, 0));
        }
        level[7] = Double.NaN;
        assertTrue(
                assertThrows(IllegalArgumentException.class, () -> new OtdrTrace(1550, 100, 0, 1, 1.468, -80, level, 0))
                        .getMessage()
                        .contains("sample 7"));
        // All the same, all noise, ups and downs without sense: an answer, whatever it is.
        Random random = new Random(4);
        for (int i = 0; i < 300; i++) {
            double[] any = new double[64 + random.nextInt(3000)];
            int kind = i % 3;
            for (int k = 0; k < any.length; k++) {
                any[k] = kind == 0 ? -20 : kind == 1 ? -60 * random.nextDouble() : (k / 50 % 2) * 10 - k * 0.01;
            }
            assertNotNull(Otdr.analyse(new OtdrTrace(1310, 1 + random.nextInt(5000), 0, 0.5, 1.468, -80, any, 0)));
        }
    }
}
