package org.juratest.core.family.radios;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyDouble;
import static org.mockito.Mockito.never;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.MethodSource;
import org.juratest.core.correction.PathLoss;
import org.juratest.core.correction.RfPath;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.method.Method;
import org.juratest.core.method.StopException;
import org.juratest.core.port.GearException;
import org.juratest.core.procedure.Param;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.Reading;
import org.juratest.core.run.Refusal;
import org.juratest.core.signal.Iq;
import org.juratest.core.uncertainty.AccuracySpec;

/** Methods against a radio and a test set in closed form. */
class RadioMethodsTest {

    private static ClosedForm on(String method, String... points) {
        return new ClosedForm("radio." + method, List.of(points), Map.of());
    }

    private static void valid(ClosedForm form) {
        Method.Result result = form.run();
        assertEquals(Attempt.Outcome.VALID, result.outcome(), result.words());
        assertFalse(form.keyed, "the key is let go");
    }

    // ---- before the key

    static Stream<Arguments> faults() {
        return Stream.of(
                Arguments.of("no lead with an attenuator", (Consumer<ClosedForm>) f -> f.path(null)),
                Arguments.of("36.0 dBm would reach the test set", (Consumer<ClosedForm>)
                        f -> f.path(new RfPath(new PathLoss(List.of(new PathLoss.LossPoint(150, 1))), 50))),
                Arguments.of("the battery is at 12 %", (Consumer<ClosedForm>) f -> f.battery = 0.12),
                Arguments.of("number UA-9, not number 1", (Consumer<ClosedForm>) f -> f.serial = "UA-9"));
    }

    @ParameterizedTest
    @MethodSource("faults")
    void whatIsNotSafeIsFoundBeforeTheRadioIsKeyed(String words, Consumer<ClosedForm> fault) {
        for (String method : List.of("carrier", "power", "deviation", "current", "alignReference")) {
            ClosedForm form =
                    new ClosedForm("radio." + method, List.of("error=[ppm]"), Map.of("window", Param.of(0.2, "[ppm]")));
            fault.accept(form);
            Method.Result result = form.run();
            assertEquals(Attempt.Outcome.CONNECTION_FAILED, result.outcome(), method);
            assertTrue(result.words().contains(words), method + ": " + result.words());
            assertTrue(form.checks.get(0).startsWith("bad: "), form.checks.toString());
            verify(form.radio, never()).outputOn();
        }
    }

    @Test
    void anAttenuatorThatIsTooWeakIsRefusedBeforeTheStepIsArmed() {
        for (String method : List.of("carrier", "power", "deviation", "current", "alignReference")) {
            ClosedForm form =
                    new ClosedForm("radio." + method, List.of("error=[ppm]"), Map.of("window", Param.of(0.2, "[ppm]")));
            form.path(new RfPath(new PathLoss(List.of(new PathLoss.LossPoint(150, 30))), 2));
            Refusal refusal = assertThrows(Refusal.class, form::run, method);
            assertEquals("above-maximum", refusal.code());
            assertTrue(
                    refusal.getMessage().contains("5 W")
                            && refusal.getMessage().contains("2 W: what lead and attenuator bear"),
                    refusal.getMessage());
            verify(form.radio, never()).outputOn();
        }
    }

    @Test
    void whatAReceiverIsGivenHasAGreatestLevelAndNothingIsKeyedOffItsBandOrOnDistress() {
        ClosedForm loud =
                new ClosedForm("radio.alignFrontEnd", List.of("sinad=dB"), Map.of("level", Param.of(13, "dBm")));
        assertEquals("above-maximum", assertThrows(Refusal.class, loud::run).code());
        for (double megahertz : new double[] {156.8, 156.7881, 121.5, 243, 406.05}) {
            ClosedForm distress = new ClosedForm(
                    "radio.carrier", List.of("error=[ppm]"), Map.of("frequency", Param.of(megahertz, "MHz")));
            assertEquals(
                    "distress-frequency",
                    assertThrows(Refusal.class, distress::run).code(),
                    megahertz + " MHz");
            ClosedForm end =
                    new ClosedForm("radio.power", List.of("high=W"), Map.of("highEnd", Param.of(megahertz, "MHz")));
            assertEquals(
                    "distress-frequency",
                    assertThrows(Refusal.class, end::run).code(),
                    "at an end of the band, " + megahertz + " MHz");
            verify(end.radio, never()).outputOn();
        }
    }

