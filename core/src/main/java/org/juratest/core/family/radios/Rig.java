package org.juratest.core.family.radios;

import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.juratest.core.correction.RfPath;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.TestPoint;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.Reading;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunState;
import org.juratest.core.signal.RfLevel;
import org.juratest.core.trace.Trace;
import org.juratest.core.uncertainty.AccuracySpec;
import org.juratest.core.uncertainty.Uncertainty;
import org.juratest.core.uncertainty.UncertaintyBudget;

/** A radio on its bench: test set, data port, the path between, and the step's channel. */
final class Rig {

    private static final Duration SETTLING = Duration.ofMillis(5);
    /** Head room of the analyser above the power expected, dB. */
    private static final double HEAD_ROOM = 6;
    /** A carrier this far below the rated power is none, dB. */
    private static final double NO_CARRIER = 13;

    private static final double LOW_BATTERY = 0.2;
    private static final String PATH = "rf-path";

    private final MethodBench bench;
    private final RadioTester tester;
    private final RadioControl radio;
    private final double frequency;
    private final double spacing;

    private Rig(MethodBench bench) {
        this.bench = bench;
        this.tester = bench.port(RadioTester.class);
        this.radio = bench.port(RadioControl.class);
        this.frequency = bench.param("frequency");
        this.spacing = bench.param("spacing");
    }

    static Rig of(MethodBench bench) {
        return new Rig(bench);
    }

    /**
     * The radio at the leads is the one of the run, and goes to the step's channel; another one is left as it is.
     *
     * @return how the attempt ends where it is another; absent where it is not
     */
    Method.@Nullable Result onChannel(RadioControl.Mode mode) {
        RunEvents.DeviceIdentity device = radio.device();
        if (!bench.state().isOf(device.serial())) {
            return failed("the radio at the data port is " + device.maker() + " " + device.model() + " number "
                    + device.serial() + ", not number "
                    + bench.state().opened().asset().serial() + ". Connect the radio of this run");
        }
        radio.channel(frequency, mode, spacing);
        return null;
    }

    MethodBench bench() {
        return bench;
    }

    RadioTester tester() {
        return tester;
    }

    RadioControl radio() {
        return radio;
    }

    double frequency() {
        return frequency;
    }

    double spacing() {
        return spacing;
    }

    /** Greatest deviation of the channel, Hz: 5 kHz where channels are 20 kHz apart or more, 2.5 kHz in narrow ones. */
    double greatestDeviation() {
        return spacing >= 20_000 ? 5000 : 2500;
    }

    /** Deviation tests are made with, Hz: 60 % of the greatest. */
    double testDeviation() {
        return 0.6 * greatestDeviation();
    }

    private @Nullable RfPath path() {
        return path(bench.state());
    }

    static @Nullable RfPath path(RunState state) {
        return state.gear().stream()
                .filter(g -> g.role().equals(PATH))
                .map(GearFacts::path)
                .filter(p -> p != null)
                .findFirst()
                .orElse(null);
    }

    /** What the path of a run takes off at a frequency, dB; 0 for none. */
    static double loss(RunState state, double hertz) {
        RfPath path = path(state);
        return path == null ? 0 : path.loss().at(hertz);
    }

    /** What the path takes off at a frequency, dB; 0 for none. */
    double loss(double hertz) {
        return loss(bench.state(), hertz);
    }

    /** What is to be said of the path loss at a frequency; absent where its table holds it. */
    @Nullable
    String lossRemark(double hertz) {
        RfPath path = path();
        return path == null
                ? "no path loss is known; taken as 0 dB"
                : path.loss().covers(hertz)
                        ? null
                        : RadioMethod.plain(hertz / 1e6)
                                + String.format(
                                        Locale.ROOT,
                                        " MHz lies outside the path loss table; the nearest value, %.2f dB, was taken",
                                        path.loss().at(hertz));
    }

    void settle() {
        bench.stop().pause(SETTLING);
    }

    /**
     * What must hold before the transmitter is keyed.
     *
     * @param rated power, W
     * @return how the attempt ends where it does not; absent where it does
     */
    Method.@Nullable Result beforeKeying(double rated) {
        RfPath path = path();
        if (path == null) {
            return failed("no lead with an attenuator is chosen: the transmitter would be keyed into the generator of "
                    + "the test set");
        }
        if (!(path.greatest() >= rated)) {
            return failed("the attenuator bears " + RadioMethod.plain(path.greatest()) + " W, the radio gives "
                    + RadioMethod.plain(rated) + " W. Take one that is rated for it");
        }
        double arriving = RfLevel.dbm(rated) - loss(frequency);
        if (!(arriving <= tester.greatestInput())) {
            return failed(String.format(
                    Locale.ROOT,
                    "%.1f dBm would reach the test set, it takes %.1f dBm. Put more attenuation in between",
                    arriving,
                    tester.greatestInput()));
        }
        double battery = radio.battery();
        if (!(battery >= LOW_BATTERY)) {
            return failed(String.format(
                    Locale.ROOT,
                    "the battery is at %.0f %%. Charge it, or take a full one: power and current fall with it",
                    battery * 100));
        }
        return null;
    }

    private Method.Result failed(String words) {
        bench.connectionChecked(false, words, Map.of());
        return new Method.Result(Attempt.Outcome.CONNECTION_FAILED, OutputEvents.OffReason.DONE, words);
    }

