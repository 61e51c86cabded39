package org.juratest.server.plan;

import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.MonthDay;
import java.time.Period;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.register.FieldProblem;
import org.juratest.server.procedure.Procedures;
import org.juratest.server.register.Codes;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Component;

/** Says everything that is wrong with a plan as it was given. */
@Component
class PlanCheck {

    private static final Set<String> OCCASIONS =
            Set.of("interval", "acceptance", "exchange", "repair", "firmware", "setting", "finding");
    private static final Set<String> EVERY = Set.of("months", "days", "hours", "operations", "between");
    private static final Set<String> REASONS = Set.of("law", "standard", "maker", "risk");
    private static final int LONGEST_LEAD = 730;
    private static final int DAY_MINUTES = 1440;
    private static final int MOST_PEOPLE = 20;

    private final JdbcClient jdbc;
    private final Procedures procedures;

    PlanCheck(JdbcClient jdbc, Procedures procedures) {
        this.jdbc = jdbc;
        this.procedures = procedures;
    }

    List<FieldProblem> problems(Plan plan, List<Plan> others) {
        List<FieldProblem> problems = new ArrayList<>();
        Codes.words("title", "a title", plan.title().strip(), problems);
        Codes.length("basis", plan.basis(), problems);
        oneOf("occasion", plan.occasion(), OCCASIONS, problems);
        oneOf("reason", plan.reason(), REASONS, problems);
        Optional<Procedure> procedure = procedure(plan.procedure());
        if (procedure.isEmpty()) {
            problems.add(new FieldProblem(
                    "procedure", "There is no procedure \"" + plan.procedure() + "\"; choose one of the list."));
        }
        target(plan, procedure.orElse(null), problems);
        timing(plan, problems);
        needs(plan, problems);
        for (String covered : plan.covers()) {
            if (covered.equals(plan.procedure())) {
                problems.add(
                        new FieldProblem("covers", "A procedure does not contain itself; take " + covered + " off."));
            } else if (procedure(covered).isEmpty()) {
                problems.add(new FieldProblem(
                        "covers", "There is no procedure \"" + covered + "\"; choose one of the list."));
            }
        }
        if (problems.isEmpty()) {
            together(plan, others, problems);
        }
        return problems;
    }

    private static void oneOf(String field, String value, Set<String> allowed, List<FieldProblem> problems) {
        if (!allowed.contains(value)) {
            problems.add(new FieldProblem(
                    field,
                    "\"" + value + "\" does not do; it is one of "
                            + String.join(", ", allowed.stream().sorted().toList()) + "."));
        }
    }

    private Optional<Procedure> procedure(String code) {
        try {
            return Optional.of(procedures.newest(code).procedure());
        } catch (NotFoundException e) {
            return Optional.empty();
        }
    }

    private void target(Plan plan, @Nullable Procedure procedure, List<FieldProblem> problems) {
        if (plan.assetClass() == null && plan.positions().isEmpty()) {
            problems.add(new FieldProblem("assetClass", "Say what it applies to: a class, or positions."));
        } else if (plan.assetClass() != null && !plan.positions().isEmpty()) {
            problems.add(new FieldProblem(
                    "positions", "It applies to a class or to positions, not to both; take one away."));
        } else if (plan.assetClass() != null) {
            if (!exists("asset_class", "code", plan.assetClass())) {
                problems.add(new FieldProblem(
                        "assetClass", "There is no class \"" + plan.assetClass() + "\"; choose one of the list."));
            } else if (procedure != null && !procedure.appliesTo().contains(plan.assetClass())) {
                problems.add(new FieldProblem(
                        "assetClass",
                        procedure.title() + " is not written for this class; choose another class or procedure."));
            }
        }
        for (String position : plan.positions()) {
            String assetClass = jdbc.sql(
                            "SELECT coalesce((SELECT a.class FROM installation i JOIN asset a ON a.id = i.asset "
                                    + "WHERE i.position = p.code AND upper_inf(i.during)), '') FROM position p "
                                    + "WHERE p.code = :code")
                    .param("code", position)
                    .query(String.class)
                    .optional()
                    .orElse(null);
            if (assetClass == null) {
                problems.add(new FieldProblem(
                        "positions", "There is no position \"" + position + "\"; take it off, or correct it."));
            } else if (procedure != null
                    && !assetClass.isEmpty()
                    && !procedure.appliesTo().contains(assetClass)) {
                problems.add(new FieldProblem(
                        "positions",
                        procedure.title() + " is not written for what stands at " + position
                                + "; take it off, or choose another procedure."));
            }
        }
    }

    private boolean exists(String table, String column, String value) {
        return jdbc.sql("SELECT EXISTS (SELECT 1 FROM " + table + " WHERE " + column + " = :value)")
                .param("value", value)
                .query(Boolean.class)
                .single();
    }

