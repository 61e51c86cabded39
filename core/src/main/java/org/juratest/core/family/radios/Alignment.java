package org.juratest.core.family.radios;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.OptionalDouble;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.juratest.core.method.Method;
import org.juratest.core.port.DeviceLink;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.search.PeakSearch;
import org.juratest.core.search.SettingSearch;
import org.juratest.core.signal.FmAnalysis;
import org.juratest.core.signal.RfLevel;
import org.juratest.core.signal.ToneAnalysis;
import org.juratest.core.trace.Trace;

/**
 * Methods that change a radio's settings over its data port until a measured value is in its aim window, by a bounded
 * search. A value that is in its window as found is left alone. Where the aim is not reached, the setting goes back to
 * what it was. What the settings were and are is kept; the steps whose values they change are due again.
 */
final class Alignment {

    private static final int MOST = 16;

    private Alignment() {}

    static List<Method> methods() {
        return List.of(new Reference(), new Power(), new Deviation(), new FrontEnd());
    }

    /** Reads the value at the setting as it is. */
    interface Measured {
        double now();
    }

    /** What came of one setting. */
    private record Turned(int before, int after, double value, @Nullable String failed) {
        boolean changed() {
            return before != after;
        }
    }

    private static Turned turn(
            RadioSetup rig,
            String setting,
            int beside,
            double aim,
            double within,
            String what,
            Unit unit,
            List<Trace> pictures,
            Measured measured) {
        DeviceLink.Setting found = rig.radio().setting(setting);
        SettingSearch search = new SettingSearch(
                new SettingSearch.Plan(found.value(), found.lowest(), found.highest(), beside, aim, within, MOST));
        boolean done = false;
        try {
            while (!search.isOver()) {
                rig.radio().set(setting, search.setting());
                rig.settle();
                double value = measured.now();
                search.measured(value);
                Quantity setTo = new Quantity(
                        search.steps().get(search.steps().size() - 1).setting(), Unit.ONE);
                rig.show(
                        Double.isNaN(value)
                                ? Map.of("setting", setTo)
                                : Map.of(what, new Quantity(value, unit), "setting", setTo),
                        closing(what, unit, search.steps()));
            }
            done = search.reached();
        } finally {
            if (!done) {
                // Stopped, failed or out of reach: the device is as it was found.
                rig.radio().set(setting, found.value());
            }
        }
        pictures.addAll(closing(what + ", " + setting, unit, search.steps()));
        double last = done
                ? search.steps().get(search.steps().size() - 1).value()
                : search.steps().get(0).value();
        return new Turned(found.value(), done ? search.setting() : found.value(), last, search.failed());
    }

    private static List<Trace> closing(String what, Unit unit, List<SettingSearch.Step> steps) {
        // A setting at which there was no figure leaves its place empty.
        int[] known = IntStream.range(0, steps.size())
                .filter(n -> !Double.isNaN(steps.get(n).value()))
                .toArray();
        return known.length == 0
                ? List.of()
                : List.of(RadioSetup.trace(
                        what,
                        Unit.ONE,
                        unit,
                        Arrays.stream(known).mapToDouble(n -> n + 1).toArray(),
                        Arrays.stream(known)
                                .mapToDouble(n -> steps.get(n).value())
                                .toArray()));
    }

    /** Writes which settings changed, so that what is measured from now on is as left. */
    private static void adjusted(RadioSetup rig, Map<String, Turned> turned, String what) {
        Step step = rig.bench().step();
        Procedure procedure = rig.bench().state().procedure();
        List<PointKey> points = new ArrayList<>();
        for (String altered : step.alters()) {
            procedure
                    .step(altered)
                    .filter(s -> rig.bench().state().scope().step(s.id()))
                    .ifPresent(s -> procedure.lanesOf(s, rig.bench().state().scope()).stream()
                            .filter(l -> l.equals(rig.bench().lane())
                                    || s.provesAllLanes()
                                    || s.lanes() == null
                                    || step.provesAllLanes())
                            .forEach(l -> s.points().forEach(p -> points.add(new PointKey(s.id(), p.id(), l)))));
        }
        List<AttemptEvents.SettingChange> settings = new ArrayList<>();
        turned.forEach((name, t) -> {
            if (t.changed()) {
                settings.add(new AttemptEvents.SettingChange(name, label(rig, name), t.before, t.after));
            }
        });
        if (!settings.isEmpty() && !points.isEmpty()) {
            rig.bench().adjusted(points, what, settings);
        }
    }

