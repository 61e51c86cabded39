package org.juratest.core.family.radios;

import java.math.BigDecimal;
import java.math.MathContext;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.OptionalDouble;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.juratest.core.correction.RfPath;
import org.juratest.core.method.Announced;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Announcement.Bound;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.RunState;

/** What all methods for radios share: a channel, and whether they key the transmitter. */
abstract class RadioMethod implements Method {

    /** Longer than any search takes at the gear's own pace, s. */
    private static final double LONGEST = 1800;
    /** Greatest level of a disturbing signal, dBm at the radio. */
    private static final double GREATEST_BESIDE = 0;

    private final MethodSpec spec;
    private final boolean keys;
    private final RadioControl.Mode mode;
    /** @param more parameters beside the channel, and beside the rated power of those that key */
    RadioMethod(String name, boolean keys, RadioControl.Mode mode, String... more) {
        this.keys = keys;
        this.mode = mode;
        MethodSpec.Builder own = MethodSpec.named(name)
                .hazard(keys ? MethodSpec.Hazard.RADIATION : MethodSpec.Hazard.NONE)
                .ports("radio-test-set", "radio-data-port");
        Stream.concat(Stream.of("frequency", "spacing"), Stream.of(more)).forEach(p -> given(own, p));
        if (keys) {
            given(own, "ratedPower");
            own.maximum("ratedPower", Unit.WATT, 1000);
        }
        if (disturbs()) {
            own.ports("second-generator");
        }
        points().forEach(own::point);
        this.spec = own.build();
    }

    /** A parameter by its name: the same one has the same range in every method. */
    private static void given(MethodSpec.Builder own, String param) {
        switch (param) {
            case "frequency", "lowEnd", "highEnd" -> own.param(param, Unit.MEGAHERTZ, 1, 6000);
            case "spacing" -> own.param(param, Unit.KILOHERTZ, 1, 200);
            case "ratedPower" -> own.param(param, Unit.WATT, 0.001, 1000);
            case "microphone" -> own.param(param, Unit.MILLIVOLT, 0.01, 1000);
            case "subTone" -> own.param(param, Unit.HERTZ, 30, 300);
            case "outer" -> own.param(param, Unit.HERTZ, 100, 5000);
            case "window" -> windowed(own);
            case "balanceWindow" -> own.param(param, Unit.DECIBEL, 0.01, 6);
            case "level" -> own.param(param, Unit.DBM, -140, 0);
            default -> throw new IllegalArgumentException("no parameter is called \"" + param + "\"");
        }
    }

    /** How close an alignment has to come: a share, in whatever unit of a share. */
    private static void windowed(MethodSpec.Builder own) {
        own.param("window", Unit.ONE, 1e-9, 0.5);
    }

    /** What it can read, by the id a step's point has. */
    abstract Map<String, Unit> points();

    @Override
    public final MethodSpec spec() {
        return spec;
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        List<Double> carriers = carriers(step);
        double hertz = carriers.get(0);
        Map<String, Quantity> settings = new TreeMap<>();
        List<Bound> bounds = new ArrayList<>();
        Set<Class<?>> outputs = new HashSet<>();
        settings.put("frequency", new Quantity(hertz / 1e6, Unit.MEGAHERTZ));
        carriers.forEach(c -> inBand(state, lane, c));
        bounds.add(Bound.at("carrier", carriers, "Hz", "announced"));
        bounds.add(Bound.upTo("microphone", Audio.MOST, "V", "the greatest a microphone input is given"));
        if (step.params().containsKey("microphone")) {
            settings.put("microphone", new Quantity(louder() * Method.base(step.params(), "microphone"), Unit.VOLT));
        }
        String what = "A signal on " + plain(hertz / 1e6) + " MHz into the receiver of " + where;
        if (keys) {
            carriers.forEach(Distress::check);
            double rated = Method.base(step.params(), "ratedPower");
            double greatest = Method.base(step.maxima(), "ratedPower");
            Method.within("ratedPower", rated, greatest);
            settings.put("ratedPower", new Quantity(rated, Unit.WATT));
            bounds.add(Bound.upTo("ratedPower", greatest, "W", "the procedure's greatest power"));
            RfPath path = RadioSetup.path(state);
            if (path != null) {
                bounds.add(Bound.upTo("ratedPower", path.greatest(), "W", "what lead and attenuator bear"));
            }
            outputs.add(RadioControl.class);
            what = "Keys " + where + " on " + plain(hertz / 1e6) + " MHz, " + plain(rated) + " W into the test set";
        }
        signals(state, step, hertz, bounds, outputs);
        return new Announced(what, settings, bounds, outputs, LONGEST);
    }

