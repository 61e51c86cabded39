package org.juratest.core.family.breakers;

import java.util.ArrayList;
import java.util.List;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodFamily;
import org.juratest.core.record.Chart;
import org.juratest.core.record.Charts;
import org.juratest.core.run.RunJudgement;
import org.juratest.core.run.RunState;

/** The methods for breakers. */
public final class BreakerMethods implements MethodFamily {

    @Override
    public List<Method> methods() {
        List<Method> all = new ArrayList<>(List.of(
                new ContactResistance(),
                new LongTimeTrip(),
                new Pulses(),
                new PickUpRamp(),
                new Sequence(),
                new ByHand(),
                new Operate(OperationRecorder.Command.OPEN),
                new Operate(OperationRecorder.Command.CLOSE),
                new Operate(OperationRecorder.Command.CLOSE_OPEN),
                new ResidualTime(false),
                new ResidualTime(true),
                new RelayPickUp(),
                new RelayTime(),
                new RelayCharacteristic(true),
                new RelayCharacteristic(false)));
        all.addAll(RelaySettings.methods());
        return all;
    }

    /** Times to trip over the time-current curve. */
    @Override
    public List<Chart> charts(RunState run, RunJudgement judgement) {
        return Charts.alongCurve(
                run,
                judgement,
                "tripTimes",
                new Chart.Axis("current, rms", "A", true),
                new Chart.Axis("time to trip", "s", true));
    }
}
