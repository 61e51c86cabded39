package org.juratest.core.family.meters;

import java.util.Collection;
import java.util.function.Supplier;
import org.juratest.core.method.Results;
import org.juratest.core.run.ReadingBuilder;

/** What of a method's points a step has: only those are kept, for a procedure need not ask for all that is read. */
final class Points {

    private Points() {}

    /** Keeps a reading where the step has its point; {@code reading} is made only then. */
    static void keep(Results results, String point, Supplier<ReadingBuilder> reading) {
        if (results.step().point(point).isPresent()) {
            results.keep(reading.get());
        }
    }

    /** Says of those points that the step has why they could not be measured. */
    static void notMeasurable(Results results, Collection<String> points, String words) {
        points.stream().filter(p -> results.step().point(p).isPresent()).forEach(p -> results.notMeasurable(p, words));
    }
}
