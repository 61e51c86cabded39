package org.juratest.simulators;

import java.io.IOException;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * What the stand-ins did, one line each: time of day, milliseconds on a monotonic clock, gear, event. It is the witness
 * by which the time from the last feed to the output going off is told.
 */
public final class StandInLog {

    private final @Nullable PrintWriter out;
    private final long start = System.nanoTime();

    private StandInLog(@Nullable PrintWriter out) {
        this.out = out;
    }

    /** A log that keeps nothing. */
    public static StandInLog none() {
        return new StandInLog(null);
    }

    /** Appends to a file. */
    public static StandInLog to(Path file) throws IOException {
        return new StandInLog(new PrintWriter(
                Files.newBufferedWriter(
                        file, StandardCharsets.UTF_8, StandardOpenOption.CREATE, StandardOpenOption.APPEND),
                true));
    }

    public synchronized void write(String gear, String event) {
        if (out != null) {
            out.println(Instant.now() + " " + (System.nanoTime() - start) / 1_000_000 + " " + gear + " " + event);
        }
    }
}