    @Test
    void anotherRadioIsLeftAsItIs() {
        ClosedForm form = on("sensitivity", "level=dBm");
        form.serial = "UA-9";
        assertEquals(Attempt.Outcome.CONNECTION_FAILED, form.run().outcome());
        verify(form.radio, never()).channel(anyDouble(), any(), anyDouble());
        verify(form.tester, never()).outputOn();
    }

    @Test
    void aWeakCarrierIsAFailWithItsFigureWhereTheReceiverProvesTheLead() {
        ClosedForm weak = on("power", "mid=W");
        weak.watts = 0.1;
        valid(weak);
        assertEquals(0.1, weak.value("mid"), 0.001);
        assertTrue(weak.checks.get(0).contains("the receiver hears through it"), weak.checks.toString());
    }

    @Test
    void aDeadTransmitterHasNoValueWhereTheReceiverProvesTheLead() {
        ClosedForm dead = on("carrier", "error=[ppm]");
        dead.watts = 1e-14;
        valid(dead);
        assertEquals(Map.of("error", "no carrier"), dead.blanks);
        assertTrue(dead.readings.isEmpty());
    }

    @Test
    void aPersonIsAskedWhereNothingComesEitherWay() {
        ClosedForm off = on("carrier", "error=[ppm]");
        off.watts = 1e-14;
        when(off.radio.squelchIsOpen()).thenReturn(false);
        Method.Result result = off.run();
        assertEquals(Attempt.Outcome.UNCLEAR, result.outcome());
        assertTrue(result.words().endsWith("Is the lead on the antenna port of this radio?"), result.words());
        assertFalse(off.keyed);
        assertTrue(off.checks.isEmpty(), "nothing proved the connection");
        off.provedBefore = true;
        valid(off);
    }

    @Test
    void aSquelchThatIsOpenAnywayProvesNoLead() {
        ClosedForm noisy = on("carrier", "error=[ppm]");
        noisy.watts = 1e-14;
        when(noisy.radio.squelchIsOpen()).thenReturn(true);
        assertEquals(Attempt.Outcome.UNCLEAR, noisy.run().outcome());
        verify(noisy.tester, never()).outputOn();
    }

    @Test
    void aStopWhileKeyedLetsTheKeyGo() {
        ClosedForm form = on("deviation", "pos=Hz", "neg=Hz");
        when(form.tester.capture(0.5)).thenAnswer(c -> {
            form.stop.request(OutputEvents.OffReason.STOPPED, "stopped by tavel");
            return new RadioTester.Capture(new Iq(new double[4800], new double[4800], 96_000), 0);
        });
        assertThrows(StopException.class, form::run);
        assertFalse(form.keyed);
    }

    // ---- what is seen while it is measured

    @ParameterizedTest
    @CsvSource({
        "carrier, error=[ppm], Carrier",
        "power, mid=W, Carrier",
        "deviation, pos=Hz, Deviation",
        "distortion, distortion=%, Spectrum",
        "hum, hum=dB, Spectrum",
        "sensitivity, level=dBm, Level search",
        "squelch, open=dBm, Level",
        "sound, level=V, Sound",
        "selectivity, lower=dB, Level search"
    })
    void somethingIsDrawnBeforeTheFirstReadingIsThere(String method, String point, String what) {
        ClosedForm form = on(method, point);
        form.run();
        assertFalse(form.drawn.get(0).endsWith(", late"), form.drawn.toString());
        assertTrue(form.drawn.stream().anyMatch(d -> d.startsWith(what)), form.drawn.toString());
        assertFalse(
                form.drawn.indexOf("Sound") > form.drawn.indexOf("Level search") && form.drawn.contains("Level search"),
                "what a method draws itself is not drawn over: " + form.drawn);
    }

