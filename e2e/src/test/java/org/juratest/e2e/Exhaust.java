package org.juratest.e2e;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/** Stands in for the server: runs out of memory in a thread of its own the first time, waits to be ended the second. */
final class Exhaust {

    private Exhaust() {}

    /** @param arguments a file that gets a line each time this is started */
    public static void main(String[] arguments) throws Exception {
        Path starts = Path.of(arguments[0]);
        boolean first = !Files.exists(starts);
        Files.writeString(starts, Files.exists(starts) ? "first\nsecond\n" : "first\n");
        Thread.sleep(1500);
        if (first) {
            Thread greedy = new Thread(() -> {
                List<byte[]> all = new ArrayList<>();
                while (true) {
                    all.add(new byte[1 << 24]);
                }
            });
            greedy.start();
        }
        // Like an acceptor that goes on when another thread has died: without the script's option this never ends.
        Thread.sleep(60_000);
    }
}
