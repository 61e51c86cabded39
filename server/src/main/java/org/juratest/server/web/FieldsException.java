package org.juratest.server.web;

import java.util.List;
import org.juratest.core.register.FieldProblem;

/** What was typed is not right: every field at fault, each with its remedy. Nothing was stored. */
public final class FieldsException extends RuntimeException {

    private final transient List<FieldProblem> problems;

    public FieldsException(List<FieldProblem> problems) {
        super(problems.get(0).what());
        this.problems = List.copyOf(problems);
    }

    public static void throwIf(List<FieldProblem> problems) {
        if (!problems.isEmpty()) {
            throw new FieldsException(problems);
        }
    }

    public List<FieldProblem> problems() {
        return problems;
    }
}
