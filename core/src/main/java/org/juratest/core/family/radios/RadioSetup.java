package org.juratest.core.family.radios;

import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import org.juratest.core.correction.Correction;
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
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunState;
import org.juratest.core.signal.AdjacentChannels;
import org.juratest.core.signal.RfLevel;
import org.juratest.core.trace.Trace;

/** A radio on its bench: test set, data port, the path between, and the step's channel. */
final class RadioSetup {

    private static final Duration SETTLING = Duration.ofMillis(5);
    /** Head room of the analyser above the power expected, dB. */
    private static final double HEAD_ROOM = 6;
    /** Below this share of the rated power it is first asked whether it is the lead, dB. */
    private static final double WEAK = 13;
    /** Below this nothing was received, dBm at the test set. */
    static final double NOTHING = -100;
    /** Level at which any receiver that works opens its squelch, dBm at the radio. */
    static final double PROVING = -60;

    /** Samples of which a spectrum can be drawn. */
    private static final int LEAST = 8;
    /** Columns of a carrier's first look, wide enough for the shortest capture. */
    private static final int LOOK_COLUMNS = 96;

    private static final double LOW_BATTERY = 0.2;
    private static final String PATH = "rf-path";

    private final MethodBench bench;
    private final RadioTester tester;
    private final RadioControl radio;
    private final double frequency;
    private final double spacing;
    /** Whether the method drew something of its own. */
    private boolean drawn;

    private RadioSetup(MethodBench bench) {
        this.bench = bench;
        this.tester = bench.port(RadioTester.class);
        this.radio = bench.port(RadioControl.class);
        this.frequency = bench.param("frequency");
        this.spacing = bench.param("spacing");
    }

