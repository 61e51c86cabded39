package org.juratest.core.family.fibre;

import static org.mockito.ArgumentMatchers.anyBoolean;
import static org.mockito.ArgumentMatchers.anyDouble;
import static org.mockito.Mockito.doAnswer;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.bench.Announcements;
import org.juratest.core.bench.Gate;
import org.juratest.core.bench.Sequence;
import org.juratest.core.limit.Scale;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.method.Methods;
import org.juratest.core.method.StopSignal;
import org.juratest.core.port.Port;
import org.juratest.core.procedure.FeatureSpec;
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
import org.juratest.core.run.Rows;
import org.juratest.core.run.RunFixture;
import org.juratest.core.run.RunState;
import org.juratest.core.trace.Trace;
import org.juratest.core.uncertainty.AccuracySpec;

/** A step of a fibre link with a reflectometer and a camera that show what was made by definition. */
final class FibreForm implements MethodBench {

    private static final UUID ATTEMPT = new UUID(7, 7);
    private static final String LANE = "A";

    final Reflectometer tester = mock(Reflectometer.class);
    final FaceCamera camera = mock(FaceCamera.class);
    final StopSignal stop = new StopSignal();
    final Map<String, Reading> readings = new LinkedHashMap<>();
    final Map<String, String> blanks = new LinkedHashMap<>();
    final List<String> checks = new ArrayList<>();
    final List<Trace> traces = new ArrayList<>();
    final Map<Double, String> rows = new TreeMap<>();
    final List<Boolean> far = new ArrayList<>();
    /** What it was told for each trace: wavelength in m, pulse in s, range in m, time in s. */
    final List<double[]> shots = new ArrayList<>();

    final List<Map<String, String>> pictures = new ArrayList<>();

    double light = -70;
    boolean on;
    int finished;
    MadeFace face = new MadeFace(640, 560, 0.5).blur(0.4).noise(0.008, 7);
    private final Step step;
    private final RunFixture told;
    private Made made = (pulse, range) -> {
        throw new AssertionError("no fibre");
    };

    /** A fibre as seen with a pulse in ns. */
    interface Made {
        MadeFibre fibre(double pulse, double range);
    }

    FibreForm(String method, Map<String, Param> params, String... points) {
        List<TestPoint> asked = new ArrayList<>();
        for (String p : points) {
            asked.add(point(p));
        }
        boolean traces = method.equals("fibre.trace");
        Map<String, Param> all = new HashMap<>(params);
        Methods.byName(method).orElseThrow().spec().params().forEach((name, p) -> {
            if (p.byDefault() != null) {
                all.putIfAbsent(name, Param.of(p.byDefault(), p.unit().code()));
            }
        });
        Step.Builder builder = Step.builder("fibre", StepKind.MEASUREMENT, "Fibre")
                .method(method)
                .lanes("poles")
                .params(all)
                .maxima(Map.of("averaging", Param.of(60, "s"), "pulse", Param.of(10_000, "ns")))
                .gear("tester")
                .hazard(true)
                .required(false)
                .points(asked);
        step = (traces
                        ? builder.features(List.of(
                                rows("splice", "spliceLoss=dB"),
                                rows("gainer", "gainerLoss=dB"),
                                rows("connector", "connectorLoss=dB", "connectorReflectance=dB"),
                                rows("end", "endReflectance=dB")))
                        : builder)
                .build();
        told = new RunFixture(p -> with(p, step));
        told.add(new AttemptEvents.AttemptBegun(ATTEMPT, step.id(), LANE, "tester-1", 1));
        ports();
    }

    private static TestPoint point(String text) {
        String[] p = text.split("=");
        return new TestPoint(p[0], p[0], p[1], Scale.LINEAR, null, false, null, null, null, Map.of());
    }

    private static FeatureSpec rows(String id, String... columns) {
        return new FeatureSpec(
                id,
                id,
                "m",
                15,
                20,
                Arrays.stream(columns).map(FibreForm::point).toList());
    }

