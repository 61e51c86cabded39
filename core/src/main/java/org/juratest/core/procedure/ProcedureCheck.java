package org.juratest.core.procedure;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.juratest.core.formula.Formula;
import org.juratest.core.formula.FormulaException;
import org.juratest.core.limit.InputRef;
import org.juratest.core.limit.LimitCheck;
import org.juratest.core.limit.LimitKind;
import org.juratest.core.limit.LimitSpec;
import org.juratest.core.quantity.Unit;

/** Finds what is wrong in a procedure document beyond its shape: every problem, each with its place. */
public final class ProcedureCheck {

    /** @param path place in the document, such as {@code steps[4].points[0].limit.high} */
    public record Problem(String path, String what) {
        @Override
        public String toString() {
            return path + ": " + what;
        }
    }

    private final Procedure procedure;
    private final Set<String> methods;
    private final List<Problem> problems = new ArrayList<>();

    private ProcedureCheck(Procedure procedure, Set<String> methods) {
        this.procedure = procedure;
        this.methods = methods;
    }

    /**
     * All problems; empty if there are none.
     *
     * @param methods names of the measuring methods there are
     */
    public static List<Problem> problems(Procedure procedure, Set<String> methods) {
        ProcedureCheck check = new ProcedureCheck(procedure, methods);
        check.all();
        return List.copyOf(check.problems);
    }

    private void problem(String path, String what) {
        problems.add(new Problem(path, what));
    }

    private void all() {
        if (!Procedure.FORMAT.equals(procedure.format())) {
            problem("format", "must be \"" + Procedure.FORMAT + "\"");
        }
        if (procedure.version() < 1) {
            problem("version", "must be at least 1");
        }
        if (procedure.steps().isEmpty()) {
            problem("steps", "a procedure needs at least one step");
        }
        Set<String> seen = new HashSet<>();
        for (int i = 0; i < procedure.steps().size(); i++) {
            Step step = procedure.steps().get(i);
            String path = "steps[" + i + "]";
            if (!seen.add(step.id()) || step.id().isBlank() || step.id().contains("/")) {
                problem(path + ".id", "must be unique, not empty and without a slash");
            }
            step(path, step, seen);
        }
    }

    private void step(String path, Step step, Set<String> earlier) {
        if (step.lanes() != null && !procedure.laneSets().containsKey(step.lanes())) {
            problem(path + ".lanes", "there is no lane set \"" + step.lanes() + "\"");
        }
        if (step.gear() != null && procedure.gear().stream().noneMatch(g -> g.id().equals(step.gear()))) {
            problem(path + ".gear", "there is no gear \"" + step.gear() + "\"");
        }
        boolean needsMethod = step.kind().measured();
        if (needsMethod && (step.method() == null || !methods.contains(step.method()))) {
            problem(path + ".method", "must be one of " + String.join(", ", new java.util.TreeSet<>(methods)));
        }
        if (!needsMethod && step.method() != null) {
            problem(path + ".method", "only a measurement, search or capture has a method");
        }
        for (String need : step.furtherNeeds()) {
            if (procedure.gear().stream().noneMatch(g -> g.id().equals(need))) {
                problem(path + ".more.also", "there is no gear \"" + need + "\"");
            }
        }
        for (String touched : step.alters()) {
            if (!earlier.contains(touched) || touched.equals(step.id())) {
                problem(path + ".more.touches", "there is no earlier step \"" + touched + "\"");
            }
        }
        if (step.followsByItself() && !needsMethod) {
            problem(path + ".more.flows", "only a step with a method follows by itself");
        }
        if (step.provesAllLanes() && step.lanes() == null) {
            problem(path + ".more.shared", "only a step with lanes is shared between them");
        }
        if (step.notAfterFailIn() != null && !earlier.contains(step.notAfterFailIn())) {
            problem(path + ".notAfterFailIn", "there is no earlier step \"" + step.notAfterFailIn() + "\"");
        }
        if (step.hazard() && step.maxima().isEmpty()) {
            problem(path + ".maxima", "a step that can energise something needs greatest values");
        }
        List<String> onlyFor = step.hold() == null ? List.of() : step.hold().onlyFor();
        for (int i = 0; i < onlyFor.size(); i++) {
            if (procedure.step(onlyFor.get(i)).isEmpty() || earlier.contains(onlyFor.get(i))) {
                problem(path + ".hold.onlyFor[" + i + "]", "there is no later step \"" + onlyFor.get(i) + "\"");
            }
        }
        for (int i = 0; i < step.confirmations().size(); i++) {
            String before = step.confirmations().get(i).backBefore();
            if (before != null && (procedure.step(before).isEmpty() || earlier.contains(before))) {
                problem(
                        path + ".hold.confirmations[" + i + "].backBefore",
                        "there is no later step \"" + before + "\"");
            }
        }
        step.params().forEach((name, p) -> param(path + ".params." + name, step, p));
        step.maxima().forEach((name, p) -> param(path + ".maxima." + name, step, p));
        Set<String> pointIds = new HashSet<>();
        for (int i = 0; i < step.points().size(); i++) {
            TestPoint point = step.points().get(i);
            String at = path + ".points[" + i + "]";
            if (!pointIds.add(point.id()) || point.id().isBlank() || point.id().contains("/")) {
                problem(at + ".id", "must be unique in its step, not empty and without a slash");
            }
            point(at, step, point);
        }
    }