    /** Tunes the analyser to a channel, for a power at the radio. */
    void analyse(double hertz, double rated) {
        tester.tune(hertz, Math.min(tester.greatestInput(), RfLevel.dbm(rated) - loss(hertz)) + HEAD_ROOM);
    }

    /**
     * Keys the transmitter.
     *
     * @param rated power expected, W
     * @return how the attempt ends where no carrier comes; absent where one does
     */
    Method.@Nullable Result key(double rated) {
        bench.stop().switchOn(radio::outputOn);
        settle();
        double measured = tester.capture(0.02).dbm() + loss(frequency);
        if (!(measured >= RfLevel.dbm(rated) - NO_CARRIER)) {
            letGo();
            return failed(
                    measured > -100
                            ? String.format(
                                    Locale.ROOT,
                                    "the carrier is weak: %.1f dBm of %.1f dBm. Check the lead, and that it is "
                                            + "on the antenna port",
                                    measured,
                                    RfLevel.dbm(rated))
                            : "no carrier reaches the test set. Check the lead, and that it is on the antenna port");
        }
        bench.connectionChecked(
                true,
                String.format(Locale.ROOT, "a carrier of %.1f dBm", measured),
                Map.of("path loss", db(loss(frequency))));
        return null;
    }

    /** Lets the transmitter go; whatever it answers, the end of the attempt asks again. */
    void letGo() {
        radio.makeSafe();
    }

    RadioTester.Capture capture(double seconds) {
        bench.stop().check();
        RadioTester.Capture capture = tester.capture(seconds);
        bench.stop().check();
        return capture;
    }

    RadioTester.Sound hear(double seconds) {
        bench.stop().check();
        RadioTester.Sound sound = tester.hear(seconds);
        bench.stop().check();
        return sound;
    }

    /** Sets the generator to a level at the radio. */
    void generate(double hertz, double dbm, RadioTester.Modulation modulation, double deviation, double tone) {
        tester.generate(new RadioTester.Signal(hertz, dbm + loss(hertz), modulation, deviation, tone));
    }

    void level(double dbm) {
        tester.level(dbm + loss(frequency));
    }

    /** Highest level the generator gives at the radio, dBm. */
    double greatestLevel() {
        return tester.greatestLevel() - loss(frequency);
    }

    boolean asks(String point) {
        return bench.step().point(point).isPresent();
    }

    /** A reading of a point, if the step has it. */
    void reading(String point, double value, Unit unit, @Nullable String accuracy) {
        reading(point, value, unit, accuracy, Qualifier.EQUAL, 0, 0, null, Map.of());
    }

    /**
     * A reading of a point, if the step has it and there is a value.
     *
     * @param unit of the value; converted to the point's
     * @param accuracy quantity of the gear's data sheet; absent where it states none
     * @param deviation standard deviation of repeats behind it, in {@code unit}; 0 for none
     * @param count of those repeats
     * @param remark beside the figure
     * @param with what else belongs to it
     */
    void reading(
            String point,
            double value,
            Unit unit,
            @Nullable String accuracy,
            Qualifier qualifier,
            double deviation,
            int count,
            @Nullable String remark,
            Map<String, Quantity> with) {
        TestPoint asked = bench.step().point(point).orElse(null);
        if (asked == null || !(Math.abs(value) <= Double.MAX_VALUE)) {
            return;
        }
        Unit own = Unit.of(String.valueOf(asked.unit()));
        Uncertainty u = uncertainty(value, unit, own, accuracy, deviation, count);
        Map<String, Quantity> others = new TreeMap<>(with);
        others.put("frequency", new Quantity(frequency / 1e6, Unit.MEGAHERTZ));
        bench.reading(new Reading(
                bench.key(point),
                unit.convert(value, own),
                own,
                qualifier,
                Reading.Source.MEASURED,
                null,
                List.of(),
                u == null ? null : (Double) u.expanded(),
                u == null ? null : (Double) u.coverageFactor(),
                null,
                others,
                bench.gear().id(),
                remark));
    }

    private @Nullable Uncertainty uncertainty(
            double value, Unit unit, Unit own, @Nullable String accuracy, double deviation, int count) {
        AccuracySpec spec = accuracy == null ? null : bench.gear().accuracy().get(accuracy);
        if (spec == null && count < 2) {
            return null;
        }
        UncertaintyBudget budget = new UncertaintyBudget();
        if (spec != null) {
            budget.typeB(unit.convert(spec.standardAt(value, value), own), 1);
        }
        if (count >= 2) {
            budget.typeA(unit.convert(deviation, own), count);
        }
        return budget.expand();
    }

    Map<String, Quantity> withLoss(double hertz) {
        Map<String, Quantity> with = new LinkedHashMap<>();
        with.put("path loss", db(loss(hertz)));
        return with;
    }

    static Quantity db(double decibels) {
        return new Quantity(decibels, Unit.DECIBEL);
    }

    static Trace trace(String name, Unit xUnit, Unit yUnit, double[] x, double[] y) {
        return new Trace(name, xUnit, yUnit, x, y);
    }

    PointKey key(String point) {
        return bench.key(point);
    }

    static Method.Result measured() {
        return new Method.Result(Attempt.Outcome.VALID, OutputEvents.OffReason.DONE, "measured");
    }

    static Method.Result measured(String words) {
        return new Method.Result(Attempt.Outcome.VALID, OutputEvents.OffReason.DONE, words);
    }

    static Method.Result nothing(String words) {
        return new Method.Result(Attempt.Outcome.CONNECTION_FAILED, OutputEvents.OffReason.DONE, words);
    }
}