    private static Procedure with(Procedure p, Step step) {
        List<Step> steps = new ArrayList<>(p.steps());
        steps.add(step);
        List<GearNeed> gear = new ArrayList<>(p.gear());
        gear.add(new GearNeed("tester", "reflectometer", "any"));
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

    FibreForm on(Made fibre) {
        made = fibre;
        return this;
    }

    private void ports() {
        when(tester.lead()).thenReturn(200.0);
        when(tester.besideTraffic()).thenReturn(List.of(1625 / 1e9));
        when(tester.frontLevel()).thenReturn(-30.2);
        when(tester.light()).thenAnswer(c -> {
            if (on) {
                throw new AssertionError("its own laser is on");
            }
            return light;
        });
        doAnswer(c -> {
                    if (on) {
                        throw new AssertionError("the laser is on");
                    }
                    shots.add(new double[] {c.getArgument(0), c.getArgument(1), c.getArgument(2), 0});
                    return null;
                })
                .when(tester)
                .prepare(anyDouble(), anyDouble(), anyDouble());
        doAnswer(c -> {
                    on = true;
                    return null;
                })
                .when(tester)
                .outputOn();
        when(tester.makeSafe()).thenAnswer(c -> {
            on = false;
            return new ReadBack(true, true, "off");
        });
        doAnswer(c -> {
                    if (!on) {
                        throw new AssertionError("the laser is off");
                    }
                    shots.get(shots.size() - 1)[3] = c.getArgument(0);
                    return null;
                })
                .when(tester)
                .begin(anyDouble());
        when(tester.isDone()).thenReturn(true);
        when(tester.trace()).thenAnswer(c -> {
            double[] shot = shots.get(shots.size() - 1);
            finished++;
            return made.fibre(Math.round(shot[1] * 1e9), shot[2])
                    .wavelength(Math.round(shot[0] * 1e9))
                    .range(shot[2])
                    .trace();
        });
        doAnswer(c -> {
                    far.add(c.getArgument(0));
                    return null;
                })
                .when(tester)
                .direction(anyBoolean());
        when(camera.isDone()).thenReturn(true);
        when(camera.seen()).thenAnswer(c -> new FaceCamera.Seen(new byte[] {1}, "image/png", face.picture(), 0.5));
    }

    /** Measures behind the gate of what the method itself announces. */
    Method.Result run() {
        Method method = Methods.byName(String.valueOf(step.method())).orElseThrow();
        gate = new Gate(
                Announcements.of(
                        new Sequence.Place(step.id(), LANE),
                        String.valueOf(step.method()),
                        true,
                        method.announce(state(), step.at(LANE), LANE, "here"),
                        List.of(),
                        state()),
                stop,
                () -> {});
        return method.run(this);
    }

    private @Nullable Gate gate;

    double value(String point) {
        Reading reading = readings.get(point);
        if (reading == null) {
            throw new AssertionError("no " + point + " in " + readings.keySet() + ", " + blanks);
        }
        return reading.value();
    }

    @Override
    public RunState state() {
        return told.state();
    }

    @Override
    public Step step() {
        return step.at(LANE);
    }

    @Override
    public String lane() {
        return LANE;
    }

    @Override
    public GearFacts gear() {
        AccuracySpec spec = new AccuracySpec(0, 0, 0.03, AccuracySpec.Stated.EXPANDED_K2);
        return new GearFacts(
                "tester-1",
                "tester",
                "reflectometer",
                "Reflectometer",
                "M",
                "X",
                "S",
                null,
                null,
                null,
                Map.of("loss", spec, "reflectance", spec, "position", spec, "power", spec));
    }

    @Override
    public <T extends Port> T port(Class<T> role) {
        Port port = role.isInstance(tester) ? tester : camera;
        return gate == null ? role.cast(port) : gate.limited(role, role.cast(port));
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
    public boolean provedBefore() {
        return false;
    }

    @Override
    public ReadingBuilder value(String point, double value, Unit unit) {
        return new ReadingBuilder(state(), key(point), gear(), Reading.Source.MEASURED, value, unit);
    }

    @Override
    public void keep(ReadingBuilder built) {
        ReadingBuilder.Result result = built.result();
        if (result.reading() == null) {
            blanks.put(built.key().point(), String.valueOf(result.words()));
        } else {
            readings.put(built.key().point(), result.reading());
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
    public Map<String, String> found(String feature, Quantity at, @Nullable String words) {
        AttemptEvents.FeatureFound row = Rows.found(state(), ATTEMPT, step(), LANE, feature, at, words);
        told.add(row);
        rows.put(at.value(), feature + " " + row.row() + (words == null ? "" : ", " + words));
        Map<String, String> columns = new TreeMap<>();
        Rows.feature(step(), feature).columns().forEach(c -> columns.put(c.id(), c.id() + Step.ROW + row.row()));
        return columns;
    }

    @Override
    public void trace(Trace trace, Map<String, String> facts) {
        traces.add(trace);
    }

    @Override
    public void sound(String name, double[] samples, double rate) {
        throw new AssertionError("a fibre makes no sound");
    }

    @Override
    public void capture(
            AttemptEvents.CaptureKind kind, String name, byte[] bytes, String mediaType, Map<String, String> facts) {
        pictures.add(facts);
    }

    @Override
    public void discharged(Quantity residual) {
        throw new AssertionError("a fibre stays not charged");
    }

    @Override
    public void adjusted(List<PointKey> points, String what, List<AttemptEvents.SettingChange> settings) {
        throw new AssertionError("nothing is adjusted on a fibre");
    }

    @Override
    public void progress(Map<String, Quantity> values) {
        progress(values, List.of());
    }

    @Override
    public void progress(Map<String, Quantity> values, List<Trace> picture) {
        // Shown, and not kept.
    }
}
