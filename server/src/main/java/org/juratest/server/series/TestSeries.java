package org.juratest.server.series;

import java.time.Instant;
import java.util.List;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Verdict;
import org.juratest.core.series.RunningNumber;

/**
 * A series at a position.
 *
 * @param like what the next device is made like: what stands there, or stood there last; absent before the first
 * @param procedure the next one is tested by; absent before one was chosen
 * @param procedures it may be tested by
 * @param ahead numbers of the next devices, the next one first; empty where the series is at its end
 * @param taken device that has the next number already; absent where none has
 * @param open run that is open there; absent where none is
 * @param version of the series, for {@link SeriesForm#seen}; 0 before it was kept
 * @param done devices that were tested there, newest first
 */
record TestSeries(
        String position,
        String title,
        String site,
        String zone,
        @Nullable SeriesLike like,
        @Nullable String procedure,
        List<SeriesProcedure> procedures,
        String pattern,
        List<SeriesField> fields,
        List<String> ahead,
        @Nullable String taken,
        @Nullable SeriesOpen open,
        long version,
        List<SeriesItem> done) {

    /** A device that others are made like. */
    record SeriesLike(String asset, String className, String maker, String model, String serial) {}

    /** A procedure by which devices of the class may be tested. */
    record SeriesProcedure(String code, String title) {}

    /** A field of the number; see {@link RunningNumber.Field}. */
    record SeriesField(String name, String value, boolean runs, @Nullable String first, @Nullable String last) {

        static SeriesField of(RunningNumber.Field f) {
            return new SeriesField(f.name(), f.value(), f.runs(), f.first(), f.last());
        }

        RunningNumber.Field field() {
            return new RunningNumber.Field(name, value.strip(), runs, blank(first), blank(last));
        }

        private static @Nullable String blank(@Nullable String text) {
            return text == null || text.isBlank() ? null : text.strip();
        }
    }

    /** A run that is open, and on what. */
    record SeriesOpen(UUID run, String serial, String procedure) {}

    /**
     * A device that was tested.
     *
     * @param record number of its record
     * @param failed points that failed
     */
    record SeriesItem(
            String asset, String serial, String record, Instant at, Verdict verdict, boolean complete, int failed) {}

    /**
     * How a series goes on.
     *
     * @param seen version it was changed from
     */
    record SeriesForm(String procedure, String pattern, List<SeriesField> fields, long seen) {}

    /**
     * The next device.
     *
     * @param serial number it carries, as it was shown
     */
    record SeriesNext(String serial) {}

    /** What was begun. */
    record SeriesStarted(UUID run, String asset, String serial) {}
}
