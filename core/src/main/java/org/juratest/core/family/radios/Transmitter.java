package org.juratest.core.family.radios;

import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.juratest.core.method.Method;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.signal.AdjacentChannels;
import org.juratest.core.signal.FmAnalysis;
import org.juratest.core.signal.Fsk4Analysis;
import org.juratest.core.signal.RfLevel;
import org.juratest.core.signal.SignalException;
import org.juratest.core.signal.ToneAnalysis;
import org.juratest.core.signal.Weighting;
import org.juratest.core.trace.Trace;

/** Methods that measure a keyed transmitter. Points are optional: a step takes of them what it asks for. */
final class Transmitter {

    private static final double CAPTURE = 0.5;
    private static final int COLUMNS = 256;

    private Transmitter() {}

    static List<Method> methods() {
        return List.of(
                new Carrier(),
                new Power(),
                Deviation.rated(),
                Deviation.limited(),
                new Distortion(),
                new Hum(),
                new SubTone(),
                new Adjacent(),
                new Digital());
    }

    private static Method.Result noTone(RadioSetup rig) {
        return rig.missing(
                false,
                "the test tone does not reach the modulator",
                "Is the sound lead connected, and does the data port route it?");
    }

    /** Frequency error: points {@code error} (relative) and {@code hertz}. */
    private static final class Carrier extends RadioMethod.Keyed {
        Carrier() {
            super("radio.carrier", RadioControl.Mode.FM);
        }

        @Override
        Map<String, Unit> points() {
            return Map.of("error", Unit.PPM, "hertz", Unit.HERTZ);
        }

        @Override
        Result keyed(RadioSetup rig) {
            RadioTester.Capture capture = rig.capture(CAPTURE);
            FmAnalysis found = FmAnalysis.of(capture.iq());
            if (found.frequencyError().isEmpty()) {
                return rig.missing(true, "no carrier: " + String.join("; ", found.warnings()));
            }
            double error = found.frequencyError().getAsDouble();
            double[][] drawn = AdjacentChannels.drawn(capture.iq(), 5000, COLUMNS);
            Trace spectrum = RadioSetup.trace("Carrier", Unit.HERTZ, Unit.DECIBEL, drawn[0], drawn[1]);
            rig.show(Map.of("error", new Quantity(error, Unit.HERTZ)), List.of(spectrum));
            rig.bench().trace(spectrum);
            rig.keep(
                    "hertz",
                    error,
                    Unit.HERTZ,
                    r -> r.accuracy("frequencyError", error / rig.frequency() * 1e6, 0, rig.frequency() / 1e6));
            rig.reading("error", error / rig.frequency() * 1e6, Unit.PPM, "frequencyError");
            return RadioSetup.measured();
        }
    }

    /**
     * Carrier power at the ends and the middle of the band, with high power, and in the middle with low power: points
     * {@code low}, {@code mid}, {@code high}, {@code lowPower}.
     */
    private static final class Power extends RadioMethod {
        Power() {
            super("radio.power", true, RadioControl.Mode.FM, "lowEnd", "highEnd");
        }

        @Override
        Map<String, Unit> points() {
            return Map.of("low", Unit.WATT, "mid", Unit.WATT, "high", Unit.WATT, "lowPower", Unit.WATT);
        }

        @Override
        List<Double> carriers(Step step) {
            return threeChannels(step);
        }

        @Override
        Result measure(RadioSetup rig) {
            Map<String, Double> places = new LinkedHashMap<>();
            places.put("low", rig.bench().param("lowEnd"));
            places.put("mid", rig.frequency());
            places.put("high", rig.bench().param("highEnd"));
            for (Map.Entry<String, Double> place : places.entrySet()) {
                if (rig.asks(place.getKey())) {
                    Result unclear = at(rig, place.getKey(), place.getValue(), true);
                    if (unclear != null) {
                        return unclear;
                    }
                }
            }
            return rig.asks("lowPower")
                    ? Objects.requireNonNullElse(at(rig, "lowPower", rig.frequency(), false), RadioSetup.measured())
                    : RadioSetup.measured();
        }

