package org.juratest.core.bench;

import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.method.Results;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.Reading;
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.Rows;
import org.juratest.core.run.RunState;
import org.juratest.core.trace.Trace;

/** Writes the results of an attempt that has begun into the journal. */
public class ResultWriter implements Results {

    private final Journal journal;
    private final UUID attempt;
    private final @Nullable Step step;
    private final String lane;
    private final @Nullable GearFacts gear;
    private final Reading.Source source;

    /**
     * @param step absent for what is no attempt at points of a step
     * @param gear what it was measured with; absent where nobody knows
     */
    public ResultWriter(
            Journal journal,
            UUID attempt,
            @Nullable Step step,
            String lane,
            @Nullable GearFacts gear,
            Reading.Source source) {
        this.journal = journal;
        this.attempt = attempt;
        this.step = step;
        this.lane = lane;
        this.gear = gear;
        this.source = source;
    }

    @Override
    public Step step() {
        if (step == null) {
            throw new IllegalStateException("this is no step of a procedure");
        }
        return step;
    }

    @Override
    public String lane() {
        return lane;
    }

    @Override
    public RunState state() {
        return journal.state();
    }

    @Override
    public ReadingBuilder value(String point, double value, Unit unit) {
        return new ReadingBuilder(state(), key(point), gear, source, value, unit);
    }

    @Override
    public void keep(ReadingBuilder made) {
        ReadingBuilder.Result result = made.result();
        if (result.reading() != null) {
            journal.append(new AttemptEvents.ReadingTaken(attempt, result.reading()));
        } else {
            journal.append(new AttemptEvents.NoValue(
                    attempt,
                    made.key(),
                    Objects.requireNonNull(result.blank()),
                    Objects.requireNonNull(result.words())));
        }
    }

    @Override
    public void noValue(String point, String words) {
        journal.append(new AttemptEvents.NoValue(attempt, key(point), AttemptEvents.Blank.NOTHING_THERE, words));
    }

    @Override
    public void notMeasurable(String point, String words) {
        journal.append(new AttemptEvents.NoValue(attempt, key(point), AttemptEvents.Blank.NOT_MEASURABLE, words));
    }

    @Override
    public Map<String, String> found(String feature, Quantity at, @Nullable String words) {
        AttemptEvents.FeatureFound row = Rows.found(state(), attempt, step(), lane, feature, at, words);
        journal.append(row);
        Map<String, String> columns = new TreeMap<>();
        Rows.feature(step(), feature).columns().forEach(c -> columns.put(c.id(), c.id() + Step.ROW + row.row()));
        return columns;
    }

    @Override
    public void trace(Trace trace, Map<String, String> facts) {
        Map<String, String> all = new TreeMap<>(facts);
        all.put("xUnit", trace.xUnit().code());
        all.put("yUnit", trace.yUnit().code());
        all.put("points", Integer.toString(trace.x().length));
        journal.append(new AttemptEvents.Captured(
                attempt, AttemptEvents.CaptureKind.TRACE, trace.name(), journal.keep(trace), RunState.TRACE_TYPE, all));
    }

    @Override
    public void sound(String name, double[] samples, double rate) {
        journal.append(new AttemptEvents.Captured(
                attempt,
                AttemptEvents.CaptureKind.SOUND,
                name,
                journal.keep(samples, rate),
                "audio/wav",
                Map.of("seconds", Double.toString(samples.length / rate))));
    }

    @Override
    public void capture(
            AttemptEvents.CaptureKind kind, String name, byte[] bytes, String mediaType, Map<String, String> facts) {
        journal.append(
                new AttemptEvents.Captured(attempt, kind, name, journal.keep(bytes, mediaType), mediaType, facts));
    }
}