    private static String label(RadioSetup rig, String name) {
        String words = name.replace('.', ' ')
                .replace(rig.bench().lane() + " ", "")
                .replace(" " + rig.bench().lane(), "");
        String lane = rig.bench()
                .state()
                .procedure()
                .laneName(rig.bench().step(), rig.bench().lane());
        return lane.isEmpty() || rig.bench().step().provesAllLanes() ? words : words + ", " + lane;
    }

    private static Method.Result ended(Map<String, Turned> turned) {
        List<String> failed = new ArrayList<>();
        turned.forEach((name, t) -> {
            if (t.failed != null) {
                failed.add(name + ": " + t.failed + "; put back to " + t.before);
            }
        });
        long changed = turned.values().stream().filter(Turned::changed).count();
        return RadioSetup.measured(
                !failed.isEmpty()
                        ? String.join(". ", failed)
                        : changed == 0
                                ? "in its window as found; nothing was changed"
                                : changed + (changed == 1 ? " setting" : " settings") + " changed");
    }

    private static String how(Turned turned) {
        return turned.failed != null
                ? turned.failed
                : turned.changed()
                        ? "setting " + turned.before + " to " + turned.after
                        : "setting stays at " + turned.before;
    }

    private static void reading(RadioSetup rig, String point, Turned turned, Unit unit, @Nullable String accuracy) {
        rig.keep(point, turned.value, unit, r -> {
            if (accuracy == null) {
                r.unknown();
            } else {
                r.accuracy(accuracy);
            }
            r.remark(how(turned));
        });
    }

    /** The reference oscillator: point {@code error}, aim 0, setting {@code reference}. */
    private static final class Reference extends RadioMethod.Keyed {
        Reference() {
            super("radio.alignReference", RadioControl.Mode.FM, "window");
        }

        @Override
        Map<String, Unit> points() {
            return Map.of("error", Unit.PPM);
        }

        @Override
        Result keyed(RadioSetup rig) {
            double window = rig.bench().param("window") / Unit.PPM.factor();
            List<Trace> pictures = new ArrayList<>();
            Turned turned = turn(
                    rig,
                    "reference",
                    8,
                    0,
                    window,
                    "frequency error",
                    Unit.PPM,
                    pictures,
                    () -> FmAnalysis.of(rig.capture(0.2).iq()).frequencyError().orElse(Double.NaN)
                            / rig.frequency()
                            * 1e6);
            pictures.forEach(rig.bench()::trace);
            adjusted(rig, Map.of("reference", turned), "Reference oscillator aligned over the data port");
            reading(rig, "error", turned, Unit.PPM, "frequencyError");
            return ended(Map.of("reference", turned));
        }
    }

    /**
     * Power at both ends and the middle of the band: characterised first (two settings beside the one found, a line
     * through the roots of power), then fitted, then proved and if need be closed in on. Points {@code low},
     * {@code mid}, {@code high}.
     */
    private static final class Power extends RadioMethod {
        Power() {
            super("radio.alignPower", true, RadioControl.Mode.FM, "lowEnd", "highEnd", "window");
        }

