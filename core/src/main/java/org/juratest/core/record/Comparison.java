package org.juratest.core.record;

import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.LimitSpec;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.limit.ResolvedLimit;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Near;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.PointJudgement;
import org.juratest.core.run.Reading;
import org.juratest.core.run.Rows;
import org.juratest.core.run.RunJudgement;
import org.juratest.core.run.RunState;

/**
 * Two runs on one asset side by side. Points belong together by their series and lane, which survive new procedure
 * versions; points without a series by their key. What counts is set against what counted: the level now against the
 * level then.
 *
 * @param rows points of the later run, in the order of its work
 * @param onlyThen labels of points that only the earlier run has a value of
 */
public record Comparison(List<Row> rows, List<String> onlyThen) {

    public Comparison {
        rows = List.copyOf(rows);
        onlyThen = List.copyOf(onlyThen);
    }

    /** What a change means. */
    public enum Seen {
        /** Larger than the combined uncertainty. */
        CHANGED,
        /** No larger than the combined uncertainty: "no change seen". */
        NO_CHANGE_SEEN,
        /** The uncertainty of one of the two is not known. */
        UNCERTAINTY_UNKNOWN,
        /** The two cannot be subtracted; {@link Row#differences} says why. */
        NOT_COMPARABLE,
        /** Only the later run has a value. */
        NEW
    }

    /**
     * One test point in both.
     *
     * @param then of the earlier run; absent if it has none
     * @param change now less then, in the point's unit; absent where they cannot be subtracted
     * @param drift as found now less what counted then; absent where nothing was adjusted between
     * @param uncertainty expanded uncertainty of the change; absent where unknown
     * @param marginChange points of margin used (share of 1) now less then; absent where one has none
     * @param differences what else differs and bears on the comparison, in words
     */
    public record Row(
            PointJudgement now,
            @Nullable PointJudgement then,
            @Nullable Double change,
            @Nullable Double drift,
            @Nullable Double uncertainty,
            @Nullable Double marginChange,
            Seen seen,
            List<String> differences) {

        public Row {
            differences = List.copyOf(differences);
        }
    }

    /**
     * Compares two runs; judgements of finished ones are those they were finished with.
     *
     * @throws IllegalArgumentException if they are of different assets
     */
    public static Comparison of(RunState earlier, RunState later) {
        if (!earlier.opened().asset().asset().equals(later.opened().asset().asset())) {
            throw new IllegalArgumentException("records of different assets do not compare point by point: "
                    + earlier.opened().asset().asset() + " and "
                    + later.opened().asset().asset());
        }
        Map<String, PointJudgement> before = new LinkedHashMap<>();
        judgement(earlier).points().stream()
                .filter(p -> p.counting() != null)
                .forEach(p -> before.putIfAbsent(name(p), p));
        List<Row> rows = new ArrayList<>();
        for (PointJudgement now : judgement(later).points()) {
            PointJudgement then = before.remove(counterpart(earlier, before.values(), later, now));
            if (now.counting() != null || then != null) {
                rows.add(row(earlier, then, later, now));
            }
        }
        return new Comparison(
                rows, before.values().stream().map(PointJudgement::label).toList());
    }

    private static RunJudgement judgement(RunState run) {
        return run.finished() != null ? run.finished().judgement() : RunJudgement.of(run);
    }

    private static String name(PointJudgement point) {
        int row = point.key().point().indexOf(Step.ROW);
        return point.series() == null
                ? point.key().toString()
                : point.series() + " " + point.key().lane()
                        + (row < 0 ? "" : point.key().point().substring(row));
    }

    /** Name of what a point is compared with: rows of a feature go by their keys, whatever their numbers were. */
    private static String counterpart(
            RunState earlier, Collection<PointJudgement> before, RunState later, PointJudgement now) {
        return Rows.key(later, now.key()) == null
                ? name(now)
                : before.stream()
                        .filter(p -> Objects.equals(p.series(), now.series()))
                        .filter(p -> Rows.agree(later, now.key(), earlier, p.key()))
                        .map(Comparison::name)
                        .findFirst()
                        .orElse("");
    }

    private static Row row(RunState earlier, @Nullable PointJudgement then, RunState later, PointJudgement now) {
        Double marginChange = then == null || then.marginUsed() == null || now.marginUsed() == null
                ? null
                : (Double) (now.marginUsed() - then.marginUsed());
        List<String> differences = new ArrayList<>();
        if (then == null) {
            return new Row(now, null, null, null, null, null, Seen.NEW, differences);
        }
        String cannot = cannot(earlier, then, later, now);
        if (cannot != null) {
            differences.add(cannot);
        }
        differences.addAll(beside(earlier, then, later, now));
        if (cannot != null || now.unit() == null) {
            return new Row(
                    now,
                    then,
                    null,
                    null,
                    null,
                    marginChange,
                    now.unit() == null && cannot == null ? answers(now, then) : Seen.NOT_COMPARABLE,
                    differences);
        }
        double change = value(now) - value(then);
        Double u = uncertainty(Objects.requireNonNull(now.counting()), Objects.requireNonNull(then.counting()));
        Seen seen = u == null
                ? Seen.UNCERTAINTY_UNKNOWN
                : Math.abs(change) > u && !Near.equal(Math.abs(change), u) ? Seen.CHANGED : Seen.NO_CHANGE_SEEN;
        Double drift = now.asLeft() == null
                        || now.asFound() == null
                        || now.asFound().value() == null
                        || now.asFound().qualifier() != Qualifier.EQUAL
                ? null
                : (Double) (now.asFound().value() - value(then));
        return new Row(now, then, change, drift, u, marginChange, seen, differences);
    }

