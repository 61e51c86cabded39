package org.juratest.server.testset;

import java.util.List;
import java.util.UUID;
import org.jspecify.annotations.Nullable;

/**
 * What is tested in one go at a position.
 *
 * @param asset that stands there; absent where nothing does
 * @param items in the order they are done in
 * @param choices procedures for what stands there
 * @param next procedure to go on with of what was started and is not done; absent where a start begins anew
 * @param version for {@link TestSetForm#seen}; 0 before it was kept
 */
record TestSet(
        String position,
        String title,
        String site,
        @Nullable String asset,
        List<TestSetItem> items,
        List<TestSetChoice> choices,
        @Nullable String next,
        long version) {

    /**
     * One of them.
     *
     * @param variant it is begun by; absent for the procedure as it stands
     * @param open whether a job of it is open on what stands there
     * @param run that is open of it; absent where none is
     */
    record TestSetItem(
            String procedure,
            String title,
            @Nullable String variant,
            @Nullable String variantName,
            boolean open,
            @Nullable UUID run) {}

    /** A procedure with the variants there are of it. */
    record TestSetChoice(String code, String title, List<TestSetVariant> variants) {}

    record TestSetVariant(String code, String name) {}

    /** What a person asks for. */
    record TestSetWanted(String procedure, @Nullable String variant) {}

    /** @param seen version it was changed from */
    record TestSetForm(List<TestSetWanted> items, long seen) {}

    /**
     * What starting it made of it.
     *
     * @param run of the first that is not done, at the bench
     * @param jobs all that are not done, in their order
     */
    record TestSetStarted(UUID run, List<Long> jobs) {}
}
