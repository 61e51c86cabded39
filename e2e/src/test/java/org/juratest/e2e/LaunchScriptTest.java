package org.juratest.e2e;

import static org.awaitility.Awaitility.await;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.File;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Duration;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * The launch script, with a Java that runs what the test says in place of the server, by the options the script gave.
 */
class LaunchScriptTest {

    @TempDir
    private Path folder;

    private Process kept(Path said) throws IOException {
        String real = ProcessHandle.current().info().command().orElseThrow();
        Path java = Files.createDirectories(folder.resolve("bin")).resolve("java");
        // The script's own options up to -jar, but those of its archive, which belongs to the server's classes.
        Files.writeString(
                java,
                """
        #!/bin/bash
        options=()
        while [ "$1" != -jar ]; do
          [[ $1 == -XX:SharedArchiveFile=* ]] || options+=("$1")
          shift
        done
        exec "%s" "${options[@]}" -Xmx64m -cp "%s" %s "%s"
        """
                        .formatted(
                                real,
                                Path.of("target", "test-classes").toAbsolutePath(),
                                Exhaust.class.getName(),
                                folder.resolve("starts")));
        Files.setPosixFilePermissions(java, PosixFilePermissions.fromString("rwxr-xr-x"));
        ProcessBuilder builder =
                new ProcessBuilder(Path.of("..", "juratest").toString(), "keep-server", folder.toString(), "1");
        builder.environment()
                .merge("PATH", folder.resolve("bin").toString(), (path, ours) -> ours + File.pathSeparator + path);
        return builder.redirectErrorStream(true).redirectOutput(said.toFile()).start();
    }

    @Test
    void aServerThatRanOutOfMemoryEndsAndIsStartedAgain() throws Exception {
        Path said = folder.resolve("said");
        Process script = kept(said);
        try {
            Path starts = folder.resolve("starts");
            await().atMost(Duration.ofSeconds(30))
                    .until(() -> !script.isAlive()
                            || Files.exists(starts) && Files.readString(starts).contains("second"));
            assertTrue(Files.readString(starts).contains("second"), Files.readString(said));
            assertTrue(Files.readString(said).contains("ended with exit code 3"), Files.readString(said));
            assertTrue(script.isAlive(), "and goes on being kept");
        } finally {
            script.destroy();
        }
        assertTrue(script.waitFor(20, TimeUnit.SECONDS), "the script ends when it is told to");
        assertEquals(0, script.exitValue());
        assertFalse(script.descendants().findAny().isPresent(), "with what it kept");
    }
}
