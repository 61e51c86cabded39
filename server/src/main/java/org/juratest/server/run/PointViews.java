package org.juratest.server.run;

import java.math.BigDecimal;
import java.math.RoundingMode;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.UUID;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Figures;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.limit.ResolvedLimit;
import org.juratest.core.limit.Scale;
import org.juratest.core.limit.StripAxis;
import org.juratest.core.limit.Verdict;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.TestPoint;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Consequences;
import org.juratest.core.run.PointJudgement;
import org.juratest.core.run.PriorReading;
import org.juratest.core.run.Reading;
import org.juratest.core.run.Rows;
import org.juratest.core.run.RunJudgement;
import org.juratest.core.run.RunState;
import org.juratest.core.signal.RfLevel;

/** Readings as they are shown: figure, span, strip and change since last time, the same on screen and in the report. */
public final class PointViews {

    private static final Pattern HYPHEN = Pattern.compile("(?<![\\w)])-(?=\\d)");

    private PointViews() {}

    /**
     * What a limit strip is drawn from; all values in the point's unit.
     *
     * @param from left end of the axis
     * @param to right end
     * @param baseline value of the record later ones are compared with; absent if there is none
     * @param past earlier values, newest first
     * @param value absent before there is one
     */
    public record Strip(
            double from,
            double to,
            Scale scale,
            @Nullable Double low,
            @Nullable Double high,
            @Nullable Double marginalLow,
            @Nullable Double marginalHigh,
            @Nullable Double baseline,
            List<Tick> past,
            @Nullable Double value) {}

    /** An earlier value on a strip, from a record. */
    public record Tick(double value, String figure, String record, Instant at, boolean baseline) {}

    /**
     * A value with its figure.
     *
     * @param value absent for an inspection's answer
     * @param figure as it is shown, sign of a bound included; absent for an inspection's answer
     * @param attempt absent for an inspection's answer
     * @param count readings it is made from
     * @param also the same in another unit of the trade, in words; absent where there is none
     */
    public record Figured(
            @Nullable Double value,
            @Nullable String figure,
            Verdict verdict,
            @Nullable UUID attempt,
            int count,
            @Nullable String also) {}

    /**
     * A test point as it stands.
     *
     * @param unit symbol; empty for an inspection
     * @param span allowed span in words; absent while there is none
     * @param source where the limit came from; absent while there is none
     * @param change since the last record, signed; absent where nothing can be compared
     * @param altered whether its limit differs in this run from what the procedure says
     * @param row where the row is that it is a column of, in the unit of the rows' keys; absent for what is no row
     */
    public record PointView(
            PointKey key,
            String step,
            String point,
            String lane,
            String label,
            String name,
            String unit,
            @Nullable String unitCode,
            @Nullable String series,
            boolean required,
            Verdict verdict,
            @Nullable String why,
            @Nullable Double marginUsed,
            @Nullable Figured asFound,
            @Nullable Figured asLeft,
            @Nullable Figured counting,
            @Nullable String span,
            @Nullable String source,
            @Nullable Strip strip,
            @Nullable String change,
            boolean tooCoarse,
            boolean altered,
            @Nullable Double row) {}

    /**
     * One reading of one attempt.
     *
     * @param uncertainty expanded, k = 2 unless stated; absent where unknown
     * @param raw before corrections; absent where there were none
     */
    public record ReadingView(
            UUID attempt,
            PointKey key,
            String label,
            String unit,
            double value,
            String figure,
            Verdict verdict,
            @Nullable String why,
            @Nullable String span,
            @Nullable String source,
            @Nullable Strip strip,
            @Nullable String change,
            @Nullable String uncertainty,
            @Nullable String raw,
            List<Reading.Correction> corrections,
            Reading.Source origin,
            Map<String, Quantity> with,
            @Nullable String remark) {}

    /** The points of a judgement, with earlier values. */
    public static List<PointView> points(RunState state, RunJudgement judgement) {
        return judgement.points().stream().map(p -> point(state, p)).toList();
    }

