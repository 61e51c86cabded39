package org.juratest.core.method;

import java.util.List;
import org.juratest.core.record.Chart;
import org.juratest.core.run.RunJudgement;
import org.juratest.core.run.RunState;
import org.juratest.core.standard.StandardTable;

/** The measuring methods of one family of assets; found by {@link java.util.ServiceLoader}. */
public interface MethodFamily {

    /** Methods, each with a name that no other has. */
    List<Method> methods();

    /** Ways to characterise leads; none where the family has no leads that take anything off. */
    default List<LeadCharacterisation> leads() {
        return List.of();
    }

    /** Tables of standards that come with its methods; people may edit them, and add others of the same groups. */
    default List<StandardTable> tables() {
        return List.of();
    }

    /**
     * Looks whether its methods could judge by a table of one of its groups.
     *
     * @throws StandardTable.FaultException naming the cell that is at fault
     */
    default void check(StandardTable table) {
        throw new StandardTable.FaultException("group", "Nothing judges by tables of \"" + table.group() + "\".");
    }

    /**
     * What is drawn of a run that its methods worked in, besides points, traces, pictures and sounds, in order: on the
     * record, in comparisons and on paper.
     *
     * @param judgement of that run
     */
    default List<Chart> charts(RunState run, RunJudgement judgement) {
        return List.of();
    }
}
