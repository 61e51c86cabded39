package org.juratest.core.family.meters;

import java.util.List;
import java.util.Map;
import java.util.Set;
import org.juratest.core.method.Announced;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.ReadingOrigin;
import org.juratest.core.run.RunState;

/** The registers of a meter over its own port, as they stand before and after a test (IEC 62056-21; IEC 62056-61). */
final class MeterReading implements Method {

    /** Codes of what is read: active energy taken, delivered, and the greatest demand. */
    private static final Map<String, String> CODES = Map.of("taken", "1.8.0", "delivered", "2.8.0", "demand", "1.6.0");

    private static final MethodSpec SPEC = MethodSpec.named("meter.read")
            .ports("meter-port")
            .point("taken", Unit.KILOWATT_HOUR)
            .point("delivered", Unit.KILOWATT_HOUR)
            .point("demand", Unit.KILOWATT)
            .build();

    @Override
    public MethodSpec spec() {
        return SPEC;
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        return new Announced(
                "The registers of the meter of " + where + " are read",
                Map.of(),
                List.of(),
                Set.of(MeterPort.class),
                30);
    }

    @Override
    public Result run(MethodBench bench) {
        MeterPort.Readout readout = bench.port(MeterPort.class).readout();
        for (String point : List.of("taken", "delivered", "demand")) {
            if (bench.step().point(point).isPresent()) {
                MeterPort.Register register = readout.registers().get(CODES.get(point));
                Unit own = point.equals("demand") ? Unit.KILOWATT : Unit.KILOWATT_HOUR;
                if (register == null) {
                    bench.notMeasurable(point, "the meter has no register " + CODES.get(point));
                } else if (!register.unit().equals(own.symbol())) {
                    bench.notMeasurable(point, "the meter gives " + CODES.get(point) + " in " + register.unit());
                } else {
                    bench.keep(bench.value(point, register.value(), own).within(register.digit()));
                }
            }
        }
        return MeterOutputs.done("read from " + readout.identification());
    }

    @Override
    public ReadingBuilder retold(
            ReadingOrigin origin, String point, double value, Unit unit, Map<String, Double> facts) {
        return origin.value(point, value, unit).within(facts.getOrDefault("digit", 0.01));
    }
}
