package org.juratest.server.people;

import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.juratest.server.web.NotAllowedException;
import org.springframework.stereotype.Component;

/** How far what somebody may do reaches: to their own, or also to what is others'. */
@Component
public class Reach {

    private final People people;

    Reach(People people) {
        this.people = people;
    }

    /** Whether somebody decides about others' jobs, files and acts as well. */
    public boolean isOverOthers(String person) {
        return people.byId(person).decidesForOthers();
    }

    /**
     * Refuses what is another's.
     *
     * @param owner whose it is; absent for nobody's
     * @param words what was refused, as a sentence
     * @throws NotAllowedException if it is another's and the person decides about their own only
     */
    public void own(String person, @Nullable String owner, String words) {
        if (owner != null && !Objects.equals(person, owner) && !isOverOthers(person)) {
            throw new NotAllowedException(words);
        }
    }
}
