package org.juratest.core.family.radios;

import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyBoolean;
import static org.mockito.ArgumentMatchers.anyDouble;
import static org.mockito.ArgumentMatchers.anyInt;
import static org.mockito.ArgumentMatchers.anyString;
import static org.mockito.Mockito.doAnswer;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.juratest.core.bench.Announcements;
import org.juratest.core.bench.Gate;
import org.juratest.core.bench.Sequence;
import org.juratest.core.correction.PathLoss;
import org.juratest.core.correction.RfPath;
import org.juratest.core.limit.Scale;
import org.juratest.core.method.Announced;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.method.Methods;
import org.juratest.core.method.StopSignal;
import org.juratest.core.port.DeviceLink;
import org.juratest.core.port.GearException;
import org.juratest.core.port.Port;
import org.juratest.core.procedure.GearNeed;
import org.juratest.core.procedure.Param;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.procedure.Step;
import org.juratest.core.procedure.StepKind;
import org.juratest.core.procedure.TestPoint;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.ReadBack;
import org.juratest.core.run.Reading;
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunFixture;
import org.juratest.core.run.RunState;
import org.juratest.core.signal.Iq;
import org.juratest.core.signal.RfLevel;
import org.juratest.core.signal.ShiftRegister;
import org.juratest.core.trace.Trace;
import org.juratest.core.uncertainty.AccuracySpec;

/**
 * A radio and a test set in closed form, and the bench between them: what is measured on it is known beforehand. Narrow
 * channel at 155 MHz, rated 5 W, 10 mV at the microphone for 1.5 kHz of deviation, and a lead that takes off 30 dB at
 * 100 MHz and 31 dB at 200 MHz.
 */
final class ClosedForm implements MethodBench {

    static final double CHANNEL = 155e6;
    private static final double RATE = 96_000;

    final RadioTester tester = mock(RadioTester.class);
    final RadioControl radio = mock(RadioControl.class);
    final SignalGenerator second = mock(SignalGenerator.class);
    final StopSignal stop = new StopSignal();
    final Map<String, Reading> readings = new LinkedHashMap<>();
    final Map<String, String> blanks = new LinkedHashMap<>();
    boolean provedBefore;
    final List<String> checks = new ArrayList<>();
    final List<AttemptEvents.SettingChange> changes = new ArrayList<>();
    final List<Trace> traces = new ArrayList<>();
    /** Names of what was drawn as it came; "late" where a reading was there before. */
    final List<String> drawn = new ArrayList<>();

    final Map<String, Integer> settings = new TreeMap<>(Map.of(
            "reference",
            128,
            "power.A.low",
            120,
            "power.A.mid",
            120,
            "power.A.high",
            120,
            "deviation.A",
            128,
            "balance.A",
            128,
            "frontEnd.A",
            100));
    private final Random random = new Random(7);
    private final Map<String, Param> params = new HashMap<>(Map.of(
            "frequency",
            Param.of(155, "MHz"),
            "spacing",
            Param.of(12.5, "kHz"),
            "ratedPower",
            Param.of(5, "W"),
            "microphone",
            Param.of(10, "mV"),
            "lowEnd",
            Param.of(136, "MHz"),
            "highEnd",
            Param.of(174, "MHz")));
    private final Step step;
    private final RunFixture told;
    private @Nullable Gate gate;

    // What the radio is like.
    double ppm = 1;
    double ppmPerSetting = 0.05;
    double watts = 5;
    double secondHarmonic;
    double hum;
    double deviation = 1500;
    double greatest = 2400;
    double battery = 1;
    boolean speaks = true;
    String serial = "1";
    /** Level at which its receiver gives 12 dB SINAD, dBm. */
    double sensitivity = -121;

    boolean hears = true;
    double bitFloor;
    /** Level of the second signal above the wanted one at which SINAD is 12 dB again, dB. */
    double selectivity = 65;

    // What it is told.
    boolean keyed;
    private double channel;
    private boolean high = true;
    private double tone = 1000;
    private double volts;
    private double fullScale;
    private RadioTester.Signal signal = new RadioTester.Signal(CHANNEL, -140, RadioTester.Modulation.NONE, 0, 0);
    double loudest = -200;
    private double beside = -200;
    boolean opened;
    double idle = 0.05;