        @Override
        Map<String, Unit> points() {
            return Map.of("low", Unit.WATT, "mid", Unit.WATT, "high", Unit.WATT);
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
            Map<String, Turned> turned = new LinkedHashMap<>();
            List<Trace> pictures = new ArrayList<>();
            Map<String, Turned> byPoint = new LinkedHashMap<>();
            for (Map.Entry<String, Double> place : places.entrySet()) {
                Distress.check(place.getValue());
                rig.radio().channel(place.getValue(), RadioControl.Mode.FM, rig.spacing());
                rig.analyse(place.getValue(), rig.bench().param("ratedPower"));
                RadioSetup.Carrier carrier = rig.key(rig.bench().param("ratedPower"));
                if (carrier.weak()) {
                    adjusted(rig, turned, "Power aligned over the data port");
                    return rig.missing(carrier.lead(), carrier.words());
                }
                try {
                    String setting = "power." + rig.bench().lane() + "." + place.getKey();
                    Turned one = at(rig, setting, place.getValue(), pictures);
                    turned.put(setting, one);
                    byPoint.put(place.getKey(), one);
                } finally {
                    rig.letGo();
                }
            }
            pictures.forEach(rig.bench()::trace);
            adjusted(rig, turned, "Power aligned over the data port");
            byPoint.forEach((point, t) -> {
                double hertz = places.get(point);
                double arriving = t.value * Math.pow(10, -rig.loss(hertz) / 10);
                rig.keep(point, arriving, Unit.WATT, r -> {
                    r.accuracy("power").remark(how(t));
                    rig.lossCorrected(r, hertz, 1);
                });
            });
            return ended(turned);
        }

        private static Turned at(RadioSetup rig, String setting, double hertz, List<Trace> pictures) {
            double rated = rig.bench().param("ratedPower");
            double within = rig.bench().param("window") * rated;
            Measured watts = () -> RfLevel.watts(rig.capture(0.05).dbm() + rig.loss(hertz));
            DeviceLink.Setting found = rig.radio().setting(setting);
            int beside = Math.max(1, (found.highest() - found.lowest()) / 16);
            double first = watts.now();
            if (Math.abs(first - rated) <= within) {
                return new Turned(found.value(), found.value(), first, null);
            }
            boolean fitted = false;
            try {
                int guess = fit(rig, setting, found, beside, rated, watts);
                rig.radio().set(setting, guess);
                fitted = true;
            } finally {
                if (!fitted) {
                    rig.radio().set(setting, found.value());
                }
            }
            Turned turned = turn(rig, setting, 2, rated, within, "power", Unit.WATT, pictures, watts);
            if (turned.failed != null) {
                rig.radio().set(setting, found.value());
                return new Turned(found.value(), found.value(), first, turned.failed);
            }
            return new Turned(found.value(), turned.after, turned.value, null);
        }

        /**
         * The setting at which a line through the roots of power (amplitude goes with the control voltage) reaches the
         * rated power.
         */
        private static int fit(
                RadioSetup rig, String setting, DeviceLink.Setting found, int beside, double rated, Measured watts) {
            double n = 0;
            double sx = 0;
            double sy = 0;
            double sxx = 0;
            double sxy = 0;
            for (int at : new int[] {found.value() - beside, found.value(), found.value() + beside}) {
                if (at >= found.lowest() && at <= found.highest()) {
                    rig.radio().set(setting, at);
                    rig.settle();
                    double amplitude = Math.sqrt(Math.max(0, watts.now()));
                    n++;
                    sx += at;
                    sy += amplitude;
                    sxx += (double) at * at;
                    sxy += at * amplitude;
                }
            }
            double slope = (n * sxy - sx * sy) / (n * sxx - sx * sx);
            double guess = (Math.sqrt(rated) - (sy - slope * sx) / n) / slope;
            return Double.isNaN(guess)
                    ? found.value()
                    : (int) Math.max(found.lowest(), Math.min(found.highest(), Math.round(guess)));
        }
    }

    /**
     * Deviation at 1 kHz, then its balance over the frequency of sound, then 1 kHz again: settings
     * {@code deviation.LANE} and {@code balance.LANE}; points {@code deviation} (Hz) and {@code balance} (dB, 300 Hz
     * against 3 kHz).
     */
    private static final class Deviation extends RadioMethod.Keyed {
        Deviation() {
            super("radio.alignDeviation", RadioControl.Mode.FM, "microphone", "window", "balanceWindow");
        }

        @Override
        Map<String, Unit> points() {
            return Map.of("deviation", Unit.HERTZ, "balance", Unit.DECIBEL);
        }

