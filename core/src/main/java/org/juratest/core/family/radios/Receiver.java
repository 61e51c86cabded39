package org.juratest.core.family.radios;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.OptionalDouble;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.method.Method;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.search.LevelSearch;
import org.juratest.core.signal.BitErrors;
import org.juratest.core.signal.ToneAnalysis;
import org.juratest.core.signal.Weighting;
import org.juratest.core.trace.Trace;

/** Methods that measure a receiver. Points are optional: a step takes of them what it asks for. */
final class Receiver {

    /** SINAD at which sensitivity is stated, dB. */
    private static final double AIM = 12;

    private static final double START = -100;
    private static final double LOWEST = -130;
    /** Never more into a receiver in a search, dBm: strong enough for any that works, far from harming one. */
    static final double GREATEST = -60;

    private static final double LISTENING = 0.25;
    private static final double STRONG = -60;

    private Receiver() {}

    static List<Method> methods() {
        return List.of(new Sensitivity(), new Squelch(), new Sound(), new Digital(), new Selectivity());
    }

    private static void on(RadioSetup rig) {
        rig.bench().stop().switchOn(rig.tester()::outputOn);
        rig.settle();
    }

    /** SINAD of speech that the receiver gives, mean of two; NaN where there is no tone. */
    private static double sinad(RadioSetup rig) {
        double sum = 0;
        for (int n = 0; n < 2; n++) {
            RadioTester.Sound sound = rig.hear(LISTENING);
            sum += ToneAnalysis.of(sound.volts(), sound.rate()).sinadVoice().orElse(Double.NaN) / 2;
        }
        return sum;
    }

    private static Trace staircase(LevelSearch search) {
        return staircase(search, 1);
    }

    private static Trace staircase(LevelSearch search, double sign) {
        List<LevelSearch.Step> steps = search.steps();
        double[] x = new double[steps.size()];
        double[] y = new double[steps.size()];
        for (int n = 0; n < x.length; n++) {
            x[n] = n + 1;
            y[n] = sign * steps.get(n).level();
        }
        return RadioSetup.trace("Level search", Unit.ONE, Unit.DBM, x, y);
    }

    /** Last step of a search, dB, and how many turns of it are averaged. */
    private static final double FINE = 0.5;

    private static final int TURNS = 6;

    private interface Quality {
        double now();
    }

    private static LevelSearch search(
            RadioSetup rig, LevelSearch.Plan plan, String what, Unit unit, double sign, Quality quality) {
        LevelSearch search = new LevelSearch(plan);
        while (!search.isOver()) {
            rig.level(search.level());
            rig.settle();
            double now = quality.now();
            double asked = search.level();
            search.measured(now);
            rig.show(
                    Math.abs(now) <= Double.MAX_VALUE
                            ? Map.of("level", new Quantity(asked, Unit.DBM), what, new Quantity(sign * now, unit))
                            : Map.of("level", new Quantity(asked, Unit.DBM)),
                    List.of(staircase(search)));
        }
        return search;
    }

    private static LevelSearch.Plan plan(RadioSetup rig, double aim) {
        double highest = Math.min(GREATEST, rig.greatestLevel());
        return new LevelSearch.Plan(Math.min(START, highest), LOWEST, highest, 8, FINE, aim, TURNS, 60);
    }

    /**
     * A search that failed is a reading too: the receiver needs more than the greatest level, or less than the lowest.
     */
    private static Method.Result level(RadioSetup rig, String point, LevelSearch search) {
        rig.bench().trace(staircase(search));
        if (search.failed() == null) {
            LevelSearch.Result found = search.result();
            rig.levelReading(point, found.level(), Qualifier.EQUAL, FINE, r -> r.scatter(found.spread(), TURNS)
                    .with("spread", RadioSetup.decibels(found.spread())));
            return RadioSetup.measured(search.steps().size() + " levels");
        }
        LevelSearch.Step last = search.steps().get(search.steps().size() - 1);
        rig.levelReading(
                point,
                last.level(),
                last.met() ? Qualifier.LESS : Qualifier.MORE,
                FINE,
                r -> r.remark(search.failed()));
        if (!last.met()) {
            return rig.mute(String.valueOf(search.failed()));
        }
        return RadioSetup.measured(search.failed());
    }

