package org.juratest.core.family.lamps;

import java.time.Duration;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.juratest.core.limit.Envelope;
import org.juratest.core.method.Announced;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.method.MethodFamily;
import org.juratest.core.port.DeviceLink;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.record.Chart;
import org.juratest.core.record.Charts;
import org.juratest.core.run.Announcement.Bound;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.RunJudgement;
import org.juratest.core.run.RunState;
import org.juratest.core.search.SettingSearch;

/** The methods for signal lamps. */
public final class LampMethods implements MethodFamily {

    private static final Duration SETTLING = Duration.ofMillis(30);

    @Override
    public List<Method> methods() {
        return List.of(new Dark(), new Brightness(), new Adjust());
    }

    /** How bright the lamps of each colour are beside each other. */
    @Override
    public List<Chart> charts(RunState run, RunJudgement judgement) {
        List<Chart> charts = new ArrayList<>();
        for (Step step : run.stepsInScope()) {
            if ("lamps.brightness".equals(step.method())) {
                for (String colour : List.of("red", "green")) {
                    chart(run, judgement, step, colour).ifPresent(charts::add);
                }
            }
        }
        return charts;
    }

    private static Optional<Chart> chart(RunState run, RunJudgement judgement, Step step, String colour) {
        List<Envelope.Place> least = new ArrayList<>();
        List<Chart.Spot> spots = Charts.spots(run, step, judgement, r -> {
            if (!colour.equals(run.procedure().laneIn(step, r.attempt().lane(), "colour"))
                    || !r.reading().key().point().equals("illuminance")) {
                return null;
            }
            double lamp = Double.parseDouble(
                    String.valueOf(run.procedure().laneIn(step, r.attempt().lane(), "lamp")));
            if (r.limit() != null && least.stream().noneMatch(p -> p.at() == lamp)) {
                least.add(new Envelope.Place(lamp, r.limit().low(), r.limit().high()));
            }
            return lamp;
        });
        least.sort(Comparator.comparing(Envelope.Place::at));
        return spots.isEmpty()
                ? Optional.empty()
                : Optional.of(new Chart(
                        step.id() + "/" + colour,
                        "lampRow",
                        step.title() + ", " + colour,
                        "",
                        "lamp",
                        null,
                        new Chart.Axis("lamp", "", false),
                        new Chart.Axis("illuminance", "lx", false),
                        least,
                        spots));
    }

    private static Method.Result valid(String words) {
        return new Method.Result(Attempt.Outcome.VALID, OutputEvents.OffReason.DONE, words);
    }

    /** What shines where the lamp is off: a reference. */
    private static final class Dark implements Method {

        @Override
        public MethodSpec spec() {
            return MethodSpec.named("lamps.dark")
                    .ports("lamp-tester")
                    .point("level", Unit.LUX)
                    .build();
        }

        @Override
        public Announced announce(RunState state, Step step, String lane, String where) {
            return new Announced("Listens to the daylight at " + where, Map.of(), List.of(), Set.of(), 5);
        }

        @Override
        public Result run(MethodBench bench) {
            double lux = bench.port(LampTester.class).illuminance();
            bench.keep(bench.value("level", lux, Unit.LUX).accuracy("illuminance"));
            return valid("measured");
        }
    }

    /** Lights a lamp: what reaches the tester, and what its glass looks like. */
    private static class Brightness implements Method {

        @Override
        public MethodSpec spec() {
            return builder("lamps.brightness")
                    .feature("spot", Unit.MILLIMETRE, Map.of("size", Unit.MILLIMETRE))
                    .captures("Front")
                    .build();
        }

        static MethodSpec.Builder builder(String name) {
            return MethodSpec.named(name)
                    .hazard(MethodSpec.Hazard.LIGHT)
                    .ports("lamp-tester")
                    .param("voltage", Unit.VOLT, 1, 60, 12)
                    .maximum("voltage", Unit.VOLT, 60)
                    .point("illuminance", Unit.LUX);
        }

        @Override
        public Announced announce(RunState state, Step step, String lane, String where) {
            double volts = Method.base(step.params(), "voltage");
            double most = Method.base(step.maxima(), "voltage");
            Method.within("voltage", volts, most);
            return new Announced(
                    String.format(Locale.ROOT, "Lights %s with %.4g V", where, volts),
                    Map.of("lamp voltage", new Quantity(volts, Unit.VOLT)),
                    List.of(
                            Bound.upTo("lamp voltage", volts, "V", "announced"),
                            Bound.upTo("lamp voltage", most, "V", "the procedure's greatest voltage")),
                    Set.of(LampTester.class),
                    30);
        }