    // ---- transmitter

    @Test
    void frequencyErrorIsInHertzAndInPartsPerMillion() {
        ClosedForm form = on("carrier", "error=[ppm]", "hertz=Hz");
        form.ppm = -1.7;
        valid(form);
        assertEquals(-1.7, form.value("error"), 0.002);
        assertEquals(-1.7 * 155, form.value("hertz"), 0.3);
        assertTrue(form.checks.get(0).startsWith("good: a carrier of 37.0 dBm"), form.checks.toString());
    }

    @Test
    void powerIsAtTheRadioWhateverThePathTakesOff() {
        ClosedForm form = on("power", "low=W", "mid=W", "high=W", "lowPower=W");
        valid(form);
        assertEquals(5, form.value("low"), 0.01);
        assertEquals(5, form.value("mid"), 0.01);
        assertEquals(5, form.value("high"), 0.01);
        assertEquals(0.5, form.value("lowPower"), 0.002);
        Reading high = form.readings.get("high");
        assertEquals(ClosedForm.loss(174e6), high.with().get("path loss").value(), 1e-9);
        assertEquals(5 * Math.pow(10, -ClosedForm.loss(174e6) / 10), high.raw(), 1e-5, "as it arrives");
        // 1 % of 5 W at k = 2, and twice 0.1 dB of 5 W: 2 * 5 * 0.1 ln 10 / 10.
        assertEquals(Math.hypot(0.05, 0.1 * Math.log(10)), high.uncertainty(), 0.001);
        assertNull(high.remark());
        // A lead whose table begins above the band takes the nearest value, and says so.
        form.path(new RfPath(
                new PathLoss(List.of(new PathLoss.LossPoint(150, 30.5), new PathLoss.LossPoint(200, 31))), 50, 0.1));
        valid(form);
        assertNull(form.readings.get("low").uncertainty(), "beyond its table nobody knows how well the loss is known");
        assertTrue(
                String.valueOf(form.readings.get("low").remark()).contains("136 MHz lies outside the path loss table"),
                form.readings.get("low").remark());
    }

    @Test
    void deviationAndWhatTheLimiterLetsThrough() {
        ClosedForm test = on("deviation", "pos=Hz", "neg=Hz");
        valid(test);
        assertEquals(1500, test.value("pos"), 8);
        assertEquals(1500, test.value("neg"), 8);
        ClosedForm loud = on("limiting", "pos=Hz", "neg=Hz");
        valid(loud);
        assertEquals(2400, loud.value("pos"), 10);
        ClosedForm mute = on("deviation", "pos=Hz");
        mute.speaks = false;
        mute.hum = 15;
        Method.Result asked = mute.run();
        assertEquals(Attempt.Outcome.UNCLEAR, asked.outcome(), "no tone is no deviation of 0");
        assertTrue(asked.words().contains("Is the sound lead connected"), asked.words());
        assertTrue(mute.readings.isEmpty() && mute.blanks.containsKey("pos"));
    }

    @Test
    void distortionIsMeasuredAtSixtyPercentWhateverTheMicrophoneTakes() {
        ClosedForm form = on("distortion", "distortion=%", "microphone=mV");
        form.deviation = 1000;
        form.hum = 0;
        form.secondHarmonic = 0.04;
        valid(form);
        assertEquals(15, form.value("microphone"), 0.2, "10 mV give 1 kHz, 15 mV the 1.5 kHz wanted");
        // De-emphasis halves the second harmonic, 2 kHz against 1 kHz: sqrt((1 + (2 pi 1000 tau)^2) / (1 + (2 pi 2000
        // tau)^2)).
        double tau = 2 * Math.PI * 750e-6;
        assertEquals(
                4 * Math.sqrt((1 + Math.pow(1000 * tau, 2)) / (1 + Math.pow(2000 * tau, 2))),
                form.value("distortion"),
                0.05);
    }

