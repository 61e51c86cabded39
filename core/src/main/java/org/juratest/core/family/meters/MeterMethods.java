package org.juratest.core.family.meters;

import java.util.ArrayList;
import java.util.List;
import java.util.TreeMap;
import org.juratest.core.limit.Envelope;
import org.juratest.core.limit.LimitSpec;
import org.juratest.core.limit.ResolvedLimit;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodFamily;
import org.juratest.core.procedure.Step;
import org.juratest.core.procedure.TestPoint;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.record.Chart;
import org.juratest.core.record.Charts;
import org.juratest.core.run.RunJudgement;
import org.juratest.core.run.RunState;
import org.juratest.core.standard.StandardTable;

/** The methods for energy meters and instrument transformers. */
public final class MeterMethods implements MethodFamily {

    static final String REFERENCE = "reference-standard";
    static final String SOURCE = "load-source";

    @Override
    public List<Method> methods() {
        List<Method> all = new ArrayList<>(List.of(
                new Wiring(),
                new MeterReading(),
                new TransformerInService(true),
                new TransformerInService(false),
                new SecondaryCurrent(true),
                new SecondaryCurrent(false),
                new BurdenOfLoad(),
                new VoltageInService(true),
                new VoltageInService(false),
                new RegisterInService(true),
                new RegisterInService(false),
                new WholeInstallation()));
        for (PulseCounter.Energy energy : PulseCounter.Energy.values()) {
            all.add(new ErrorInService(energy));
        }
        for (LoadPoint.What what : LoadPoint.What.values()) {
            all.add(new LoadPoint(what));
        }
        for (TransformerAlone.What what : TransformerAlone.What.values()) {
            all.add(new TransformerAlone(what));
        }
        return all;
    }

    @Override
    public List<StandardTable> tables() {
        return ClassTables.shipped();
    }

    @Override
    public void check(StandardTable table) {
        ClassTables.check(table);
    }

    /** Errors of a meter over the load with what its class allows, a chart for each step at several loads. */
    @Override
    public List<Chart> charts(RunState run, RunJudgement judgement) {
        List<Chart> charts = new ArrayList<>();
        run.stepsInScope().stream()
                .filter(s -> "meter.load".equals(s.method()) && s.lanes() != null)
                .forEach(s -> {
                    TreeMap<Double, Envelope.Place> allowed = new TreeMap<>();
                    List<Chart.Spot> spots = Charts.spots(run, s, judgement, r -> {
                        Quantity current = r.reading().with().get("current");
                        if (!r.reading().key().point().equals(Errors.ERROR) || current == null) {
                            return null;
                        }
                        ResolvedLimit limit = r.limit();
                        if (limit != null && limit.unresolved() == null) {
                            allowed.put(
                                    current.value(), new Envelope.Place(current.value(), limit.low(), limit.high()));
                        }
                        return current.value();
                    });
                    if (spots.stream().map(Chart.Spot::at).distinct().count() > 1) {
                        charts.add(new Chart(
                                s.id(),
                                "errorOverLoad",
                                s.title() + ": error over the load",
                                source(s),
                                run.procedure().laneWord(s),
                                null,
                                new Chart.Axis("current, rms", "A", true),
                                new Chart.Axis("error", "%", false),
                                allowed.size() > 1 ? List.copyOf(allowed.values()) : List.of(),
                                spots));
                    }
                });
        return charts;
    }

    private static String source(Step step) {
        return step.point(Errors.ERROR)
                .map(TestPoint::limit)
                .map(LimitSpec::source)
                .orElse("");
    }
}