        private static @Nullable Result at(RadioSetup rig, String point, double hertz, boolean high) {
            Distress.check(hertz);
            double rated = rig.bench().param("ratedPower");
            rig.radio().channel(hertz, RadioControl.Mode.FM, rig.spacing());
            rig.radio().highPower(high);
            rig.analyse(hertz, rated);
            RadioSetup.Carrier carrier = rig.key(high ? rated : rated / 10);
            try {
                double arriving = carrier.weak()
                        ? carrier.level() - rig.loss(rig.frequency())
                        : rig.capture(0.1).dbm();
                double watts = RfLevel.watts(arriving + rig.loss(hertz));
                Quantity at = new Quantity(hertz / 1e6, Unit.MEGAHERTZ);
                rig.show(Map.of("power", new Quantity(watts, Unit.WATT), "at", at));
                boolean something = arriving > RadioSetup.NOTHING;
                rig.keep(point, something ? RfLevel.watts(arriving) : Double.NaN, Unit.WATT, r -> {
                    r.accuracy("power").with("at", at).ifNone(carrier.words());
                    rig.lossCorrected(r, hertz, 1);
                });
                return carrier.lead() ? null : rig.missing(false, carrier.words());
            } finally {
                rig.letGo();
            }
        }
    }

    private static void deviations(RadioSetup rig, FmAnalysis found) {
        List<Trace> picture = List.of(Audio.deviation(found, 0.005));
        rig.show(Map.of("deviation", new Quantity(found.deviationPositive().orElse(0), Unit.HERTZ)), picture);
        picture.forEach(rig.bench()::trace);
        Map<String, Quantity> with = new LinkedHashMap<>();
        found.residualFm().ifPresent(r -> with.put("residual FM", new Quantity(r, Unit.HERTZ)));
        String remark = found.subTone().isPresent() ? "the sub-audible tone is on and counted in" : null;
        rig.keep("pos", found.deviationPositive().orElse(Double.NaN), Unit.HERTZ, r -> r.accuracy("deviation")
                .with(with)
                .remark(remark));
        rig.keep("neg", found.deviationNegative().orElse(Double.NaN), Unit.HERTZ, r -> r.accuracy("deviation")
                .with(with)
                .remark(remark));
    }

    /** Peak deviation, both ways, of a 1 kHz tone at the microphone: points {@code pos}, {@code neg}. */
    private static final class Deviation extends RadioMethod.Keyed {

        private final double louder;

        private Deviation(String name, double louder) {
            super(name, RadioControl.Mode.FM, "microphone");
            this.louder = louder;
        }

        @Override
        Map<String, Unit> points() {
            return Map.of("pos", Unit.HERTZ, "neg", Unit.HERTZ);
        }

        /** At the rated level. */
        static Deviation rated() {
            return new Deviation("radio.deviation", 1);
        }

        @Override
        double louder() {
            return louder;
        }

        /** 20 dB above it: what the limiter lets through. */
        static Deviation limited() {
            return new Deviation("radio.limiting", 10);
        }

        @Override
        Result keyed(RadioSetup rig) {
            rig.tester().speak(Audio.TONE, louder * rig.bench().param("microphone"));
            rig.settle();
            FmAnalysis found = FmAnalysis.of(rig.capture(CAPTURE).iq());
            // A hum is not the test tone.
            if (found.tone()
                    .filter(t -> Math.abs(t.frequency() - Audio.TONE) < Audio.TONE / 100)
                    .isEmpty()) {
                return noTone(rig);
            }
            deviations(rig, found);
            return RadioSetup.measured();
        }
    }

    /**
     * Distortion with noise of a 1 kHz tone at 60 % of the greatest deviation, after 750 us de-emphasis, 300 Hz to 3
     * kHz: point {@code distortion}. The voltage it takes at the microphone: point {@code microphone}.
     */
    private static final class Distortion extends RadioMethod.Keyed {
        Distortion() {
            super("radio.distortion", RadioControl.Mode.FM, "microphone");
        }

        @Override
        Map<String, Unit> points() {
            return Map.of("distortion", Unit.PERCENT, "microphone", Unit.MILLIVOLT);
        }

