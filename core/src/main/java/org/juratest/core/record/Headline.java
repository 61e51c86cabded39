package org.juratest.core.record;

import java.util.List;
import java.util.Objects;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Figures;
import org.juratest.core.limit.Verdict;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.PointJudgement;
import org.juratest.core.run.RunJudgement;
import org.juratest.core.run.RunState;

/**
 * What a record says first: its verdict in words, and the point that failed first with what came of it.
 *
 * @param title "Passed as left, one point marginal"
 * @param detail the first failure; absent where nothing failed
 */
public record Headline(String title, @Nullable String detail) {

    private static final List<String> NUMBERS = List.of(
            "no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve");

    /** The headline of a judgement of a run; for a finished run the one it was finished with. */
    public static Headline of(RunState run, RunJudgement judgement) {
        return new Headline(title(judgement), detail(run, judgement));
    }

    private static String title(RunJudgement judgement) {
        long open = count(judgement, Verdict.NOT_JUDGED, true);
        long failed = count(judgement, Verdict.FAIL, false);
        long outside = count(judgement, Verdict.MARGINAL_OUTSIDE, false);
        long inside = count(judgement, Verdict.MARGINAL_INSIDE, false);
        String verdict;
        if (judgement.verdict() == Verdict.FAIL) {
            verdict = "Failed, " + points(failed);
        } else if (!judgement.complete()) {
            verdict = "Incomplete, " + points(open) + " without a verdict";
        } else if (judgement.verdict() == Verdict.MARGINAL_OUTSIDE) {
            verdict = "Not passed, " + points(outside) + " marginally outside";
        } else {
            boolean mended = judgement.points().stream().anyMatch(p -> notPassed(p.asFound()) && p.asLeft() != null);
            verdict = mended ? "Passed as left" : "Passed";
        }
        return verdict
                + (judgement.verdict() == Verdict.FAIL && !judgement.complete() && open > 0
                        ? ", " + points(open) + " without a verdict"
                        : "")
                + (inside > 0 ? ", " + points(inside) + " marginal" : "");
    }

    private static long count(RunJudgement judgement, Verdict verdict, boolean required) {
        return judgement.points().stream()
                .filter(p -> p.verdict() == verdict && (p.required() || !required))
                .count();
    }

    private static String points(long n) {
        return (n < NUMBERS.size() ? NUMBERS.get((int) n) : String.valueOf(n)) + (n == 1 ? " point" : " points");
    }

    private static boolean notPassed(PointJudgement.@Nullable Value value) {
        return value != null && (value.verdict() == Verdict.FAIL || value.verdict() == Verdict.MARGINAL_OUTSIDE);
    }

    private static @Nullable String detail(RunState run, RunJudgement judgement) {
        PointJudgement first = judgement.points().stream()
                .filter(p -> p.asFound() != null && p.asFound().verdict() == Verdict.FAIL)
                .findFirst()
                .orElse(null);
        if (first == null || first.asFound() == null) {
            return null;
        }
        String found = first.label() + " failed as found" + bracketed(first, first.asFound(), true);
        if (first.asLeft() == null) {
            return found + (first.why() == null ? "." : ": " + first.why() + ".");
        }
        String done = run.adjustments().stream()
                .filter(a -> a.points().contains(first.key()))
                .map(RunState.Adjustment::what)
                .map(what -> what.replaceAll("[.\\s]+$", ""))
                .collect(Collectors.joining("; "));
        String came =
                switch (first.verdict()) {
                    case PASS -> "It passed";
                    case MARGINAL_INSIDE -> "It passed, marginally,";
                    case MARGINAL_OUTSIDE -> "It stayed marginally outside";
                    case FAIL -> "It failed again";
                    case NOT_JUDGED -> "It has no verdict";
                };
        return found + ". " + came + " as left" + bracketed(first, first.asLeft(), false) + ", after: " + done + ".";
    }

    private static String bracketed(PointJudgement point, PointJudgement.Value value, boolean withSpan) {
        Double number = value.value();
        if (number == null || point.unit() == null) {
            return "";
        }
        Unit in = Unit.of(Objects.requireNonNull(point.unit()));
        String unit = in.symbol();
        String span = withSpan ? Figures.span(point.limit(), number) : null;
        String words = " ("
                + (value.qualifier().sign().equals("=") ? "" : value.qualifier().sign() + " ")
                + Figures.of(number, point.limit(), in) + (unit.isEmpty() ? "" : " " + unit)
                + (span == null ? "" : ", allowed " + span) + ")";
        // In a sentence a minus is a minus.
        return words.replaceAll("-(?=\\d)", "\u2212");
    }
}