    private void point(String path, Step step, TestPoint point) {
        if (point.unit() == null) {
            if (step.kind() != StepKind.INSPECTION) {
                problem(path + ".unit", "is missing");
            }
        } else {
            unit(path + ".unit", point.unit());
        }
        if (point.correction() != null && !point.correction().equals(TestPoint.INSULATION_20)) {
            problem(path + ".correction", "must be \"" + TestPoint.INSULATION_20 + "\"");
        }
        if (step.kind() == StepKind.DERIVATION) {
            formula(path + ".formula", step, point.formula() == null ? "" : point.formula(), point.inputs());
        } else if (point.formula() != null) {
            problem(path + ".formula", "only a derivation has a formula");
        }
        if (point.limit() != null) {
            limit(path + ".limit", step, point, point.limit());
        } else if (point.required() && step.kind() != StepKind.INSPECTION) {
            problem(path + ".limit", "a required point needs a limit; say required: false to record it only");
        }
    }

    private void limit(String path, Step step, TestPoint point, LimitSpec limit) {
        LimitKind kind = limit.kind();
        LimitCheck.of(limit, point.unit() == null ? null : Unit.known(point.unit()))
                .forEach(f -> problem(path + "." + f.field(), f.what()));
        if (kind instanceof LimitKind.Formula formula) {
            optionalFormula(path + ".low", step, formula.low(), formula.inputs());
            optionalFormula(path + ".high", step, formula.high(), formula.inputs());
            optionalFormula(path + ".ideal", step, formula.ideal(), formula.inputs());
            if (formula.low() == null && formula.high() == null) {
                problem(path, "a formula limit needs low, high or both");
            }
        } else if (kind instanceof LimitKind.Table table) {
            reference(path + ".of", step, table.of());
        } else if (kind instanceof LimitKind.Spread && step.lanes() == null) {
            problem(path, "a spread between lanes needs a step with lanes");
        }
    }

    private void param(String path, Step step, Param param) {
        unit(path + ".unit", param.unit());
        if (param.formula() != null) {
            formula(path + ".formula", step, param.formula(), param.inputs());
        }
    }

    private void unit(String path, String code) {
        try {
            Unit.of(code);
        } catch (IllegalArgumentException e) {
            problem(path, String.valueOf(e.getMessage()));
        }
    }

    private void optionalFormula(String path, Step step, @Nullable String text, Map<String, String> inputs) {
        if (text != null) {
            formula(path, step, text, inputs);
        }
    }

    private void formula(String path, Step step, String text, Map<String, String> inputs) {
        try {
            for (String name : Formula.parse(text).names()) {
                if (!inputs.containsKey(name)) {
                    problem(
                            path,
                            "\"" + name + "\" at character " + (text.indexOf(name) + 1) + " is not among the inputs");
                }
            }
        } catch (FormulaException e) {
            problem(path, String.valueOf(e.getMessage()));
        }
        inputs.forEach((name, ref) -> reference(path + ".inputs." + name, step, ref));
    }

    private void reference(String path, Step step, String text) {
        try {
            InputRef ref = InputRef.parse(text);
            if (ref.from() == InputRef.From.PARAM && !step.params().containsKey(ref.name())) {
                problem(path, "the step has no parameter \"" + ref.name() + "\"");
            }
            if (ref.from() == InputRef.From.READING
                    && procedure
                            .step(ref.name())
                            .flatMap(s -> s.point(ref.point()))
                            .isEmpty()) {
                problem(path, "there is no point \"" + ref.name() + "/" + ref.point() + "\"");
            }
        } catch (IllegalArgumentException e) {
            problem(path, String.valueOf(e.getMessage()));
        }
    }
}
