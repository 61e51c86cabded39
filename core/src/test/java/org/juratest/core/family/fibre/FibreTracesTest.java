package org.juratest.core.family.fibre;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.family.fibre.FibreTraces.Kind;
import org.juratest.core.family.fibre.FibreTraces.Losses;
import org.juratest.core.family.fibre.FibreTraces.Matched;
import org.juratest.core.family.fibre.FibreTraces.Taken;
import org.juratest.core.family.fibre.TraceChanges.Change;
import org.juratest.core.family.fibre.TraceChanges.What;

class FibreTracesTest {

    private static MadeFibre at(double wavelength, double attenuation) {
        return new MadeFibre(1, 100)
                .wavelength(wavelength)
                .attenuation(attenuation)
                .noise(32, 5);
    }

    private static Taken forward(MadeFibre made) {
        return new Taken(Otdr.analyse(made.trace()), false);
    }

    private static Taken backward(MadeFibre made) {
        return new Taken(Otdr.analyse(made.trace()), true);
    }

    /** A bend loses little at 1310 nm, where no event is found, and much at 1550 nm. */
    @Test
    void aBendIsToldFromASpliceByItsLossesAtTwoWavelengths() {
        Taken one = forward(at(1310, 0.34)
                .splice(2000, 0.08)
                .splice(5000, 0.012)
                .connector(7000, 0.3, -50)
                .end(10_000, -14));
        Taken other = forward(at(1550, 0.2)
                .splice(2000, 0.07)
                .splice(5000, 0.4)
                .connector(7000, 0.28, -50)
                .end(10_000, -14));
        List<Matched> events = FibreTraces.matched(List.of(one, other), FibreTraces.BEND);
        assertEquals(
                List.of(Kind.SPLICE, Kind.BEND, Kind.CONNECTOR, Kind.END),
                events.stream().map(Matched::kind).toList());
        assertEquals(2000, events.get(0).position(), 5);
        assertEquals(0.08, events.get(0).losses().get(1310).forward(), 0.01);
        assertEquals(0.07, events.get(0).losses().get(1550).forward(), 0.01);
        // Measured where the trace itself shows nothing.
        assertEquals(0.012, events.get(1).losses().get(1310).forward(), 0.01);
        assertEquals(0.4, events.get(1).losses().get(1550).forward(), 0.01);
        assertNull(events.get(1).losses().get(1310).mean());
        assertEquals(-50, events.get(2).reflectance(), 1);
        assertTrue(events.get(3).losses().isEmpty());
        assertEquals(
                Kind.SPLICE,
                FibreTraces.matched(List.of(one, other), 0.5).get(1).kind());
    }

    /** The splice of two unlike fibres: a gainer from one end, a great loss from the other, a small one in truth. */
    @Test
    void bothDirectionsTogetherGiveTheTrueLoss() {
        Taken there =
                forward(at(1550, 0.2).splice(3000, -0.1).splice(6000, 0.25).end(10_000, -14));
        Taken back = backward(at(1550, 0.2).splice(4000, 0.05).splice(7000, 0.3).end(10_000, -14));
        List<Matched> events = FibreTraces.matched(List.of(there, back), FibreTraces.BEND);
        assertEquals(3, events.size(), events.toString());
        Losses gainer = events.get(0).losses().get(1550);
        assertEquals(3000, events.get(0).position(), 5);
        assertEquals(-0.1, gainer.forward(), 0.01);
        assertEquals(0.3, gainer.backward(), 0.01);
        assertEquals(0.1, gainer.mean(), 0.01);
        assertEquals(0.15, events.get(1).losses().get(1550).mean(), 0.01);
        assertEquals(Kind.END, events.get(2).kind());
    }

    @Test
    void whatAppearedVanishedAndChangedIsListed() {
        OtdrAnalysis before = Otdr.analyse(at(1550, 0.2)
                .splice(2000, 0.06)
                .splice(4000, 0.1)
                .connector(6000, 0.2, -52)
                .end(9000, -14)
                .trace());
        assertEquals(List.of(), TraceChanges.between(before, before));
        OtdrAnalysis now = Otdr.analyse(at(1550, 0.2)
                .splice(2000, 0.41)
                .connector(6000, 0.21, -45)
                .splice(7500, 0.15)
                .end(9000, -14)
                .trace());
        List<Change> changes = TraceChanges.between(before, now);
        assertEquals(
                List.of(What.CHANGED, What.VANISHED, What.CHANGED, What.APPEARED),
                changes.stream().map(Change::what).toList(),
                changes.toString());
        assertEquals(0.35, changes.get(0).now().loss() - changes.get(0).before().loss(), 0.01);
        assertNull(changes.get(1).now());
        assertNull(changes.get(3).before());
        assertEquals(7500, changes.get(3).position(), 5);
        // A cut: the end is somewhere else, and all behind it is gone.
        OtdrAnalysis cut =
                Otdr.analyse(at(1550, 0.2).splice(2000, 0.06).end(4000, -40).trace());
        assertEquals(
                List.of(What.CHANGED, What.VANISHED, What.VANISHED),
                TraceChanges.between(before, cut).stream().map(Change::what).toList());
    }