    /** Bounds of what is sent to the receiver; nothing of the kind is, where no greatest level is stated. */
    private void signals(RunState state, Step step, double hertz, List<Bound> bounds, Set<Class<?>> outputs) {
        OptionalDouble own = greatestAtReceiver(step);
        if (own.isEmpty() && !keys) {
            return;
        }
        // A transmitter that gives nothing is told from a lead that is off by what its receiver hears through it.
        double greatest =
                Math.max(own.orElse(RadioSetup.PROVING), keys ? RadioSetup.PROVING : Double.NEGATIVE_INFINITY);
        bounds.add(Bound.at("signal", List.of(hertz), "Hz", "announced"));
        bounds.add(Bound.below(
                "level", greatest + RadioSetup.loss(state, hertz), "dBm", "the greatest level a receiver is given"));
        outputs.add(RadioTester.class);
        if (disturbs()) {
            double spacing = Method.base(step.params(), "spacing");
            List<Double> beside = List.of(hertz - spacing, hertz + spacing);
            bounds.add(Bound.at("second signal", beside, "Hz", "announced"));
            bounds.add(Bound.below(
                    "second level",
                    GREATEST_BESIDE
                            + beside.stream()
                                    .mapToDouble(h -> RadioSetup.loss(state, h))
                                    .max()
                                    .orElse(0),
                    "dBm",
                    "the greatest level a receiver is given in the channel beside"));
            outputs.add(SignalGenerator.class);
        }
    }

    /** A carrier lies in the band of the device, where the nameplate has one. */
    private static void inBand(RunState state, String lane, double hertz) {
        OptionalDouble low = state.opened().asset().nameplate().base(lane + "Low");
        OptionalDouble high = state.opened().asset().nameplate().base(lane + "High");
        if (low.isPresent() && high.isPresent() && !(hertz >= low.getAsDouble() && hertz <= high.getAsDouble())) {
            throw new Refusal(
                    "out-of-band",
                    plain(hertz / 1e6) + " MHz lies outside the band of the device, " + plain(low.getAsDouble() / 1e6)
                            + " to " + plain(high.getAsDouble() / 1e6) + " MHz.",
                    "params.frequency");
        }
    }

    /** Channels it goes to, Hz; the step's own first. */
    List<Double> carriers(Step step) {
        return List.of(Method.base(step.params(), "frequency"));
    }

    /** Greatest level it gives a receiver, dBm at the radio; empty where it sends it nothing. */
    OptionalDouble greatestAtReceiver(Step step) {
        return OptionalDouble.empty();
    }

    /** Whether it sends a second signal in the channels beside. */
    boolean disturbs() {
        return false;
    }

    /** How many times the step's voltage it gives the microphone at most. */
    double louder() {
        return 1;
    }

    /** Channels at both ends of the band and in the middle; the middle first. */
    static List<Double> threeChannels(Step step) {
        return List.of(
                Method.base(step.params(), "frequency"),
                Method.base(step.params(), "lowEnd"),
                Method.base(step.params(), "highEnd"));
    }

    /** A figure in words, without zeros it does not need: 5, 155.25. */
    static String plain(double value) {
        return new BigDecimal(value)
                .round(new MathContext(8))
                .stripTrailingZeros()
                .toPlainString();
    }

    @Override
    public final Result run(MethodBench bench) {
        RadioSetup rig = RadioSetup.of(bench);
        Result other = rig.onChannel(mode);
        if (other != null) {
            return other;
        }
        if (!keys) {
            return measure(rig);
        }
        double rated = bench.param("ratedPower");
        rig.radio().highPower(true);
        rig.analyse(rig.frequency(), rated);
        Result refused = rig.beforeKeying(rated);
        return refused != null ? refused : measure(rig);
    }

    /** Measures; a method that keys does so itself, as often as it needs. */
    abstract Result measure(RadioSetup rig);

    /** A method that keys once and measures while the carrier is on. */
    abstract static class Keyed extends RadioMethod {

        Keyed(String name, RadioControl.Mode mode, String... more) {
            super(name, true, mode, more);
        }

        @Override
        final Result measure(RadioSetup rig) {
            RadioSetup.Carrier carrier = rig.key(rig.bench().param("ratedPower"));
            if (carrier.weak()) {
                return rig.missing(carrier.lead(), carrier.words());
            }
            try {
                return keyed(rig);
            } finally {
                rig.tester().speak(1000, 0);
                rig.letGo();
            }
        }

        abstract Result keyed(RadioSetup rig);
    }
}