    ClosedForm(String method, List<String> points, Map<String, Param> more) {
        params.putAll(more);
        List<TestPoint> asked = points.stream()
                .map(p -> p.split("="))
                .map(p -> new TestPoint(p[0], p[0], p[1], Scale.LINEAR, null, false, null, null, null, Map.of()))
                .toList();
        step = Step.builder("radio", StepKind.MEASUREMENT, "Radio")
                .method(method)
                .lanes("poles")
                .params(params)
                .maxima(Map.of("ratedPower", Param.of(6.5, "W")))
                .gear("tester")
                .hazard(true)
                .required(false)
                .points(asked)
                .more(new Step.Relations(List.of("data"), false, true, null, List.of("contact"), null, null, null))
                .build();
        told = new RunFixture(p -> with(p, step));
        path(new RfPath(
                new PathLoss(List.of(new PathLoss.LossPoint(100, 30), new PathLoss.LossPoint(200, 31))), 50, 0.1));
        ports();
    }

    private static Procedure with(Procedure p, Step step) {
        List<Step> steps = new ArrayList<>(p.steps());
        steps.add(step);
        List<GearNeed> gear = new ArrayList<>(p.gear());
        gear.add(new GearNeed("tester", "radio-test-set", "RF"));
        return new Procedure(
                p.format(),
                p.code(),
                p.version(),
                p.title(),
                p.family(),
                p.appliesTo(),
                p.rule(),
                gear,
                p.laneSets(),
                steps);
    }

    void path(@Nullable RfPath path) {
        told.add(new RunEvents.GearChosen(
                new GearFacts("lead", "path", "rf-path", "Lead", "M", "X", "S-9", null, null, null, Map.of(), path)));
    }

    private void ports() {
        when(tester.greatestInput()).thenReturn(30.0);
        when(tester.greatestLevel()).thenReturn(0.0);
        when(tester.supplyCurrent()).thenAnswer(c -> keyed ? 1.7 : opened ? 0.24 : idle);
        doAnswer(c -> {
                    fullScale = c.getArgument(1);
                    return null;
                })
                .when(tester)
                .tune(anyDouble(), anyDouble());
        doAnswer(c -> {
                    tone = c.getArgument(0);
                    volts = c.getArgument(1);
                    return null;
                })
                .when(tester)
                .speak(anyDouble(), anyDouble());
        doAnswer(c -> {
                    signal = c.getArgument(0);
                    loudest = Math.max(loudest, signal.dbm() - loss(signal.hertz()));
                    return null;
                })
                .when(tester)
                .generate(any());
        doAnswer(c -> {
                    signal = new RadioTester.Signal(
                            signal.hertz(), c.getArgument(0), signal.modulation(), signal.deviation(), signal.tone());
                    loudest = Math.max(loudest, signal.dbm() - loss(signal.hertz()));
                    return null;
                })
                .when(tester)
                .level(anyDouble());
        when(tester.capture(anyDouble()))
                .thenAnswer(c -> new RadioTester.Capture(transmitted(c.getArgument(0)), fullScale));
        when(tester.hear(anyDouble())).thenAnswer(c -> new RadioTester.Sound(heard(c.getArgument(0)), 48_000));
        when(radio.device())
                .thenAnswer(c -> new RunEvents.DeviceIdentity("Orvex", "M160", serial, "R1", null, List.of()));
        when(radio.battery()).thenAnswer(c -> battery);
        doAnswer(c -> {
                    channel = c.getArgument(0);
                    return null;
                })
                .when(radio)
                .channel(anyDouble(), any(), anyDouble());
        doAnswer(c -> {
                    high = c.getArgument(0);
                    return null;
                })
                .when(radio)
                .highPower(anyBoolean());
        doAnswer(c -> {
                    keyed = true;
                    return null;
                })
                .when(radio)
                .outputOn();
        when(radio.makeSafe()).thenAnswer(c -> {
            keyed = false;
            return new ReadBack(true, true, "not keyed");
        });
        doAnswer(c -> {
                    opened = c.getArgument(0);
                    return null;
                })
                .when(radio)
                .holdSquelchOpen(anyBoolean());
        when(radio.squelchIsOpen()).thenAnswer(c -> {
            double level = arriving();
            opened = opened ? level > -123 : level >= -120;
            return opened;
        });
        when(radio.received(anyInt())).thenAnswer(c -> bits(c.getArgument(0)));
        when(radio.setting(anyString()))
                .thenAnswer(c -> new DeviceLink.Setting(settings.get(c.<String>getArgument(0)), 0, 255));
        doAnswer(c -> {
                    int value = c.getArgument(1);
                    if (value < 0 || value > 255) {
                        throw new GearException(GearException.Fault.REFUSED, "no such value");
                    }
                    settings.put(c.getArgument(0), value);
                    return null;
                })
                .when(radio)
                .set(anyString(), anyInt());
        when(second.greatestLevel()).thenReturn(0.0);
        doAnswer(c -> {
                    beside = c.<Double>getArgument(1) - loss(c.getArgument(0));
                    return null;
                })
                .when(second)
                .generate(anyDouble(), anyDouble(), anyDouble(), anyDouble());
    }