    @Test
    void aLossIsNotMeasuredWhereThereIsNoFibreOnOneSide() {
        OtdrAnalysis link = Otdr.analyse(
                at(1550, 0.2).connector(3000, 0.3, -45).end(6000, -14).trace());
        assertEquals(0, Otdr.lossAt(link, 1500), 0.01);
        assertNull(Otdr.lossAt(link, 3005));
        assertNull(Otdr.lossAt(link, 2));
        assertNull(Otdr.lossAt(link, 5999));
        assertNull(Otdr.lossAt(link, 9000));
        assertNull(Otdr.lossAt(link, Double.NaN));
    }

    @Test
    void fibreLengthBecomesRouteLengthByKnownPlaces() {
        RouteScale none = new RouteScale(List.of());
        assertEquals(1000, none.route(1020).at(), 0.001);
        assertEquals(10.2, none.route(1020).off(), 0.001);
        RouteScale scale = new RouteScale(List.of(
                new RouteScale.Known(4080, 4000, 5),
                new RouteScale.Known(8300, 8000, 5),
                new RouteScale.Known(10_400, 10_000, 3)));
        assertEquals(4000, scale.route(4080).at(), 1e-9);
        assertEquals(5, scale.route(4080).off(), 1e-9);
        assertEquals(2000, scale.route(2040).at(), 1e-9);
        // In the middle of a stretch with a coil in it a place is less sure than at its ends.
        assertEquals(6000, scale.route(6190).at(), 1e-9);
        assertTrue(
                scale.route(6190).off() > 20 && scale.route(6190).off() < 80,
                scale.route(6190).toString());
        assertTrue(scale.route(11_000).off() > scale.route(10_400).off());
        for (double route : new double[] {0, 10, 3999, 4000, 7000, 9999, 10_000, 12_000}) {
            assertEquals(route, scale.route(scale.fibre(route)).at(), 1e-6);
        }
        assertThrows(
                IllegalArgumentException.class,
                () -> new RouteScale(
                        List.of(new RouteScale.Known(4000, 4000, 5), new RouteScale.Known(5000, 3900, 5))));
        for (double bad : new double[] {Double.NaN, Double.POSITIVE_INFINITY}) {
            assertThrows(IllegalArgumentException.class, () -> new RouteScale.Known(bad, 1, 1));
            assertThrows(IllegalArgumentException.class, () -> new RouteScale.Known(1, bad, 1));
            assertThrows(IllegalArgumentException.class, () -> new RouteScale.Known(1, 1, bad));
        }
    }

    @ParameterizedTest
    @CsvSource({"-55, 0, GOOD", "-35, 0, FAIR", "-22, 0, POOR", "-55, 0.9, FAIR", "-55, 3, POOR"})
    void theConnectionAtTheFrontIsGraded(double reflectance, double lost, LaunchCheck.Quality quality) {
        OtdrAnalysis shot =
                Otdr.analyse(at(1550, 0.2).port(reflectance).end(5000, -14).trace());
        LaunchCheck check = LaunchCheck.of(shot, shot.frontLevel() + lost);
        assertEquals(quality, check.quality(), check.words());
        assertEquals(quality != LaunchCheck.Quality.GOOD, check.words().contains("Clean both end faces"));
    }

    @Test
    void withoutLightThereIsNoConnection() {
        OtdrAnalysis dark = Otdr.analyse(
                at(1550, 0.2).end(0, Double.NaN).noise(20, 1).port(-14).trace());
        assertEquals(LaunchCheck.Quality.NONE, LaunchCheck.of(dark, Double.NaN).quality());
    }

    @Test
    void aBudgetIsTheSumOfWhatIsPlannedWith() {
        LossBudget budget = new LossBudget(0.35, 0.1, 0.5);
        assertEquals(14.8 * 0.35 + 0.5 + 1.0, budget.of(14.8, 5, 2), 1e-12);
        assertEquals(0, budget.of(0, 0, 0));
        assertThrows(IllegalArgumentException.class, () -> budget.of(Double.NaN, 1, 1));
        assertThrows(IllegalArgumentException.class, () -> budget.of(1, -1, 1));
        assertThrows(IllegalArgumentException.class, () -> new LossBudget(Double.NaN, 0.1, 0.5));
        assertThrows(IllegalArgumentException.class, () -> new LossBudget(0.3, -0.1, 0.5));
    }
}