    @Test
    void humIsBelowTheTestToneBothDeEmphasised() {
        ClosedForm form = on("hum", "hum=dB");
        form.hum = 15;
        valid(form);
        double tau = 2 * Math.PI * 750e-6;
        double louder = 10 * Math.log10((1 + Math.pow(1000 * tau, 2)) / (1 + Math.pow(700 * tau, 2)));
        assertEquals(-40 + louder, form.value("hum"), 0.2);
        verify(form.radio).subTone(0);
    }

    @Test
    void currentIsReadSquelchedReceivingAndTransmitting() {
        ClosedForm form = on("current", "idle=A", "receive=A", "transmit=A");
        valid(form);
        assertEquals(
                List.of(0.05, 0.24, 1.7), List.of(form.value("idle"), form.value("receive"), form.value("transmit")));
    }

    // ---- receiver

    @Test
    void sensitivityIsTheLevelAtTheRadioForTwelveDecibels() {
        ClosedForm form = on("sensitivity", "level=dBm");
        form.settings.put("frontEnd.A", 140);
        valid(form);
        Reading level = form.readings.get("level");
        assertEquals(-121, level.value(), 0.5);
        // The generator's 0.4 dB, the lead's 0.1 dB, a search step of 0.5 dB, and the scatter of the search on top.
        double least = 2 * Math.hypot(Math.hypot(0.4, 0.1), 0.5 / Math.sqrt(12));
        assertTrue(level.uncertainty() >= least - 1e-9 && level.uncertainty() < 1.5 * least, "" + level.uncertainty());
        assertTrue(form.loudest <= -60, "never more into a receiver than " + form.loudest);
        assertTrue(form.traces.stream().anyMatch(t -> t.name().equals("Level search")));
    }

    @Test
    void aDeafReceiverIsAReadingOnceTheLeadWasProved() {
        ClosedForm deaf = on("sensitivity", "level=dBm");
        deaf.sensitivity = -20;
        assertEquals(Attempt.Outcome.UNCLEAR, deaf.run().outcome(), "a lead that is off looks the same");
        assertEquals(Qualifier.MORE, deaf.readings.get("level").qualifier());
        deaf.provedBefore = true;
        valid(deaf);
        assertEquals(-60, deaf.value("level"), 1e-9);
    }

    @Test
    void aReceiverIsNotGivenMoreThanTheGeneratorHasThroughItsLead() {
        ClosedForm shut = on("squelch", "open=dBm");
        when(shut.tester.greatestLevel()).thenReturn(-75.0);
        when(shut.radio.squelchIsOpen()).thenReturn(false);
        shut.run();
        double greatest = -75 - ClosedForm.loss(ClosedForm.CHANNEL);
        assertEquals(greatest, shut.loudest, 1e-9);
        assertEquals(greatest, shut.value("open"), 1e-9, "what is reported is what was set");
    }

    @Test
    void squelchOpensFromBelowAndClosesLower() {
        ClosedForm form = on("squelch", "open=dBm", "close=dBm");
        valid(form);
        assertEquals(-120, form.value("open"), 0.5);
        assertEquals(-123, form.value("close"), 0.5);
        ClosedForm shut = on("squelch", "open=dBm", "close=dBm");
        when(shut.radio.squelchIsOpen()).thenReturn(false);
        assertTrue(shut.run().words().contains("stays closed"));
        assertEquals(Qualifier.MORE, shut.readings.get("open").qualifier());
        assertNull(shut.readings.get("close"));
        ClosedForm open = on("squelch", "open=dBm", "close=dBm");
        when(open.radio.squelchIsOpen()).thenReturn(true);
        open.run();
        assertEquals(Qualifier.LESS, open.readings.get("close").qualifier());
    }