        @Override
        Result keyed(RadioSetup rig) {
            Optional<Double> volts = Audio.modulate(
                    rig, Audio.TONE, rig.testDeviation(), rig.bench().param("microphone"));
            if (volts.isEmpty()) {
                return noTone(rig);
            }
            FmAnalysis found = FmAnalysis.of(rig.capture(CAPTURE).iq());
            ToneAnalysis tone = ToneAnalysis.of(found.audio(), found.rate());
            List<Trace> picture = Audio.spectrum(tone);
            rig.show(
                    Map.of(
                            "distortion",
                            new Quantity(
                                    tone.distortion(Audio.FROM, Audio.TO, Weighting.DE_EMPHASIS_750)
                                            .orElse(0),
                                    Unit.PERCENT)),
                    picture);
            picture.forEach(rig.bench()::trace);
            Audio.keep(rig, "Demodulated sound", found.audio(), found.rate());
            rig.reading(
                    "distortion",
                    tone.distortion(Audio.FROM, Audio.TO, Weighting.DE_EMPHASIS_750)
                            .orElse(Double.NaN),
                    Unit.PERCENT,
                    "distortion");
            rig.reading("microphone", volts.get() * 1e3, Unit.MILLIVOLT, "sound");
            return RadioSetup.measured();
        }
    }

    /**
     * Hum and noise: what is left without modulation against a 1 kHz tone at 60 % of the greatest deviation, both after
     * 750 us de-emphasis, 300 Hz to 3 kHz, the sub-audible tone off. Point {@code hum}.
     */
    private static final class Hum extends RadioMethod.Keyed {
        Hum() {
            super("radio.hum", RadioControl.Mode.FM);
        }

        @Override
        Map<String, Unit> points() {
            return Map.of("hum", Unit.DECIBEL);
        }

        @Override
        Result keyed(RadioSetup rig) {
            rig.radio().subTone(0);
            rig.tester().speak(Audio.TONE, 0);
            rig.settle();
            FmAnalysis found = FmAnalysis.of(rig.capture(CAPTURE).iq());
            double noise = found.unmodulated(Audio.FROM, Audio.TO, Weighting.DE_EMPHASIS_750)
                    .orElse(Double.NaN);
            double signal = rig.testDeviation() / Math.sqrt(2);
            double hum = 20 * Math.log10(noise / signal);
            List<Trace> picture = found.audio().length == 0
                    ? List.of()
                    : Audio.spectrum(ToneAnalysis.of(found.audio(), found.rate()))
                            .subList(0, 1);
            rig.show(Map.of("hum", RadioSetup.decibels(hum)), picture);
            picture.forEach(rig.bench()::trace);
            Audio.keep(rig, "Without modulation", found.audio(), found.rate());
            rig.reading("hum", hum, Unit.DECIBEL, "ratio");
            return RadioSetup.measured();
        }
    }

    /** The sub-audible tone alone: points {@code frequency} and {@code deviation}. */
    private static final class SubTone extends RadioMethod.Keyed {
        SubTone() {
            super("radio.subTone", RadioControl.Mode.FM, "subTone");
        }

        @Override
        Map<String, Unit> points() {
            return Map.of("frequency", Unit.HERTZ, "deviation", Unit.HERTZ);
        }

        @Override
        Result keyed(RadioSetup rig) {
            rig.radio().subTone(rig.bench().param("subTone"));
            rig.settle();
            try {
                FmAnalysis found = FmAnalysis.of(rig.capture(CAPTURE).iq());
                Optional<ToneAnalysis.Tone> tone = found.subTone();
                if (tone.isEmpty()) {
                    return rig.missing(true, "no sub-audible tone is sent");
                }
                Trace wave = Audio.deviation(FmAnalysis.of(rig.capture(0.1).iq()), 0.03);
                rig.show(Map.of("sub-tone", new Quantity(tone.get().frequency(), Unit.HERTZ)), List.of(wave));
                rig.keep("frequency", tone.get().frequency(), Unit.HERTZ, ReadingBuilder::unknown);
                rig.reading("deviation", tone.get().amplitude(), Unit.HERTZ, "deviation");
                return RadioSetup.measured();
            } finally {
                rig.radio().subTone(0);
            }
        }
    }