    static PointView point(RunState state, PointJudgement p) {
        List<PriorReading> priors = priors(state, p.series(), p.key());
        Double value = p.counting() == null ? null : p.counting().value();
        ResolvedLimit limit = p.limit() != null || p.counting() != null || p.unit() == null
                ? p.limit()
                : Consequences.expected(state, p.key());
        String name = state.procedure()
                .step(p.key().step())
                .flatMap(s -> s.point(p.key().point()))
                .map(point -> Rows.named(state, p.key(), point.label()))
                .orElse(p.label());
        return new PointView(
                p.key(),
                p.key().step(),
                p.key().point(),
                p.key().lane(),
                words(p.label()),
                words(name),
                symbol(p.unit()),
                p.unit(),
                p.series(),
                p.required(),
                p.verdict(),
                p.why(),
                p.marginUsed(),
                figured(p.asFound(), limit, p.unit()),
                figured(p.asLeft(), limit, p.unit()),
                figured(p.counting(), limit, p.unit()),
                spanOf(limit, value),
                source(limit),
                p.unit() == null ? null : strip(limit, p.scale(), priors, value, unit(p.unit())),
                change(value, limit, priors, unit(p.unit())),
                p.tooCoarse(),
                state.isLimitChanged(p.key()),
                Rows.key(state, p.key()));
    }

    /** Every reading of a run by itself. */
    static List<ReadingView> readings(RunState state) {
        return RunJudgement.readings(state).stream().map(r -> reading(state, r)).toList();
    }

    private static ReadingView reading(RunState state, RunJudgement.JudgedReading judged) {
        Reading r = judged.reading();
        TestPoint point = state.procedure()
                .step(r.key().step())
                .flatMap(s -> s.point(r.key().point()))
                .orElseThrow();
        String lane = state.procedure()
                .laneName(
                        state.procedure().step(r.key().step()).orElseThrow(),
                        r.key().lane());
        ResolvedLimit limit = judged.limit();
        List<PriorReading> priors = priors(state, point.series(), r.key());
        return new ReadingView(
                judged.attempt().id(),
                r.key(),
                words(Rows.placed(state, r.key(), point.label()) + (lane.isEmpty() ? "" : ", " + lane)),
                r.unit().symbol(),
                r.value(),
                figure(r.value(), r.qualifier(), limit, r.unit()),
                judged.judgement().verdict(),
                judged.judgement().why(),
                spanOf(limit, r.value()),
                source(limit),
                strip(limit, point.scale(), priors, r.value(), r.unit()),
                change(r.value(), limit, priors, r.unit()),
                r.uncertainty() == null ? null : Figures.of(r.uncertainty()),
                r.raw() == null ? null : Figures.of(r.raw()),
                r.corrections(),
                r.source(),
                r.with(),
                r.remark() == null ? null : words(r.remark()));
    }

    private static List<PriorReading> priors(RunState state, @Nullable String series, PointKey key) {
        return state.opened().priors().stream()
                .filter(p -> p.series().equals(series) && Rows.isSame(state, key, p))
                .toList();
    }

    private static @Nullable Strip strip(
            @Nullable ResolvedLimit limit,
            Scale scale,
            List<PriorReading> priors,
            @Nullable Double value,
            @Nullable Unit unit) {
        List<Double> values =
                new ArrayList<>(priors.stream().map(PriorReading::value).toList());
        // The present value has no say where there is a history: far outside, it is drawn at the end with an arrow.
        if (value != null && (values.isEmpty() || limit == null)) {
            values.add(value);
        }
        StripAxis axis = StripAxis.of(limit, scale, values);
        if (axis == null) {
            return null;
        }
        Double baseline = priors.stream()
                .filter(PriorReading::baseline)
                .map(PriorReading::value)
                .findFirst()
                .orElse(null);
        List<Tick> past = priors.stream()
                .map(p -> new Tick(p.value(), Figures.of(p.value(), null, unit), p.record(), p.at(), p.baseline()))
                .toList();
        return limit == null
                ? new Strip(axis.from(), axis.to(), scale, null, null, null, null, baseline, past, value)
                : new Strip(
                        axis.from(),
                        axis.to(),
                        scale,
                        limit.low(),
                        limit.high(),
                        limit.marginalLow(),
                        limit.marginalHigh(),
                        baseline,
                        past,
                        value);
    }