    @Test
    void bitErrorsAreCountedLongEnoughForTheirLimit() {
        ClosedForm counted = new ClosedForm(
                "radio.receivedBits", List.of("level=dBm", "floor=%"), Map.of("outer", Param.of(1944, "Hz")));
        counted.bitFloor = 0.002;
        valid(counted);
        assertEquals(0.2, counted.value("floor"), 0.06, "per cent");
        assertEquals(-118, counted.value("level"), 0.6, "5 % stand 3 dB above");
        assertTrue(
                String.valueOf(counted.readings.get("floor").remark()).matches("\\d+ of 9[56]\\d{3} bits wrong"),
                counted.readings.get("floor").remark());
        assertEquals(0.0289, counted.readings.get("floor").uncertainty(), 0.003, "2 sqrt(192) of 96 000 bits");
        counted.hears = false;
        assertEquals(Attempt.Outcome.UNCLEAR, counted.run().outcome(), "what is not the pattern has no error ratio");
    }

    @Test
    void selectivityIsHowFarTheSecondSignalStandsAboveTheWantedOne() {
        ClosedForm form = on("selectivity", "lower=dB", "upper=dB");
        form.settings.put("frontEnd.A", 140);
        valid(form);
        assertEquals(65, form.value("lower"), 1);
        assertEquals(65, form.value("upper"), 1);
        assertTrue(
                String.valueOf(form.readings.get("upper").remark()).matches("wanted -11[78]\\.\\d dBm"),
                form.readings.get("upper").remark());
        verify(form.second).outputOn();
    }

    @Test
    void soundHasItsLevelAndItsDistortion() {
        ClosedForm form = on("sound", "distortion=%", "level=V");
        valid(form);
        assertEquals(0.5, form.value("level"), 0.01);
        assertEquals(1, form.value("distortion"), 0.2, "40 dB of SINAD at the most");
    }

    // ---- alignment

    private static ClosedForm aligning(String method, String... points) {
        return new ClosedForm(
                "radio." + method,
                List.of(points),
                Map.of(
                        "window",
                        Param.of(
                                method.equals("alignReference") ? 0.3 : 0.02,
                                method.equals("alignReference") ? "[ppm]" : "1"),
                        "balanceWindow",
                        Param.of(0.3, "dB"),
                        "level",
                        Param.of(-110, "dBm")));
    }

    @Test
    void aReferenceIsAlignedAndItsSettingKeptBeforeAndAfter() {
        ClosedForm form = aligning("alignReference", "error=[ppm]");
        form.ppm = 2.4;
        valid(form);
        assertEquals(0, form.value("error"), 0.3);
        AttemptEvents.SettingChange change = form.changes.get(0);
        assertEquals(128, change.before());
        assertEquals(form.settings.get("reference"), change.after());
        assertEquals(80, change.after(), 6);
    }

    @Test
    void whatIsInItsWindowAsFoundIsLeftAlone() {
        ClosedForm form = aligning("alignReference", "error=[ppm]");
        form.ppm = 0.2;
        Method.Result result = form.run();
        assertEquals("in its window as found; nothing was changed", result.words());
        assertTrue(form.changes.isEmpty());
        assertEquals(128, form.settings.get("reference"));
    }

    @Test
    void whatCannotBeReachedGoesBackToWhereItWas() {
        ClosedForm form = aligning("alignReference", "error=[ppm]");
        form.ppm = 40;
        Method.Result result = form.run();
        assertTrue(result.words().endsWith("put back to 128"), result.words());
        assertEquals(128, form.settings.get("reference"));
        assertTrue(form.changes.isEmpty());
        assertEquals(40, form.value("error"), 0.1, "as it is now, not as it was while searching");
    }