        @Override
        public Result run(MethodBench bench) {
            LampTester tester = bench.port(LampTester.class);
            tester.prepare(bench.param("voltage"));
            bench.stop().switchOn(tester::outputOn);
            bench.stop().pause(SETTLING);
            double amperes = tester.current();
            if (!(amperes > 0.01)) {
                // A filament that is gone draws nothing either.
                bench.noValue("illuminance", "it draws no current");
                return new Result(
                        Attempt.Outcome.UNCLEAR,
                        OutputEvents.OffReason.DONE,
                        "the lamp draws no current. Is its plug in?");
            }
            bench.connectionChecked(true, "the lamp draws current", Map.of("current", Quantity.amperes(amperes)));
            double lux = tester.illuminance();
            bench.progress(Map.of("illuminance", new Quantity(lux, Unit.LUX)));
            bench.keep(bench.value("illuminance", lux, Unit.LUX)
                    .accuracy("illuminance")
                    .with("current", Quantity.amperes(amperes)));
            glass(bench, tester.look());
            return valid("measured");
        }

        private static void glass(MethodBench bench, LampTester.Seen seen) {
            if (bench.step().discovers().isEmpty()) {
                return;
            }
            Map<String, String> facts = new LinkedHashMap<>();
            facts.put("width", String.valueOf(seen.width()));
            facts.put("height", String.valueOf(seen.grey().length / seen.width()));
            for (Glass.Spot spot : Glass.spots(seen)) {
                Map<String, String> row = bench.found("spot", new Quantity(spot.angle(), Unit.MILLIMETRE), null);
                String size = row.get("size");
                bench.keep(bench.value(size, spot.size(), Unit.MILLIMETRE).within(seen.millimetres()));
                facts.put(size.replaceFirst("^.*#", "#"), String.format(Locale.ROOT, "%.4f %.4f", spot.x(), spot.y()));
            }
            bench.capture(AttemptEvents.CaptureKind.PICTURE, "Front", Glass.png(seen), "image/png", facts);
        }
    }

    /** Brings a lamp's brightness to its aim by its setting. */
    private static final class Adjust extends Brightness {

        @Override
        public MethodSpec spec() {
            return builder("lamps.adjust")
                    .ports("lamp-link")
                    .param("aim", Unit.LUX, 0.01, 1000)
                    .param("within", Unit.LUX, 0.001, 100)
                    .build();
        }

        @Override
        public Result run(MethodBench bench) {
            LampTester tester = bench.port(LampTester.class);
            LampLink link = bench.port(LampLink.class);
            if (!bench.state().isOf(link.device().serial())) {
                return new Result(
                        Attempt.Outcome.CONNECTION_FAILED,
                        OutputEvents.OffReason.DONE,
                        "another lamp answers: number " + link.device().serial());
            }
            String name = "brightness." + bench.lane();
            DeviceLink.Setting found = link.setting(name);
            tester.prepare(bench.param("voltage"));
            bench.stop().switchOn(tester::outputOn);
            SettingSearch search = new SettingSearch(new SettingSearch.Plan(
                    found.value(), found.lowest(), found.highest(), 8, bench.param("aim"), bench.param("within"), 20));
            while (!search.isOver()) {
                link.set(name, search.setting());
                bench.stop().pause(SETTLING);
                double lux = tester.illuminance();
                bench.progress(Map.of("illuminance", new Quantity(lux, Unit.LUX)));
                search.measured(lux);
            }
            boolean reached = search.failed() == null;
            int left = reached ? search.setting() : found.value();
            link.set(name, left);
            bench.stop().pause(SETTLING);
            if (left != found.value()) {
                bench.adjusted(
                        touched(bench),
                        "Brightness set over the data port",
                        List.of(new AttemptEvents.SettingChange(name, name, found.value(), left)));
            }
            bench.keep(
                    bench.value("illuminance", tester.illuminance(), Unit.LUX).accuracy("illuminance"));
            return valid(reached ? "setting " + left : String.valueOf(search.failed()));
        }

        private static List<PointKey> touched(MethodBench bench) {
            List<PointKey> points = new ArrayList<>();
            for (String step : bench.step().alters()) {
                bench.state().procedure().step(step).ifPresent(s -> s.points()
                        .forEach(p -> points.add(new PointKey(step, p.id(), bench.lane()))));
            }
            return points;
        }
    }
}
