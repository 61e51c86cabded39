package org.juratest.core.family.breakers;

import java.util.ArrayList;
import java.util.List;
import java.util.OptionalDouble;
import org.juratest.core.curve.TimeOverCurrent;
import org.juratest.core.signal.MeanSquare;
import org.juratest.core.signal.SignalException;

/**
 * The operations of a device that opens and closes again by itself, found from samples of its current (IEC 62271-111,
 * IEEE C37.60: what a sequence of operations is).
 *
 * @param all in order
 * @param lockout whether it stayed open after the last: for longer than it ever stayed open before it closed again
 * @param flowsAtEnd whether current still flows when the record ends
 * @param flowsAtStart whether it flowed already when the record began; the first operation then took longer
 */
public record Operations(List<Operation> all, boolean lockout, boolean flowsAtEnd, boolean flowsAtStart) {

    /** Of its longest time open, how long it has to stay open until nothing is to come. */
    private static final double STAYS = 1.2;
    /** The same after a first operation that nothing followed, s. */
    private static final double ALONE = 5;

    /**
     * One operation.
     *
     * @param start when current begins to flow, s
     * @param tripTime until it is interrupted, s
     * @param openTime until it flows again, s; absent after the last
     * @param rms true rms of the current from its beginning to its end, A
     */
    public record Operation(double start, double tripTime, OptionalDouble openTime, double rms) {
        public double end() {
            return start + tripTime;
        }
    }

    /**
     * Finds them.
     *
     * @param time s, ascending
     * @param value A
     * @param frequency of the line, Hz; 0 where it is to be found
     * @throws SignalException if the record is too short or too coarse
     */
    public static Operations of(double[] time, double[] value, double frequency) {
        CurrentRecord record = new CurrentRecord(time, value, frequency);
        List<CurrentRecord.Flow> flows = record.flows();
        MeanSquare square = record.square();
        List<Operation> all = new ArrayList<>();
        double longest = 0;
        for (int i = 0; i < flows.size(); i++) {
            CurrentRecord.Flow flow = flows.get(i);
            if (!flow.ended()) {
                continue;
            }
            OptionalDouble open = i + 1 < flows.size()
                    ? OptionalDouble.of(flows.get(i + 1).from() - flow.to())
                    : OptionalDouble.empty();
            longest = Math.max(longest, open.orElse(0));
            all.add(new Operation(flow.from(), flow.lasts(), open, square.rms(flow.from(), flow.to())));
        }
        boolean atEnd = !flows.isEmpty() && !flows.get(flows.size() - 1).ended();
        double quiet =
                all.isEmpty() ? 0 : square.last() - all.get(all.size() - 1).end();
        boolean lockout =
                !all.isEmpty() && !atEnd && quiet >= (all.size() == 1 ? ALONE : STAYS * longest + record.cycle());
        return new Operations(
                List.copyOf(all),
                lockout,
                atEnd,
                !flows.isEmpty() && !flows.get(0).begun());
    }

    /**
     * How far a curve was run through in an operation: the integral of dt/t(I), which is 1 where the device keeps the
     * curve whatever the current does meanwhile (IEEE C37.112-2018, 4.3). The current is that of the cycle before each
     * moment.
     *
     * @param curve times over currents, A and s; without a time the device does not move on
     * @return share of the curve
     */
    public static double runThrough(
            Operation operation, double[] time, double[] value, double cycle, TimeOverCurrent curve) {
        MeanSquare square = new MeanSquare(time, value);
        double share = 0;
        double step = cycle / 4;
        int steps = (int) Math.ceil(operation.tripTime / step);
        for (int k = 0; k < steps; k++) {
            double from = operation.start + k * step;
            double to = Math.min(from + step, operation.end());
            double middle = (from + to) / 2;
            // Within the first cycle there is no whole one yet: the first one stands for it.
            double back = Math.max(operation.start, middle - cycle);
            double rms = square.rms(back, Math.min(back + cycle, operation.end()));
            OptionalDouble takes = curve.at(rms);
            if (takes.isPresent()) {
                share += (to - from) / takes.getAsDouble();
            }
        }
        return share;
    }
}