    /** Loss of the lead as it truly is, dB: linear over the root of frequency. */
    static double loss(double hertz) {
        double f = Math.max(100, Math.min(200, hertz / 1e6));
        return 30 + (Math.sqrt(f) - Math.sqrt(100)) / (Math.sqrt(200) - Math.sqrt(100));
    }

    private double arriving() {
        return signal.dbm() - loss(signal.hertz());
    }

    /** Power with the setting of a place: its root goes with the setting. */
    private double power() {
        String place = channel < 140e6 ? "low" : channel > 170e6 ? "high" : "mid";
        double root = settings.get("power.A." + place) / 120.0;
        return (high ? 1 : 0.1) * watts * root * root;
    }

    private Iq transmitted(double seconds) {
        int count = (int) (seconds * RATE);
        double amplitude =
                Math.sqrt(Math.pow(10, (RfLevel.dbm(keyed ? power() : 1e-15) - loss(channel) - fullScale) / 10));
        double offset = (ppm + ppmPerSetting * (settings.get("reference") - 128)) * 1e-6 * channel;
        double balance =
                Math.pow(10, (settings.get("balance.A") - 128) * 0.02 * Math.log(tone / 1000) / Math.log(3) / 20);
        double wanted = speaks ? deviation * volts / 0.01 * settings.get("deviation.A") / 128 * balance : 0;
        double peak = Math.min(greatest, wanted);
        double[] i = new double[count];
        double[] q = new double[count];
        for (int n = 0; n < count; n++) {
            double t = n / RATE;
            double phase = 2 * Math.PI * offset * t
                    + peak / tone * Math.sin(2 * Math.PI * tone * t)
                    + secondHarmonic * peak / (2 * tone) * Math.sin(4 * Math.PI * tone * t)
                    + hum / 700 * Math.sin(2 * Math.PI * 700 * t);
            i[n] = amplitude * Math.cos(phase);
            q[n] = amplitude * Math.sin(phase);
        }
        return new Iq(i, q, RATE);
    }

    /** 0.5 V of tone, and noise in 300 to 3400 Hz that makes SINAD go with the level, dB for dB. */
    private double[] heard(double seconds) {
        double[] out = new double[(int) (seconds * 48_000)];
        if (!hears) {
            return out;
        }
        double best = 12 - 0.002 * Math.pow(settings.get("frontEnd.A") - 140, 2);
        double over = Math.min(arriving() - sensitivity, arriving() + selectivity - beside) + best;
        double noise = 0.5
                / Math.sqrt(
                        Math.pow(10, Math.min(40, over) / 10) - 1 > 0.05
                                ? Math.pow(10, Math.min(40, over) / 10) - 1
                                : 0.05)
                * Math.sqrt(24_000 / 3100.0);
        for (int n = 0; n < out.length; n++) {
            out[n] = 0.5 * Math.sqrt(2) * Math.sin(2 * Math.PI * 1000 * n / 48_000) + noise * random.nextGaussian();
        }
        return out;
    }

    private boolean[] bits(int count) {
        double ratio = hears
                ? bitFloor + Math.max(0, Math.min(0.5, 0.05 * Math.pow(10, (sensitivity + 3 - arriving()) / 3)))
                : 0.5;
        boolean[] sent = ShiftRegister.bits(count + 40);
        boolean[] bits = new boolean[count];
        for (int n = 0; n < count; n++) {
            bits[n] = sent[n + 40] ^ random.nextDouble() < ratio;
        }
        return bits;
    }