    private static void timing(Plan plan, List<FieldProblem> problems) {
        boolean recurs = plan.occasion().equals(Plan.INTERVAL);
        if (recurs && (plan.every() == null || !EVERY.contains(plan.every()))) {
            problems.add(new FieldProblem(
                    "every",
                    "Say what its interval counts: months, days, running hours, operations, or days from and to."));
            return;
        }
        if (!recurs && plan.every() != null) {
            problems.add(new FieldProblem("every", "What is due once has no interval; take it away."));
            return;
        }
        if (!recurs && (plan.amount() < 0 || plan.amount() != Math.rint(plan.amount()) || plan.amount() > 3660)) {
            problems.add(new FieldProblem("amount", "It is due within 0 to 3660 whole days after what asks for it."));
            return;
        }
        Period before = period("before", plan.before(), problems);
        Period after = period("after", plan.after(), problems);
        if (!plan.counting().equals("due") && !plan.counting().equals("done")) {
            problems.add(new FieldProblem("counting", "The next date counts from the due date or from the day done."));
            return;
        }
        if (before == null || after == null) {
            return;
        }
        try {
            plan.timing(plan.starts());
        } catch (IllegalArgumentException e) {
            String what = String.valueOf(e.getMessage());
            problems.add(new FieldProblem(
                    what.contains("counts from") || what.contains("count from") ? "counting" : "amount",
                    Character.toUpperCase(what.charAt(0)) + what.substring(1) + "."));
            return;
        }
        LocalDate day = LocalDate.of(2001, 1, 1);
        if (recurs && ("months".equals(plan.every()) || "days".equals(plan.every()))) {
            LocalDate next = "months".equals(plan.every())
                    ? day.plusMonths((long) plan.amount())
                    : day.plusDays((long) plan.amount());
            if (!day.plus(before).isBefore(next)) {
                problems.add(new FieldProblem(
                        "before", "The window opens before the last date; make it shorter than the interval."));
            }
        }
        if ("between".equals(plan.every()) && !(before.isZero() && after.isZero())) {
            problems.add(new FieldProblem(
                    "before", "Days from and to are the window themselves; take the window before and after away."));
        }
    }

    private static @Nullable Period period(String field, String text, List<FieldProblem> problems) {
        try {
            Period period = Period.parse(text);
            if (!period.isNegative() && period.toTotalMonths() <= 120 && period.getDays() <= 3660) {
                return period;
            }
            problems.add(new FieldProblem(field, "It is a length of 0 days to 10 years."));
        } catch (DateTimeParseException e) {
            problems.add(new FieldProblem(
                    field, "\"" + text + "\" is no length; give days or months, such as P14D or P1M."));
        }
        return null;
    }

    private void needs(Plan plan, List<FieldProblem> problems) {
        if (plan.leadDays() < 0 || plan.leadDays() > LONGEST_LEAD) {
            problems.add(new FieldProblem("leadDays", "It is 0 to " + LONGEST_LEAD + " days."));
        }
        if (plan.minutes() != null && (plan.minutes() < 1 || plan.minutes() > DAY_MINUTES)) {
            problems.add(new FieldProblem("minutes", "It takes 1 to " + DAY_MINUTES + " minutes."));
        }
        if (plan.people() < 1 || plan.people() > MOST_PEOPLE) {
            problems.add(new FieldProblem("people", "It needs 1 to " + MOST_PEOPLE + " people."));
        }
        if ((plan.seasonFrom() == null) != (plan.seasonTo() == null)) {
            problems.add(new FieldProblem(
                    plan.seasonFrom() == null ? "seasonFrom" : "seasonTo",
                    "A season has a first and a last day; give both, or none."));
        }
        season("seasonFrom", plan.seasonFrom(), problems);
        season("seasonTo", plan.seasonTo(), problems);
        plan.parts().forEach((part, count) -> {
            if (!exists("part", "code", part)) {
                problems.add(new FieldProblem("parts", "There is no part \"" + part + "\"; choose one of the list."));
            } else if (count < 1 || count > 1000) {
                problems.add(new FieldProblem("parts", "It needs 1 to 1000 of " + part + "."));
            }
        });
        if (plan.authorisation() != null) {
            Codes.length("authorisation", plan.authorisation(), problems);
        }
    }

    private static void season(String field, @Nullable String text, List<FieldProblem> problems) {
        if (text != null) {
            try {
                MonthDay.parse(text);
            } catch (DateTimeException e) {
                problems.add(new FieldProblem(
                        field, "\"" + text + "\" is no day of the year; give month and day, such as --05-01."));
            }
        }
    }

    /** What is only wrong beside other plans. */
    private static void together(Plan plan, List<Plan> others, List<FieldProblem> problems) {
        if (plan.ended()) {
            return;
        }
        others.stream()
                .filter(o -> !o.ended()
                        && o.procedure().equals(plan.procedure())
                        && o.occasion().equals(plan.occasion())
                        && o.narrowness() == plan.narrowness()
                        && (plan.assetClass() == null
                                ? o.positions().stream().anyMatch(plan.positions()::contains)
                                : plan.assetClass().equals(o.assetClass())
                                        && java.util.Objects.equals(plan.model(), o.model())))
                .findFirst()
                .ifPresent(o -> problems.add(new FieldProblem(
                        plan.assetClass() == null ? "positions" : "assetClass",
                        "\"" + o.title() + "\" plans the same there already; change that one, or end it.")));
        List<Plan> all = new ArrayList<>(others);
        all.add(plan);
        try {
            Horizon.checkCoverage(all);
        } catch (IllegalArgumentException e) {
            problems.add(new FieldProblem("covers", "That goes round in a circle: " + e.getMessage() + "."));
        }
    }
}
