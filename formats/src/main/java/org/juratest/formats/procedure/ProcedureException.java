package org.juratest.formats.procedure;

import java.util.List;
import java.util.stream.Collectors;
import org.juratest.core.procedure.ProcedureCheck;

/** A procedure document that cannot be used, with every problem found. */
public final class ProcedureException extends IllegalArgumentException {

    private final transient List<ProcedureCheck.Problem> problems;

    ProcedureException(List<ProcedureCheck.Problem> problems) {
        super(problems.stream().map(Object::toString).collect(Collectors.joining("; ")));
        this.problems = List.copyOf(problems);
    }

    public List<ProcedureCheck.Problem> problems() {
        return problems;
    }
}