    /**
     * Level for 12 dB SINAD, 300 to 3400 Hz, with a 1 kHz tone at 60 % of the greatest deviation: point {@code level},
     * at the radio.
     */
    private static final class Sensitivity extends RadioMethod {
        Sensitivity() {
            super("radio.sensitivity", false, RadioControl.Mode.FM);
        }

        @Override
        Map<String, Unit> points() {
            return Map.of("level", Unit.DBM);
        }

        @Override
        OptionalDouble greatestAtReceiver(Step step) {
            return OptionalDouble.of(GREATEST);
        }

        @Override
        Result measure(RadioSetup rig) {
            rig.radio().holdSquelchOpen(true);
            rig.generate(rig.frequency(), START, Audio.fm(), rig.testDeviation(), Audio.TONE);
            on(rig);
            LevelSearch search = search(rig, plan(rig, AIM), "SINAD", Unit.DECIBEL, 1, () -> sinad(rig));
            if (search.failed() == null) {
                rig.level(search.result().level());
                rig.settle();
                RadioTester.Sound sound = rig.hear(1);
                Audio.spectrum(ToneAnalysis.of(sound.volts(), sound.rate())).forEach(rig.bench()::trace);
                Audio.keep(rig, "At 12 dB SINAD", sound.volts(), sound.rate());
            }
            return level(rig, "level", search);
        }
    }

    /**
     * Levels at which the squelch opens, coming from below, and closes again: points {@code open} and {@code close}.
     */
    private static final class Squelch extends RadioMethod {
        private static final double FROM = -130;
        private static final double TO = -90;
        private static final double STEP = 0.5;

        Squelch() {
            super("radio.squelch", false, RadioControl.Mode.FM);
        }

        @Override
        Map<String, Unit> points() {
            return Map.of("open", Unit.DBM, "close", Unit.DBM);
        }

        @Override
        OptionalDouble greatestAtReceiver(Step step) {
            return OptionalDouble.of(TO);
        }

        @Override
        Result measure(RadioSetup rig) {
            rig.radio().holdSquelchOpen(false);
            rig.generate(rig.frequency(), FROM, Audio.fm(), rig.testDeviation(), Audio.TONE);
            on(rig);
            List<Double> levels = new ArrayList<>();
            double opened = walk(rig, FROM, STEP, true, levels);
            if (Double.isNaN(opened)) {
                rig.levelReading(
                        "open", reached(levels), Qualifier.MORE, STEP, r -> r.remark("the squelch stays closed"));
                return rig.mute("the squelch stays closed up to " + RadioMethod.plain(reached(levels)) + " dBm");
            }
            double closed = walk(rig, opened, -STEP, false, levels);
            rig.bench().trace(walked(levels));
            rig.levelReading("open", opened, Qualifier.EQUAL, STEP, r -> {});
            if (Double.isNaN(closed)) {
                rig.levelReading("close", FROM, Qualifier.LESS, STEP, r -> r.remark("the squelch stays open"));
                return RadioSetup.measured("the squelch stays open without a signal");
            }
            rig.levelReading("close", closed, Qualifier.EQUAL, STEP, r -> {});
            return RadioSetup.measured();
        }

        private static Trace walked(List<Double> levels) {
            double[] x = new double[levels.size()];
            for (int n = 0; n < x.length; n++) {
                x[n] = n + 1;
            }
            return RadioSetup.trace(
                    "Level, up until it opens and down until it closes",
                    Unit.ONE,
                    Unit.DBM,
                    x,
                    levels.stream().mapToDouble(Double::doubleValue).toArray());
        }

        /** The highest level that was set, dBm: the generator may give no more. */
        private static double reached(List<Double> levels) {
            return levels.stream().mapToDouble(Double::doubleValue).max().orElse(FROM);
        }

        private static double walk(RadioSetup rig, double from, double step, boolean until, List<Double> levels) {
            for (double level = from; level <= TO && level >= FROM; level += step) {
                double set = rig.level(level);
                rig.settle();
                levels.add(set);
                boolean open = rig.radio().squelchIsOpen();
                rig.bench().stop().check();
                rig.show(Map.of("level", new Quantity(level, Unit.DBM)), List.of(walked(levels)));
                if (open == until) {
                    return set;
                }
            }
            return Double.NaN;
        }
    }