    @Test
    void aStopWhileAligningPutsTheSettingBack() {
        ClosedForm form = aligning("alignReference", "error=[ppm]");
        form.ppm = 2.4;
        when(form.tester.capture(0.2)).thenAnswer(c -> {
            if (form.settings.get("reference") != 128) {
                form.stop.request(OutputEvents.OffReason.STOPPED, "stopped");
            }
            return form.tester.capture(0.21);
        });
        assertThrows(StopException.class, form::run);
        assertEquals(128, form.settings.get("reference"));
        assertFalse(form.keyed);
    }

    @Test
    void powerIsCharacterisedThenFittedAtEachPlace() {
        ClosedForm form = aligning("alignPower", "low=W", "mid=W", "high=W");
        form.watts = 3.6;
        valid(form);
        for (String place : List.of("low", "mid", "high")) {
            assertEquals(5, form.value(place), 0.1, place);
            // The root of power goes with the setting: 120 sqrt(5 / 3.6).
            assertEquals(120 * Math.sqrt(5 / 3.6), form.settings.get("power.A." + place), 2, place);
        }
        assertEquals(3, form.changes.size());
    }

    @Test
    void deviationIsAlignedAfterItsBalance() {
        ClosedForm form = aligning("alignDeviation", "deviation=Hz", "balance=dB");
        form.deviation = 1200;
        form.settings.put("balance.A", 200);
        valid(form);
        assertEquals(1500, form.value("deviation"), 30);
        assertEquals(0, form.value("balance"), 0.3);
        assertEquals(160, form.settings.get("deviation.A"), 4);
        assertEquals(128, form.settings.get("balance.A"), 12);
    }

    @Test
    void theFrontEndGoesToItsBestSetting() {
        ClosedForm form = aligning("alignFrontEnd", "sinad=dB");
        valid(form);
        assertEquals(140, form.settings.get("frontEnd.A"), 14);
        assertEquals(100, form.changes.get(0).before());
        assertNotNull(form.readings.get("sinad"));
    }

    // ---- a lead

    @Test
    void howWellALossIsKnownIsWhatTheDataSheetSaysOfRatios() {
        ClosedForm form = on("power", "mid=W");
        PathLoss loss = new PathLoss(List.of(new PathLoss.LossPoint(150, 30)));
        assertNull(new Characterising().uncertainty(form.gear(), loss), "its data sheet has no ratios");
        GearFacts like = form.gear();
        GearFacts set = new GearFacts(
                like.id(),
                like.need(),
                like.role(),
                like.name(),
                like.maker(),
                like.model(),
                like.serial(),
                null,
                null,
                null,
                Map.of("ratio", new AccuracySpec(0, 0, 0.5, AccuracySpec.Stated.EXPANDED_K2)));
        assertEquals(0.25, new Characterising().uncertainty(set, loss), 1e-12);
    }

    @Test
    void aLeadIsCharacterisedAndNothingComingThroughIsNoLead() {
        ClosedForm form = on("carrier", "error=[ppm]");
        when(form.tester.capture(anyDouble()))
                .thenReturn(new RadioTester.Capture(level(-10.255), -20), new RadioTester.Capture(level(-11.5), -20));
        form.behind(new Characterising().announce("Lead", List.of(150.0, 450.0)));
        PathLoss loss = new Characterising().of(form, List.of(150.0, 450.0));
        assertEquals(List.of(new PathLoss.LossPoint(150, 30.26), new PathLoss.LossPoint(450, 31.5)), loss.points());
        verify(form.tester, never()).feedWatchdog();
        when(form.tester.capture(anyDouble())).thenReturn(new RadioTester.Capture(level(-80), -20));
        GearException open = assertThrows(GearException.class, () -> new Characterising().of(form, List.of(150.0)));
        assertTrue(String.valueOf(open.getMessage()).contains("nothing comes through at 150 MHz"), open.getMessage());
    }

    private static Iq level(double dbfs) {
        double[] i = new double[960];
        java.util.Arrays.fill(i, Math.pow(10, dbfs / 20));
        return new Iq(i, new double[960], 96_000);
    }
}