    /**
     * Power in the channels beside: modulated by 1250 Hz, 20 dB above what gives 60 % of the greatest deviation (ETSI
     * EN 300 086, 7.4.2); bandwidth 8.5 kHz in narrow channels, 16 kHz in wide ones. Points {@code lower},
     * {@code upper}.
     */
    private static final class Adjacent extends RadioMethod.Keyed {
        Adjacent() {
            super("radio.adjacent", RadioControl.Mode.FM, "microphone");
        }

        @Override
        Map<String, Unit> points() {
            return Map.of("lower", Unit.DECIBEL, "upper", Unit.DECIBEL);
        }

        @Override
        double louder() {
            return 10;
        }

        @Override
        Result keyed(RadioSetup rig) {
            rig.tester().speak(1250, louder() * rig.bench().param("microphone"));
            rig.settle();
            RadioTester.Capture capture = rig.capture(CAPTURE);
            try {
                AdjacentChannels found =
                        AdjacentChannels.of(capture.iq(), rig.spacing(), rig.spacing() >= 20_000 ? 16_000 : 8500);
                double[][] drawn = AdjacentChannels.drawn(capture.iq(), 2.2 * rig.spacing(), COLUMNS);
                Trace spectrum =
                        RadioSetup.trace("Channel and its neighbours", Unit.HERTZ, Unit.DECIBEL, drawn[0], drawn[1]);
                rig.show(Map.of("beside", RadioSetup.decibels(found.greater())), List.of(spectrum));
                rig.bench().trace(spectrum);
                rig.reading("lower", found.lower(), Unit.DECIBEL, "ratio");
                rig.reading("upper", found.upper(), Unit.DECIBEL, "ratio");
                return RadioSetup.measured();
            } catch (SignalException e) {
                return rig.missing(true, String.valueOf(e.getMessage()));
            }
        }
    }

    /**
     * Four-level keying with the test pattern: points {@code deviation} (of the outer symbols), {@code fidelity},
     * {@code rate} (symbol rate error).
     */
    private static final class Digital extends RadioMethod.Keyed {
        Digital() {
            super("radio.digital", RadioControl.Mode.FSK4, "outer");
        }

        @Override
        Map<String, Unit> points() {
            return Map.of("deviation", Unit.HERTZ, "fidelity", Unit.PERCENT, "rate", Unit.PPM);
        }

        @Override
        Result keyed(RadioSetup rig) {
            Fsk4Analysis found = Fsk4Analysis.of(rig.capture(CAPTURE).iq());
            if (found.symbolDeviation().isEmpty()) {
                return rig.missing(true, "no four-level keying is sent: " + String.join("; ", found.warnings()));
            }
            double[] eye = found.eye();
            double[] x = new double[Math.min(400, eye.length)];
            for (int n = 0; n < x.length; n++) {
                x[n] = n;
            }
            Trace symbols = RadioSetup.trace("Symbols", Unit.ONE, Unit.HERTZ, x, Arrays.copyOf(eye, x.length));
            rig.show(
                    Map.of("outer symbols", new Quantity(found.symbolDeviation().getAsDouble(), Unit.HERTZ)),
                    List.of(symbols));
            rig.bench().trace(symbols);
            rig.reading("deviation", found.symbolDeviation().getAsDouble(), Unit.HERTZ, "deviation");
            rig.reading("fidelity", found.fidelity().orElse(Double.NaN), Unit.PERCENT, "distortion");
            rig.reading("rate", found.symbolRateError().orElse(Double.NaN), Unit.PPM, "frequencyError");
            return RadioSetup.measured(
                    found.errors().isEmpty()
                            ? "the test pattern was not recognised"
                            : String.format(
                                    Locale.ROOT,
                                    "%d of %d bits wrong",
                                    found.errors().getAsInt(),
                                    found.bits().orElse(0)));
        }
    }
}