    /**
     * Sound at a strong signal, -60 dBm: points {@code distortion} (with noise, 300 Hz to 3 kHz) and {@code level}
     * (volts rms).
     */
    private static final class Sound extends RadioMethod {
        Sound() {
            super("radio.sound", false, RadioControl.Mode.FM);
        }

        @Override
        Map<String, Unit> points() {
            return Map.of("distortion", Unit.PERCENT, "level", Unit.VOLT);
        }

        @Override
        OptionalDouble greatestAtReceiver(Step step) {
            return OptionalDouble.of(STRONG);
        }

        @Override
        Result measure(RadioSetup rig) {
            rig.radio().holdSquelchOpen(true);
            rig.generate(rig.frequency(), STRONG, Audio.fm(), rig.testDeviation(), Audio.TONE);
            on(rig);
            RadioTester.Sound sound = rig.hear(1);
            ToneAnalysis tone = ToneAnalysis.of(sound.volts(), sound.rate());
            OptionalDouble distortion = tone.distortion(Audio.FROM, Audio.TO, Weighting.NONE);
            if (distortion.isEmpty()) {
                return rig.missing(
                        false,
                        "the receiver gives no tone: " + String.join("; ", tone.warnings()),
                        "Are the sound lead and the lead on the antenna port connected?");
            }
            List<Trace> picture = Audio.spectrum(tone);
            rig.show(Map.of("distortion", new Quantity(distortion.getAsDouble(), Unit.PERCENT)), picture);
            picture.forEach(rig.bench()::trace);
            Audio.keep(rig, "Sound at -60 dBm", sound.volts(), sound.rate());
            rig.reading("distortion", distortion.getAsDouble(), Unit.PERCENT, "distortion");
            rig.reading("level", Audio.rms(sound.volts()), Unit.VOLT, "sound");
            return RadioSetup.measured();
        }
    }

    /**
     * Bit errors of the receiver with the test pattern, four-level keyed: point {@code level} for a ratio of 5 % and
     * {@code floor}, the ratio at -60 dBm.
     */
    private static final class Digital extends RadioMethod {
        private static final double AIM_RATIO = 0.05;
        private static final int BITS = 4800;
        /** Reads at the strong signal: of 96 000 bits a limit of 0.01 % is ten errors, so that one does not decide. */
        private static final int READS = 20;

        Digital() {
            super("radio.receivedBits", false, RadioControl.Mode.FSK4, "outer");
        }

        @Override
        Map<String, Unit> points() {
            return Map.of("level", Unit.DBM, "floor", Unit.PERCENT);
        }

        @Override
        OptionalDouble greatestAtReceiver(Step step) {
            return OptionalDouble.of(STRONG);
        }

        @Override
        Result measure(RadioSetup rig) {
            rig.generate(
                    rig.frequency(),
                    STRONG,
                    RadioTester.Modulation.FSK4,
                    rig.bench().param("outer"),
                    0);
            on(rig);
            BitErrors floor = new BitErrors(0, 0);
            for (int n = 0; n < READS; n++) {
                rig.bench().stop().check();
                BitErrors read = BitErrors.of(rig.radio().received(BITS));
                if (read.ratio().isEmpty()) {
                    return rig.mute("the receiver does not give the test pattern back, not even at -60 dBm");
                }
                floor = floor.and(read);
                rig.show(Map.of(
                        "bits", new Quantity(floor.bits(), Unit.ONE), "wrong", new Quantity(floor.errors(), Unit.ONE)));
            }
            BitErrors all = floor;
            rig.keep("floor", 100 * floor.ratio().orElseThrow(), Unit.PERCENT, r -> counted(r, all));
            // Fewer errors are better: the search looks for the level where the negative ratio just reaches its aim.
            LevelSearch search = search(rig, plan(rig, -AIM_RATIO), "bit errors", Unit.PERCENT, -100, () -> {
                BitErrors errors = BitErrors.of(rig.radio().received(BITS));
                rig.bench().stop().check();
                return errors.ratio().isPresent() ? -errors.ratio().getAsDouble() : Double.NaN;
            });
            return level(rig, "level", search);
        }
    }