    static RadioSetup of(MethodBench bench) {
        return new RadioSetup(bench);
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
     * A transmitter that was keyed.
     *
     * @param level at the radio, dBm; negative infinity for nothing
     * @param weak whether it is far below what was expected
     * @param lead whether the lead is known to be on the antenna port
     */
    record Carrier(double level, boolean weak, boolean lead) {

        String words() {
            return level > NOTHING ? String.format(Locale.ROOT, "a carrier of %.1f dBm", level) : "no carrier";
        }
    }

    /**
     * Keys the transmitter. Where hardly anything comes, it is let go, and the way is proved in the other direction: a
     * receiver that opens for a signal through the same lead has the lead on its antenna port.
     *
     * @param rated power expected, W
     */
    Carrier key(double rated) {
        bench.stop().switchOn(radio::outputOn);
        settle();
        RadioTester.Capture first = tester.capture(0.02);
        double measured = first.dbm() + loss(frequency);
        look(first);
        boolean weak = !(measured >= RfLevel.dbm(rated) - WEAK);
        boolean lead = !weak;
        if (weak) {
            letGo();
            lead = bench.provedBefore() || receives();
        }
        Carrier carrier = new Carrier(measured, weak, lead);
        Map<String, Quantity> with = Map.of("path loss", decibels(loss(frequency)));
        if (lead) {
            bench.connectionChecked(
                    true,
                    carrier.words() + (weak ? "; the lead is on the antenna port, the receiver hears through it" : ""),
                    with);
        }
        return carrier;
    }

    private boolean receives() {
        radio.channel(frequency, RadioControl.Mode.FM, spacing);
        radio.holdSquelchOpen(false);
        settle();
        if (radio.squelchIsOpen()) {
            // It hears noise, or another station: that proves nothing.
            return false;
        }
        generate(frequency, PROVING, Audio.fm(), testDeviation(), Audio.TONE);
        bench.stop().switchOn(tester::outputOn);
        settle();
        boolean open = radio.squelchIsOpen();
        tester.makeSafe();
        return open;
    }

    /**
     * How an attempt ends that found nothing of what its points are about: all without a reading have no value. Where
     * the lead is proved, it is the radio's fault; else a person says which it is.
     */
    Method.Result missing(boolean lead, String words) {
        return missing(lead, words, "Is the lead on the antenna port of this radio?");
    }

    /** Likewise, with what the person is asked. */
    Method.Result missing(boolean proved, String words, String question) {
        PointKey any = bench.key("");
        bench.step().points().stream()
                .map(TestPoint::id)
                .filter(id -> bench.state().attempts(any.step(), any.lane()).stream()
                        .filter(a -> a.outcome() == null)
                        .allMatch(a -> a.reading(bench.key(id)).isEmpty()
                                && a.blank(bench.key(id)).isEmpty()))
                .forEach(id -> bench.noValue(id, words));
        return proved
                ? measured(words)
                : new Method.Result(Attempt.Outcome.UNCLEAR, OutputEvents.OffReason.DONE, words + ". " + question);
    }

    /** Likewise of a receiver, which only what was proved before in this run can tell from a lead that is off. */
    Method.Result mute(String words) {
        return missing(bench.provedBefore(), words);
    }

    /** Lets the transmitter go; whatever it answers, the end of the attempt asks again. */
    void letGo() {
        radio.makeSafe();
    }

    RadioTester.Capture capture(double seconds) {
        bench.stop().check();
        RadioTester.Capture capture = tester.capture(seconds);
        bench.stop().check();
        look(capture);
        return capture;
    }

    RadioTester.Sound hear(double seconds) {
        bench.stop().check();
        RadioTester.Sound sound = tester.hear(seconds);
        bench.stop().check();
        if (!drawn && sound.volts().length > 0) {
            double volts = Audio.rms(sound.volts());
            bench.progress(
                    Map.of("sound", new Quantity(volts, Unit.VOLT)), List.of(Audio.wave(sound.volts(), sound.rate())));
        }
        return sound;
    }

    /** The carrier as it arrives, until a method has something of its own to show. */
    private void look(RadioTester.Capture capture) {
        if (!drawn && capture.dbm() > NOTHING && capture.iq().length() >= LEAST) {
            double[][] rows = AdjacentChannels.drawn(capture.iq(), spacing, LOOK_COLUMNS);
            bench.progress(
                    Map.of("arriving", new Quantity(capture.dbm(), Unit.DBM)),
                    List.of(trace("Carrier", Unit.HERTZ, Unit.DECIBEL, rows[0], rows[1])));
        }
    }

    /** Shows what is measured at this moment, with something to be drawn of it. */
    void show(Map<String, Quantity> values, List<Trace> picture) {
        drawn |= !picture.isEmpty();
        bench.progress(values, picture);
    }

    /** Shows what is measured at this moment. */
    void show(Map<String, Quantity> values) {
        bench.progress(values);
    }

    /**
     * Sets the generator to a level at the radio, or to the greatest it gives.
     *
     * @return level at the radio that was set, dBm
     */
    double generate(double hertz, double dbm, RadioTester.Modulation modulation, double deviation, double tone) {
        double set = Math.min(dbm + loss(hertz), tester.greatestLevel());
        tester.generate(new RadioTester.Signal(hertz, set, modulation, deviation, tone));
        return set - loss(hertz);
    }

    /** Likewise of the level alone. */
    double level(double dbm) {
        double set = Math.min(dbm + loss(frequency), tester.greatestLevel());
        tester.level(set);
        return set - loss(frequency);
    }

    /** Highest level the generator gives at the radio, dBm. */
    double greatestLevel() {
        return tester.greatestLevel() - loss(frequency);
    }

    boolean asks(String point) {
        return bench.step().point(point).isPresent();
    }

    /**
     * Keeps a reading of a point, if the step has it.
     *
     * @param value in {@code unit}, that of the data sheet; NaN for none
     * @param accuracy quantity of the gear's data sheet
     */
    void reading(String point, double value, Unit unit, String accuracy) {
        keep(point, value, unit, r -> r.accuracy(accuracy));
    }

    /** Keeps a reading of a point, if the step has it, with more to be said of it. */
    void keep(String point, double value, Unit unit, Consumer<ReadingBuilder> more) {
        if (asks(point)) {
            ReadingBuilder reading =
                    bench.value(point, value, unit).with("frequency", new Quantity(frequency / 1e6, Unit.MEGAHERTZ));
            more.accept(reading);
            bench.keep(reading);
        }
    }

    /**
     * The loss of the lead as a correction: where none is known, it counts as 0 dB and U is unknown.
     *
     * @param sign 1 where it is added to what arrives at the test set, -1 where it is taken off what leaves it
     */
    void lossCorrected(ReadingBuilder reading, double hertz, int sign) {
        RfPath path = path();
        double loss = loss(hertz);
        reading.corrected(
                        "path loss",
                        new Correction(Correction.Kind.DECIBEL, sign * loss),
                        path == null || !path.loss().covers(hertz) ? null : path.u(),
                        String.format(Locale.ROOT, "path loss %.2f dB at %s MHz", loss, RadioMethod.plain(hertz / 1e6)))
                .with("path loss", decibels(loss))
                .remark(lossRemark(hertz));
    }

    /**
     * Keeps a level that was set at the generator, as it is at the radio.
     *
     * @param dbm at the radio
     * @param step of the search that found it, dB
     */
    void levelReading(String point, double dbm, Qualifier qualifier, double step, Consumer<ReadingBuilder> more) {
        keep(point, dbm + loss(frequency), Unit.DBM, r -> {
            r.accuracy("level").within(step).qualifier(qualifier);
            lossCorrected(r, frequency, -1);
            more.accept(r);
        });
    }

    static Quantity decibels(double value) {
        return new Quantity(value, Unit.DECIBEL);
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
}