    private static Seen answers(PointJudgement now, PointJudgement then) {
        return now.verdict() == then.verdict() ? Seen.NO_CHANGE_SEEN : Seen.CHANGED;
    }

    private static double value(PointJudgement point) {
        return Objects.requireNonNull(Objects.requireNonNull(point.counting()).value());
    }

    /**
     * Expanded uncertainty of a difference, the two taken as independent (JCGM 100:2008, 5.1.2, equation 10); with the
     * same gear they are not, and this is then the larger, cautious figure.
     */
    private static @Nullable Double uncertainty(PointJudgement.Value a, PointJudgement.Value b) {
        return a.uncertainty() == null || b.uncertainty() == null
                ? null
                : (Double) Math.hypot(a.uncertainty(), b.uncertainty());
    }

    private static @Nullable String cannot(RunState earlier, PointJudgement then, RunState later, PointJudgement now) {
        if (now.counting() == null) {
            return "not measured now";
        }
        if (!Objects.equals(now.unit(), then.unit())) {
            return "in another unit then";
        }
        if (now.unit() == null) {
            return null;
        }
        if (now.counting().value() == null
                || then.counting() == null
                || then.counting().value() == null) {
            return "without a value";
        }
        if (now.counting().qualifier() != Qualifier.EQUAL || then.counting().qualifier() != Qualifier.EQUAL) {
            return "one of them is only a bound";
        }
        if (corrected(later, now) != corrected(earlier, then)) {
            return "only one of them is corrected";
        }
        return null;
    }

    /**
     * Whether everything was corrected that its procedure asks for; what a method corrects by itself it always does.
     */
    private static boolean corrected(RunState run, PointJudgement point) {
        Reading reading = reading(run, point);
        return run
                .procedure()
                .step(point.key().step())
                .flatMap(s -> s.point(point.key().point()))
                .stream()
                .flatMap(p -> p.allCorrections().stream())
                .allMatch(asked -> reading != null
                        && reading.corrections().stream()
                                .anyMatch(made -> made.name().equals(asked.name())));
    }

    private static @Nullable Reading reading(RunState run, PointJudgement point) {
        Attempt attempt = point.counting() == null || point.counting().attempt() == null
                ? null
                : run.attempt(point.counting().attempt()).orElse(null);
        return attempt == null ? null : attempt.reading(point.key()).orElse(null);
    }

    /** What differs beside the value. */
    private static List<String> beside(RunState earlier, PointJudgement then, RunState later, PointJudgement now) {
        List<String> words = new ArrayList<>();
        if (otherLimit(earlier, then, later, now)) {
            words.add("another limit then");
        }
        Reading a = reading(earlier, then);
        Reading b = reading(later, now);
        if (a != null
                && b != null
                && a.gear() != null
                && b.gear() != null
                && !a.gear().equals(b.gear())) {
            words.add("other gear then, "
                    + earlier.gear().stream()
                            .filter(g -> g.id().equals(a.gear()))
                            .map(g -> g.name())
                            .findFirst()
                            .orElse(a.gear()));
        }
        if (a != null && b != null && a.source() != b.source()) {
            words.add(
                    a.source() == Reading.Source.ENTERED
                            ? "entered by hand then"
                            : b.source() == Reading.Source.ENTERED
                                    ? "entered by hand now"
                                    : "from another source then");
        }
        return words;
    }

    /** Limits made from readings differ from run to run by themselves; that is no news. */
    private static boolean otherLimit(RunState earlier, PointJudgement then, RunState later, PointJudgement now) {
        LimitSpec before = earlier.limitSpec(then.key());
        LimitSpec after = later.limitSpec(now.key());
        if (before == null || after == null) {
            return before != after;
        }
        return !before.kind().equals(after.kind())
                || after.when() == LimitSpec.When.START && differs(now.limit(), then.limit());
    }

    private static boolean differs(@Nullable ResolvedLimit a, @Nullable ResolvedLimit b) {
        return a != null && b != null && !(same(a.low(), b.low()) && same(a.high(), b.high()));
    }

    private static boolean same(@Nullable Double a, @Nullable Double b) {
        return a == null || b == null ? Objects.equals(a, b) : Near.equal(a, b);
    }
}
