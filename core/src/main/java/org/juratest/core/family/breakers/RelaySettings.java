package org.juratest.core.family.breakers;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.juratest.core.method.Announced;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.port.DeviceLink;
import org.juratest.core.port.GearException;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Step;
import org.juratest.core.procedure.TestPoint;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.RunState;

/**
 * The settings of a relay over its communication port: read, and where a step says what they are to be, written and
 * read back. Nothing can hurt: a relay under test is out of its trip circuit. Its settings are thousandths of the base
 * unit.
 */
final class RelaySettings implements Method {

    /** Settings by what a nameplate calls them. */
    private static final Map<String, Unit> SETTINGS = new LinkedHashMap<>();

    static {
        SETTINGS.put("pickUpSetting", Unit.AMPERE);
        SETTINGS.put("timeMultiplier", Unit.ONE);
        SETTINGS.put("characteristicAngle", Unit.ONE);
        SETTINGS.put("differentialSetting", Unit.AMPERE);
        SETTINGS.put("differentialSlope", Unit.PERCENT);
    }

    private static final double THOUSANDTHS = 1000;

    private final boolean writes;
    private final MethodSpec spec;

    private RelaySettings(boolean writes) {
        this.writes = writes;
        MethodSpec.Builder made =
                MethodSpec.named(writes ? "relay.write" : "relay.settings").ports("relay-data-port");
        SETTINGS.forEach((name, unit) -> {
            made.point(name, unit);
            if (writes) {
                // A setting that the step does not state is left alone.
                made.param(name, unit, -100_000, 100_000, 0);
            }
        });
        spec = made.build();
    }

    static List<Method> methods() {
        return List.of(new RelaySettings(false), new RelaySettings(true));
    }

    @Override
    public MethodSpec spec() {
        return spec;
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        return new Announced(
                writes ? "Settings of record into " + where + ", each read back" : "Settings of " + where + " are read",
                Map.of(),
                List.of(),
                Set.of(DeviceLink.class),
                30);
    }

    @Override
    public Result run(MethodBench bench) {
        DeviceLink relay = bench.port(DeviceLink.class);
        List<AttemptEvents.SettingChange> changed = new ArrayList<>();
        List<String> refused = new ArrayList<>();
        for (TestPoint point : bench.step().points()) {
            Unit unit = SETTINGS.get(point.id());
            if (unit == null) {
                continue;
            }
            bench.stop().check();
            DeviceLink.Setting found = relay.setting(point.id());
            int now = found.value();
            if (writes && bench.step().params().containsKey(point.id())) {
                int wanted = (int) Math.round(THOUSANDTHS * bench.param(point.id()));
                if (wanted < found.lowest() || wanted > found.highest()) {
                    refused.add(point.label() + " takes " + found.lowest() / THOUSANDTHS + " to "
                            + found.highest() / THOUSANDTHS);
                } else if (wanted != now) {
                    now = written(relay, point.id(), wanted);
                    changed.add(new AttemptEvents.SettingChange(
                            point.id(), point.label() + ", thousandths", found.value(), now));
                }
            }
            bench.keep(bench.value(point.id(), now / THOUSANDTHS / unit.factor(), unit)
                    .typeB(0, 1));
        }
        if (!changed.isEmpty()) {
            bench.adjusted(touched(bench), "Settings of record written over the communication port", changed);
        }
        return new Result(
                Attempt.Outcome.VALID,
                OutputEvents.OffReason.DONE,
                !refused.isEmpty()
                        ? "not written: " + String.join("; ", refused)
                        : !writes
                                ? "read"
                                : changed.isEmpty() ? "as of record; nothing was written" : "written and read back");
    }

    private static int written(DeviceLink relay, String name, int wanted) {
        relay.set(name, wanted);
        int back = relay.setting(name).value();
        if (back != wanted) {
            throw new GearException(
                    GearException.Fault.REFUSED, name + " reads back as " + back + " after " + wanted + " was written");
        }
        return back;
    }

    /** What is as left from now on. */
    private static List<PointKey> touched(MethodBench bench) {
        List<PointKey> points = new ArrayList<>();
        for (String id : bench.step().alters()) {
            bench.state()
                    .procedure()
                    .step(id)
                    .filter(s -> bench.state().scope().step(s.id()))
                    .ifPresent(s -> bench.state()
                            .procedure()
                            .lanesOf(s, bench.state().scope())
                            .forEach(lane -> s.points().forEach(p -> points.add(new PointKey(s.id(), p.id(), lane)))));
        }
        return points;
    }
}