    /**
     * Measures behind the gate of what the method itself announces: whatever else it does, it asks for nothing more.
     */
    Method.Result run() {
        Method method = Methods.byName(String.valueOf(step.method())).orElseThrow();
        behind(method.announce(state(), step.at("A"), "A", "here"));
        return method.run(this);
    }

    /** From now on its ports let nothing through but what is announced. */
    void behind(Announced announced) {
        gate = new Gate(
                Announcements.of(
                        new Sequence.Place(step.id(), "A"),
                        String.valueOf(step.method()),
                        true,
                        announced,
                        List.of(),
                        state()),
                stop,
                () -> {});
    }

    double value(String point) {
        Reading reading = readings.get(point);
        if (reading == null) {
            throw new AssertionError("no " + point + " in " + readings.keySet());
        }
        return reading.value();
    }

    @Override
    public RunState state() {
        return told.state();
    }

    @Override
    public Step step() {
        return step;
    }

    @Override
    public String lane() {
        return "A";
    }

    @Override
    public GearFacts gear() {
        AccuracySpec spec = new AccuracySpec(1, 0, 0, AccuracySpec.Stated.EXPANDED_K2);
        return new GearFacts(
                "tester-1",
                "tester",
                "radio-test-set",
                "Test set",
                "M",
                "X",
                "S",
                null,
                null,
                null,
                Map.of("power", spec, "level", new AccuracySpec(0, 0, 0.8, AccuracySpec.Stated.EXPANDED_K2)));
    }

    @Override
    public <T extends Port> T port(Class<T> role) {
        T port = List.of(tester, radio, second).stream()
                .filter(role::isInstance)
                .map(role::cast)
                .findFirst()
                .orElseThrow();
        return gate == null ? port : gate.limited(role, port);
    }

    @Override
    public StopSignal stop() {
        return stop;
    }

    @Override
    public void connectionChecked(boolean good, String words, Map<String, Quantity> with) {
        checks.add((good ? "good: " : "bad: ") + words);
    }

    @Override
    public ReadingBuilder value(String point, double value, Unit unit) {
        return new ReadingBuilder(state(), key(point), gear(), Reading.Source.MEASURED, value, unit);
    }

    @Override
    public void keep(ReadingBuilder made) {
        ReadingBuilder.Result result = made.result();
        if (result.reading() == null) {
            blanks.put(made.key().point(), String.valueOf(result.words()));
        } else {
            readings.put(made.key().point(), result.reading());
        }
    }

    @Override
    public void noValue(String point, String words) {
        blanks.put(point, words);
    }

    @Override
    public void notMeasurable(String point, String words) {
        noValue(point, words);
    }

    @Override
    public boolean provedBefore() {
        return provedBefore;
    }

    @Override
    public Map<String, String> found(String feature, Quantity at, @Nullable String words) {
        throw new AssertionError("a radio has no features");
    }

    @Override
    public void capture(
            AttemptEvents.CaptureKind kind, String name, byte[] bytes, String mediaType, Map<String, String> facts) {
        throw new AssertionError("no picture is taken of a radio");
    }

    @Override
    public void discharged(Quantity residual) {
        throw new AssertionError("a radio stays not charged");
    }

    @Override
    public void trace(Trace trace, Map<String, String> facts) {
        traces.add(trace);
    }

    @Override
    public void sound(String name, double[] samples, double rate) {
        for (double sample : samples) {
            if (!(Math.abs(sample) <= 1)) {
                throw new AssertionError("a sample of " + sample + " is over full scale");
            }
        }
    }

    @Override
    public void adjusted(List<PointKey> points, String what, List<AttemptEvents.SettingChange> settingChanges) {
        if (points.isEmpty()) {
            throw new AssertionError("an adjustment of nothing");
        }
        changes.addAll(settingChanges);
    }

    @Override
    public void progress(Map<String, Quantity> values) {
        progress(values, List.of());
    }

    @Override
    public void progress(Map<String, Quantity> values, List<Trace> picture) {
        if (values.values().stream().anyMatch(v -> Double.isNaN(v.value()))) {
            throw new AssertionError("NaN is shown: " + values);
        }
        picture.forEach(t -> {
            for (double y : t.y()) {
                if (Double.isNaN(y)) {
                    throw new AssertionError("NaN is drawn: " + t.name());
                }
            }
            drawn.add(t.name() + (readings.isEmpty() ? "" : ", late"));
        });
    }
}
