package org.juratest.core.procedure;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.juratest.core.formula.Formula;
import org.juratest.core.formula.FormulaException;
import org.juratest.core.limit.InputRef;
import org.juratest.core.limit.LimitCheck;
import org.juratest.core.limit.LimitKind;
import org.juratest.core.limit.LimitSpec;
import org.juratest.core.limit.LimitTable;
import org.juratest.core.quantity.Unit;
import org.juratest.core.standard.StandardTable;

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
    private final Function<String, @Nullable MethodSpec> methods;
    private final List<StandardTable> tables;
    private final List<Problem> problems = new ArrayList<>();

    private ProcedureCheck(
            Procedure procedure, Function<String, @Nullable MethodSpec> methods, List<StandardTable> tables) {
        this.procedure = procedure;
        this.methods = methods;
        this.tables = tables;
    }

    /** All problems of one whose limits go by no table of the library of standards. */
    public static List<Problem> problems(Procedure procedure, Function<String, @Nullable MethodSpec> methods) {
        return problems(procedure, methods, List.of());
    }

    /**
     * All problems; empty if there are none.
     *
     * @param methods specification of a measuring method by its name; null where there is none
     * @param tables of standards that ship, by which limits may go
     */
    public static List<Problem> problems(
            Procedure procedure, Function<String, @Nullable MethodSpec> methods, List<StandardTable> tables) {
        ProcedureCheck check = new ProcedureCheck(procedure, methods, tables);
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
        procedure.laneSets().forEach((name, set) -> lanes("laneSets." + name, set));
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

    private void lanes(String path, LaneSet set) {
        LaneRule rule = set.rule();
        List<String> product = set.product();
        long ways = Stream.of(set.lanes().isEmpty() ? null : set.lanes(), rule, product)
                .filter(w -> w != null)
                .count();
        if (ways != 1) {
            problem(path, "its lanes are listed, made by a rule or made of two sets: exactly one of them");
        }
        if (rule != null && !(rule.most() >= 1 && rule.most() <= LaneSet.MOST)) {
            problem(path + ".rule.most", "must be from 1 to " + LaneSet.MOST);
        }
        if (rule != null && rule.only() != null) {
            rule.only().rows().forEach((words, numbers) -> {
                if (!numbers.equals("all") && !LaneChoice.isNumbers(numbers)) {
                    problem(path + ".rule.only.rows." + words, "must be numbers such as 1-4,9-12, or all");
                }
            });
            if (rule.only().of().isEmpty()) {
                problem(path + ".rule.only.of", "must name at least one text of the nameplate");
            }
        }
        if (rule != null && !rule.label().contains(LaneRule.NUMBER)) {
            problem(path + ".rule.label", "must contain " + LaneRule.NUMBER + ", the number of the lane");
        }
        if (product != null
                && (product.size() != 2
                        || product.get(0).equals(product.get(1))
                        || product.stream()
                                .anyMatch(p -> !procedure.laneSets().containsKey(p)
                                        || procedure.laneSets().get(p).product() != null))) {
            problem(path + ".product", "must name two lane sets that are not themselves made of others");
        }
    }

    private void references(String path, Step step, Set<String> earlier) {
        Double valid = step.validMinutes();
        if (valid != null && (step.kind() != StepKind.REFERENCE || !(valid > 0 && valid <= 1_000_000))) {
            problem(path + ".more.validMinutes", "only a reference holds for a time, above 0 minutes");
        }
        boolean computes = step.kind() == StepKind.DERIVATION;
        for (String used : step.references()) {
            boolean there = earlier.contains(used)
                    && !used.equals(step.id())
                    && procedure
                            .step(used)
                            .map(s -> computes ? s.kind().measured() : s.kind() == StepKind.REFERENCE)
                            .orElse(false);
            if (!there) {
                problem(
                        path + ".more.uses",
                        "there is no earlier " + (computes ? "measured step" : "reference") + " \"" + used + "\"");
            }
        }
        if (step.discharge() != null && !step.hazard()) {
            problem(path + ".more.discharge", "only a step that can energise something leaves a charge");
        }
    }

    /** A method that computes uses no gear, and says of which steps. */
    private void computing(String path, Step step, @Nullable MethodSpec spec) {
        if (spec == null) {
            problem(path + ".method", "there is no method \"" + step.method() + "\"");
        } else if (!spec.ports().isEmpty()) {
            problem(path + ".method", "\"" + step.method() + "\" measures with gear; a derivation only computes");
        } else {
            method(path, step, spec);
            if (step.references().isEmpty()) {
                problem(path + ".more.uses", "it has to say of which steps it computes");
            }
        }
    }

    private void features(String path, Step step, @Nullable MethodSpec spec) {
        Set<String> columns = new HashSet<>();
        step.points().forEach(p -> columns.add(p.id()));
        for (int i = 0; i < step.discovers().size(); i++) {
            FeatureSpec feature = step.discovers().get(i);
            String at = path + ".features[" + i + "]";
            MethodSpec.Feature declared = spec == null ? null : spec.features().get(feature.id());
            if (declared == null) {
                problem(at + ".id", "the method of the step discovers no \"" + feature.id() + "\"");
            }
            Unit key = Unit.known(feature.unit());
            unit(at + ".unit", feature.unit());
            if (declared != null
                    && key != null
                    && !key.dimension().equals(declared.key().dimension())) {
                problem(at + ".unit", "its key is a " + declared.key().dimension() + ", not a " + key.dimension());
            }
            if (!(feature.tolerance() >= 0 && feature.tolerance() <= Double.MAX_VALUE)) {
                problem(at + ".tolerance", "must not be negative");
            }
            if (!(feature.most() >= 1 && feature.most() <= 1000)) {
                problem(at + ".most", "must be from 1 to 1000");
            }
            for (int c = 0; c < feature.columns().size(); c++) {
                TestPoint column = feature.columns().get(c);
                String place = at + ".columns[" + c + "]";
                Unit given = declared == null ? null : declared.columns().get(column.id());
                Unit asked = column.unit() == null ? null : Unit.known(column.unit());
                if (!columns.add(column.id())
                        || column.id().contains(Step.ROW)
                        || column.id().contains("/")) {
                    problem(place + ".id", "must be unique in its step, without a slash and " + Step.ROW);
                }
                if (declared != null && given == null) {
                    problem(
                            place + ".id",
                            "it is not read; what is read is "
                                    + declared.columns().keySet());
                } else if (given != null && asked != null && !asked.dimension().equals(given.dimension())) {
                    problem(place + ".unit", "it is a " + given.dimension() + ", not a " + asked.dimension());
                }
                if (column.limit() != null && column.limit().kind() instanceof LimitKind.Spread) {
                    problem(place + ".limit.kind", "rows that are discovered have no spread between lanes");
                }
                point(place, step, column);
            }
        }
    }

    private void corrections(String path, Step step, TestPoint point) {
        List<CorrectionSpec> asked = point.corrections() == null ? List.of() : point.corrections();
        if (!asked.isEmpty() && point.correction() != null) {
            problem(path + ".corrections", "a point has a correction by name, or a list of them");
        }
        for (int i = 0; i < asked.size(); i++) {
            CorrectionSpec one = asked.get(i);
            String at = path + ".corrections[" + i + "]";
            long ways = Stream.of(one.amount(), one.formula(), one.table().isEmpty() ? null : one.table())
                    .filter(w -> w != null)
                    .count();
            if (ways != 1) {
                problem(at, "its amount is a number, a formula or a table: exactly one of them");
            }
            if (one.formula() != null) {
                formula(at + ".formula", step, one.formula(), one.inputs());
            }
            if (!one.table().isEmpty()) {
                reference(at + ".of", step, one.of() == null ? "" : one.of());
                for (int n = 1; n < one.table().size(); n++) {
                    if (!(one.table().get(n).at() > one.table().get(n - 1).at())) {
                        problem(at + ".table[" + n + "].at", "rows ascend");
                    }
                }
            }
            one.inputU().forEach((name, u) -> {
                if (!(u >= 0) || !(name.equals("of") || one.inputs().containsKey(name))) {
                    problem(at + ".inputU." + name, "must be the uncertainty, not negative, of one of the inputs");
                }
            });
            if (one.u() != null && !(one.u() >= 0)) {
                problem(at + ".u", "must not be negative");
            }
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
        boolean computes = step.kind() == StepKind.DERIVATION && step.method() != null;
        if (computes) {
            computing(path, step, methods.apply(step.method()));
        } else if (needsMethod) {
            MethodSpec spec = step.method() == null ? null : methods.apply(step.method());
            if (spec == null) {
                problem(path + ".method", "there is no method \"" + step.method() + "\"");
            } else {
                method(path, step, spec);
            }
        }
        references(path, step, earlier);
        features(path, step, step.method() == null ? null : methods.apply(step.method()));
        if (!needsMethod && !computes && step.method() != null) {
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
        if (step.asksAfter() != null && !earlier.contains(step.asksAfter())) {
            problem(path + ".more.askAfter", "there is no earlier step \"" + step.asksAfter() + "\"");
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
        step.maxima().forEach((name, p) -> {
            param(path + ".maxima." + name, step, p);
            if (p.otherwise() != null) {
                problem(
                        path + ".maxima." + name + ".otherwise",
                        "nothing stands in for what a greatest value rests on");
            }
        });
        Set<String> pointIds = new HashSet<>();
        for (int i = 0; i < step.points().size(); i++) {
            TestPoint point = step.points().get(i);
            String at = path + ".points[" + i + "]";
            if (!pointIds.add(point.id())
                    || point.id().isBlank()
                    || point.id().contains("/")
                    || point.id().contains(Step.ROW)) {
                problem(at + ".id", "must be unique in its step, not empty and without a slash and " + Step.ROW);
            }
            point(at, step, point);
        }
    }

    /** What a step asks of its method, against what the method declares. */
    private void method(String path, Step step, MethodSpec spec) {
        boolean byFiles = step.gear() == null && spec.files();
        if (byFiles) {
            if (step.hazard()) {
                problem(path + ".hazard", "a step without gear gets its captures by files and can energise nothing");
            }
        } else if (spec.hazard() != MethodSpec.Hazard.NONE && !step.hazard()) {
            problem(
                    path + ".hazard",
                    "\"" + spec.name() + "\" can hurt (" + spec.hazard().name().toLowerCase(Locale.ROOT)
                            + "): it must be true");
        }
        if (spec.byHand() && step.followsByItself()) {
            problem(path + ".flows", "what a hand holds is begun by that hand, and follows nothing by itself");
        }
        Set<String> roles = step.needs().stream()
                .flatMap(need -> procedure.gear().stream().filter(g -> g.id().equals(need)))
                .map(GearNeed::role)
                .collect(Collectors.toSet());
        spec.ports().stream()
                .filter(p -> !byFiles && !roles.contains(p))
                .forEach(p -> problem(path + ".gear", "\"" + spec.name() + "\" needs gear of the role \"" + p + "\""));
        values(path + ".params", step.params(), spec.params(), spec.name(), referred(step));
        learned(path + ".params", step, spec);
        if (!byFiles) {
            values(path + ".maxima", step.maxima(), spec.maxima(), spec.name(), Set.of());
        }
        for (int i = 0; i < step.points().size(); i++) {
            TestPoint point = step.points().get(i);
            Unit given = spec.points().get(point.id());
            Unit asked = point.unit() == null ? null : Unit.known(point.unit());
            String at = path + ".points[" + i + "].";
            if (given == null) {
                problem(
                        at + "id",
                        "\"" + spec.name() + "\" reads no \"" + point.id() + "\"; it reads "
                                + String.join(", ", spec.points().keySet()));
            } else if (asked != null && !asked.dimension().equals(given.dimension())) {
                problem(
                        at + "unit",
                        "\"" + spec.name() + "\" reads it in " + given.symbol() + ", which is a " + given.dimension()
                                + ", not a " + asked.dimension());
            }
        }
    }

    private void values(
            String path,
            Map<String, Param> given,
            Map<String, MethodSpec.Param> declared,
            String method,
            Set<String> elsewhere) {
        declared.forEach((name, d) -> {
            if (d.byDefault() == null && !given.containsKey(name)) {
                problem(path + "." + name, "\"" + method + "\" needs it");
            }
        });
        given.forEach((name, p) -> {
            MethodSpec.Param d = declared.get(name);
            Unit unit = Unit.known(p.unit());
            if (d == null) {
                if (!elsewhere.contains(name)) {
                    problem(
                            path + "." + name,
                            "\"" + method + "\" has no use for it, and no formula reads it; it takes "
                                    + String.join(", ", declared.keySet()));
                }
            } else if (unit != null && !unit.dimension().equals(d.unit().dimension())) {
                problem(
                        path + "." + name + ".unit",
                        "\"" + method + "\" takes a " + d.unit().dimension() + ", not a " + unit.dimension());
            } else if (unit != null && p.value() != null && !d.has(p.value(), unit)) {
                problem(
                        path + "." + name + ".value",
                        "\"" + method + "\" takes " + d.low() + " to " + d.high() + " "
                                + d.unit().symbol() + ", not " + p.value() + " " + unit.symbol());
            } else if (unit != null && p.otherwise() != null && !d.has(p.otherwise(), unit)) {
                problem(
                        path + "." + name + ".otherwise",
                        "\"" + method + "\" takes " + d.low() + " to " + d.high() + " "
                                + d.unit().symbol() + ", not " + p.otherwise() + " " + unit.symbol());
            }
        });
    }

    /** What may be changed after something was measured with it must not be what anything is judged by. */
    private void learned(String path, Step step, MethodSpec spec) {
        step.params().forEach((name, p) -> {
            if (!Boolean.TRUE.equals(p.learned())) {
                return;
            }
            String at = path + "." + name + ".learned";
            if (!spec.learned().containsKey(name)) {
                problem(at, "\"" + spec.name() + "\" does not learn it");
            } else if (referred(step).contains(name)) {
                problem(at, "a formula reads it, so that it is more than what drives the test");
            } else if (p.range() == null) {
                problem(at, "what is learned needs a range");
            }
        });
    }

    /** Parameters that formulas and limits of the step read. */
    private static Set<String> referred(Step step) {
        Stream<String> inputs = Stream.concat(
                Stream.concat(step.params().values().stream(), step.maxima().values().stream())
                        .flatMap(p -> p.inputs().values().stream()),
                step.everyPoint().flatMap(ProcedureCheck::inputs));
        return inputs.filter(ref -> ref.startsWith("param:"))
                .map(ref -> ref.substring("param:".length()))
                .collect(Collectors.toSet());
    }

    private static Stream<String> inputs(TestPoint point) {
        Stream<String> corrections = point.allCorrections().stream()
                .flatMap(c -> Stream.concat(c.inputs().values().stream(), Stream.ofNullable(c.of())));
        return Stream.concat(corrections, limitInputs(point));
    }

    private static Stream<String> limitInputs(TestPoint point) {
        LimitKind kind = point.limit() == null ? null : point.limit().kind();
        if (kind instanceof LimitKind.Formula formula) {
            return formula.inputs().values().stream();
        } else if (kind instanceof LimitKind.Table table) {
            return table.by() == null ? Stream.of(table.of()) : Stream.of(table.of(), table.by());
        }
        if (kind instanceof LimitKind.Standard standard) {
            return standard.where().values().stream().filter(InputRef::looksLike);
        }
        return kind instanceof LimitKind.Along along ? Stream.of(along.of()) : Stream.empty();
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
        corrections(path, step, point);
        if (step.kind() == StepKind.DERIVATION && step.method() == null) {
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
            if (table.by() != null) {
                reference(path + ".by", step, table.by());
            }
        } else if (kind instanceof LimitKind.Standard standard) {
            standard(path, step, standard);
        } else if (kind instanceof LimitKind.Along along) {
            reference(path + ".of", step, along.of());
        } else if (kind instanceof LimitKind.Spread && step.lanes() == null) {
            problem(path, "a spread between lanes needs a step with lanes");
        }
    }

    private void standard(String path, Step step, LimitKind.Standard standard) {
        standard.where().forEach((heading, of) -> {
            if (InputRef.looksLike(of)) {
                reference(path + ".where." + heading, step, of);
            }
        });
        // All tables of a group have the columns of the first.
        StandardTable known = tables.stream()
                .filter(t -> t.group().equals(standard.group()))
                .findFirst()
                .orElse(null);
        if (known == null) {
            problem(path + ".group", "there are no tables of \"" + standard.group() + "\"");
            return;
        }
        try {
            LimitTable.of(known)
                    .unmatched(standard.where().keySet())
                    .forEach(heading -> problem(
                            path + ".where." + heading, "tables of \"" + standard.group() + "\" go by other columns"));
        } catch (StandardTable.FaultException e) {
            problem(path + ".group", "tables of \"" + standard.group() + "\" give no limits");
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