        @Override
        Result keyed(RadioSetup rig) {
            String lane = rig.bench().lane();
            double window = rig.bench().param("window") * rig.testDeviation();
            List<Trace> pictures = new ArrayList<>();
            Map<String, Turned> turned = new LinkedHashMap<>();
            Turned balance = turn(
                    rig,
                    "balance." + lane,
                    4,
                    0,
                    rig.bench().param("balanceWindow"),
                    "balance",
                    Unit.DECIBEL,
                    pictures,
                    () -> 20 * Math.log10(deviation(rig, 300) / deviation(rig, 3000)));
            turned.put("balance." + lane, balance);
            Turned level = turn(
                    rig,
                    "deviation." + lane,
                    4,
                    rig.testDeviation(),
                    window,
                    "deviation",
                    Unit.HERTZ,
                    pictures,
                    () -> deviation(rig, Audio.TONE));
            turned.put("deviation." + lane, level);
            pictures.forEach(rig.bench()::trace);
            adjusted(rig, turned, "Deviation aligned over the data port");
            reading(rig, "deviation", level, Unit.HERTZ, "deviation");
            reading(rig, "balance", balance, Unit.DECIBEL, "ratio");
            return ended(turned);
        }

        private static double deviation(RadioSetup rig, double hertz) {
            rig.tester().speak(hertz, rig.bench().param("microphone"));
            rig.settle();
            return FmAnalysis.of(rig.capture(0.1).iq())
                    .tone()
                    .map(ToneAnalysis.Tone::amplitude)
                    .orElse(Double.NaN);
        }
    }

    /**
     * Receiver front end: the setting {@code frontEnd.LANE} at which a weak signal, {@code level}, gives the most
     * SINAD; point {@code sinad}.
     */
    private static final class FrontEnd extends RadioMethod {
        FrontEnd() {
            super("radio.alignFrontEnd", false, RadioControl.Mode.FM, "level");
        }

        @Override
        Map<String, Unit> points() {
            return Map.of("sinad", Unit.DECIBEL);
        }

        @Override
        OptionalDouble greatestAtReceiver(Step step) {
            double level = Method.base(step.params(), "level");
            Method.within("level", level, Receiver.GREATEST);
            return OptionalDouble.of(level);
        }

        @Override
        Result measure(RadioSetup rig) {
            String name = "frontEnd." + rig.bench().lane();
            double level = rig.bench().param("level");
            rig.radio().holdSquelchOpen(true);
            rig.generate(rig.frequency(), level, RadioTester.Modulation.FM, rig.testDeviation(), Audio.TONE);
            rig.bench().stop().switchOn(rig.tester()::outputOn);
            rig.settle();
            DeviceLink.Setting found = rig.radio().setting(name);
            PeakSearch search = new PeakSearch(found.value(), found.lowest(), found.highest(), 16, 0.25);
            boolean done = false;
            try {
                while (!search.isOver()) {
                    rig.radio().set(name, search.setting());
                    rig.settle();
                    double sinad = sinad(rig);
                    search.measured(sinad);
                    rig.show(
                            Map.of(
                                    "SINAD",
                                    RadioSetup.decibels(sinad),
                                    "setting",
                                    new Quantity(search.lastTried(), Unit.ONE)),
                            closing("SINAD", Unit.DECIBEL, search.steps()));
                }
                done = true;
            } finally {
                rig.radio().set(name, done ? search.best().setting() : found.value());
            }
            closing("SINAD, " + name, Unit.DECIBEL, search.steps()).forEach(rig.bench()::trace);
            Turned turned = new Turned(
                    found.value(), search.best().setting(), search.best().value(), null);
            adjusted(rig, Map.of(name, turned), "Front end aligned over the data port");
            rig.keep("sinad", turned.value, Unit.DECIBEL, r -> r.accuracy("ratio")
                    .with("path loss", RadioSetup.decibels(rig.loss(rig.frequency())))
                    .remark(String.format(Locale.ROOT, "at %.1f dBm, %s", level, how(turned))));
            return ended(Map.of(name, turned));
        }

        private static double sinad(RadioSetup rig) {
            double sum = 0;
            for (int n = 0; n < 3; n++) {
                RadioTester.Sound sound = rig.hear(0.5);
                sum += ToneAnalysis.of(sound.volts(), sound.rate()).sinadVoice().orElse(0) / 3;
            }
            return sum;
        }
    }
}