    /**
     * Selectivity: how far above the wanted signal a second generator in the channel beside has to stand to bring SINAD
     * from what 3 dB above sensitivity gives down to 12 dB; the wanted signal stays. Points {@code lower} and
     * {@code upper}, dB.
     */
    private static final class Selectivity extends RadioMethod {
        /** How far the wanted signal stands above sensitivity, dB. */
        private static final double ABOVE = 3;

        Selectivity() {
            super("radio.selectivity", false, RadioControl.Mode.FM);
        }

        @Override
        Map<String, Unit> points() {
            return Map.of("lower", Unit.DECIBEL, "upper", Unit.DECIBEL);
        }

        @Override
        OptionalDouble greatestAtReceiver(Step step) {
            return OptionalDouble.of(GREATEST + ABOVE);
        }

        @Override
        boolean disturbs() {
            return true;
        }

        @Override
        Result measure(RadioSetup rig) {
            SignalGenerator second = rig.bench().port(SignalGenerator.class);
            rig.radio().holdSquelchOpen(true);
            rig.generate(rig.frequency(), START, Audio.fm(), rig.testDeviation(), Audio.TONE);
            second.generate(rig.frequency() + rig.spacing(), -140, rig.testDeviation(), 400);
            on(rig);
            LevelSearch wanted = search(rig, plan(rig, AIM), "SINAD", Unit.DECIBEL, 1, () -> sinad(rig));
            if (wanted.failed() != null) {
                return rig.mute("the receiver has no sensitivity to begin from: " + wanted.failed());
            }
            double level = rig.level(wanted.result().level() + ABOVE);
            rig.bench().stop().switchOn(second::outputOn);
            for (String side : List.of("lower", "upper")) {
                if (rig.asks(side)) {
                    beside(rig, second, level, side.equals("upper") ? 1 : -1, side);
                }
            }
            return RadioSetup.measured();
        }

        private static void beside(RadioSetup rig, SignalGenerator second, double level, int side, String point) {
            double hertz = rig.frequency() + side * rig.spacing();
            double loss = rig.loss(hertz);
            // The lower the disturbing signal, the better: the search walks in its attenuation below 0 dBm, and not
            // to levels that the generator does not give through the lead.
            double least = Math.max(0, loss - second.greatestLevel());
            LevelSearch search =
                    new LevelSearch(new LevelSearch.Plan(Math.max(120, least), least, 130, 8, FINE, AIM, TURNS, 60));
            while (!search.isOver()) {
                second.generate(hertz, -search.level() + loss, rig.testDeviation(), 400);
                rig.settle();
                double now = sinad(rig);
                double asked = search.level();
                search.measured(now);
                rig.show(Map.of("beside", new Quantity(-asked, Unit.DBM)), List.of(staircase(search, -1)));
            }
            LevelSearch.Step last = search.steps().get(search.steps().size() - 1);
            boolean found = search.failed() == null;
            rig.keep(point, (found ? -search.result().level() : -last.level()) - level, Unit.DECIBEL, r -> {
                r.accuracy("ratio").within(FINE).with("path loss", RadioSetup.decibels(loss));
                if (found) {
                    r.scatter(search.result().spread(), TURNS)
                            .remark(String.format(Locale.ROOT, "wanted %.1f dBm", level));
                } else {
                    r.qualifier(last.met() ? Qualifier.MORE : Qualifier.LESS).remark(search.failed());
                }
            });
        }
    }

    /**
     * A ratio of counted errors, with the scatter of a Poisson count (JCGM 100:2008, 4.2: its variance is its mean).
     */
    private static void counted(ReadingBuilder reading, BitErrors errors) {
        // Of no errors at all, one might have been.
        double deviation = Math.sqrt(Math.max(1, errors.errors())) / errors.bits();
        reading.typeB(100 * deviation, 1)
                .remark(String.format(Locale.ROOT, "%d of %d bits wrong", errors.errors(), errors.bits()));
    }
}
