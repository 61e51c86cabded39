package org.juratest.core.method;

import java.util.List;

/** The measuring methods of one family of assets; found by {@link java.util.ServiceLoader}. */
public interface MethodFamily {

    /** Methods, each with a name that no other has. */
    List<Method> methods();

    /** Ways to characterise leads; none where the family has no leads that take anything off. */
    default List<LeadCharacterisation> leads() {
        return List.of();
    }
}