    private static @Nullable String change(
            @Nullable Double value, @Nullable ResolvedLimit limit, List<PriorReading> priors, @Nullable Unit unit) {
        if (value == null || priors.isEmpty()) {
            return null;
        }
        double before = priors.get(0).value();
        return change(value - before, value, before, limit, unit);
    }

    private static @Nullable Unit unit(@Nullable String code) {
        return code == null ? null : Unit.of(code);
    }

    private static @Nullable Figured figured(
            PointJudgement.@Nullable Value value, @Nullable ResolvedLimit limit, @Nullable String unit) {
        if (value == null) {
            return null;
        }
        Double number = value.value();
        return new Figured(
                number,
                number == null ? null : figure(number, value.qualifier(), limit, unit(unit)),
                value.verdict(),
                value.attempt(),
                value.count(),
                also(number, value.qualifier(), unit(unit)));
    }

    /** A level of power as the potential difference across 50 ohm, not the electromotive force, which is twice that. */
    public static @Nullable String also(@Nullable Double value, Qualifier qualifier, @Nullable Unit unit) {
        return value == null || !Unit.DBM.equals(unit)
                ? null
                : Figures.sign(qualifier) + Figures.of(RfLevel.microvolts(value))
                        + "\u2006\u00b5V across 50\u2006\u03a9";
    }

    /** A value as it is shown beside its limit, sign of a bound included, with a true minus. */
    public static String figure(double value, Qualifier qualifier, @Nullable ResolvedLimit limit) {
        return figure(value, qualifier, limit, null);
    }

    /** The same in a unit: levels in decibels have a tenth. */
    public static String figure(double value, Qualifier qualifier, @Nullable ResolvedLimit limit, @Nullable Unit unit) {
        return Figures.shown(value, qualifier, limit, unit);
    }

    /** A change as it is shown: signed, no finer than the coarser of the two values it lies between. */
    public static String change(
            double change, double one, double other, @Nullable ResolvedLimit limit, @Nullable Unit unit) {
        int places = Math.min(
                new BigDecimal(Figures.of(one, limit, unit)).scale(),
                new BigDecimal(Figures.of(other, limit, unit)).scale());
        BigDecimal rounded = new BigDecimal(change).setScale(places, RoundingMode.HALF_EVEN);
        return rounded.signum() == 0
                ? "±0"
                : (rounded.signum() > 0 ? "+" : "\u2212") + rounded.abs().toPlainString();
    }

    private static @Nullable String spanOf(@Nullable ResolvedLimit limit, @Nullable Double value) {
        String span = Figures.span(limit, value);
        return span == null ? null : minus(span);
    }

    /** Words in which a hyphen before a figure is a minus sign: "at -60 dBm", but not "UA-04687" or "5-10". */
    public static String words(String words) {
        return HYPHEN.matcher(words).replaceAll("\u2212");
    }

    /** With a true minus sign in place of the hyphen. */
    private static String minus(String figure) {
        return figure.replace('-', '\u2212');
    }

    private static @Nullable String source(@Nullable ResolvedLimit limit) {
        return limit == null ? null : words(limit.source());
    }

    /** What is shown for a unit code; empty for none. */
    public static String symbol(@Nullable String unit) {
        return unit == null ? "" : Unit.of(Objects.requireNonNull(unit)).symbol();
    }

    /** The point whose counting value stands nearest to its limit, or is farthest past it. */
    public static @Nullable PointView nearest(RunState state, RunJudgement judgement) {
        Stream<PointJudgement> measured = judgement.points().stream()
                .filter(p -> p.marginUsed() != null && p.counting() != null && p.unit() != null);
        return measured.max(java.util.Comparator.comparing(PointJudgement::verdict)
                        .thenComparing(p -> Objects.requireNonNull(p.marginUsed())))
                .map(p -> point(state, p))
                .orElse(null);
    }
}
