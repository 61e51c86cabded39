package org.juratest.web;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.OutputStreamWriter;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.Arrays;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The page's state without a page: its modules, bundled and run by node, called line by line. */
final class Page implements AutoCloseable {

    private static final JsonMapper JSON = JsonMapper.shared();
    private static final Path BUNDLE = Path.of("target", "scenarios");

    private final Process node;
    private final Writer in;
    private final BufferedReader out;

    Page() throws IOException, InterruptedException {
        Process bundling = new ProcessBuilder(
                        "node_modules/.bin/vite",
                        "build",
                        "--ssr",
                        "src/test/scenarios.ts",
                        "--outDir",
                        BUNDLE.toString(),
                        "--logLevel",
                        "warn")
                .inheritIO()
                .start();
        if (bundling.waitFor() != 0) {
            throw new IOException("the scenarios could not be bundled");
        }
        node = new ProcessBuilder("node", BUNDLE.resolve("scenarios.js").toString())
                .redirectError(ProcessBuilder.Redirect.INHERIT)
                .start();
        in = new OutputStreamWriter(node.getOutputStream(), StandardCharsets.UTF_8);
        out = node.inputReader(StandardCharsets.UTF_8);
    }

    /** Calls a scenario with arguments that are JSON, with single quotes in place of double ones. */
    JsonNode call(String scenario, String... arguments) {
        try {
            in.write("[\"" + scenario + "\""
                    + String.join(
                            "",
                            Arrays.stream(arguments)
                                    .map(a -> "," + a.replace('\'', '"').replace('\n', ' '))
                                    .toList())
                    + "]\n");
            in.flush();
            String answer = out.readLine();
            if (answer == null) {
                throw new IllegalStateException("the scenario " + scenario + " ended node");
            }
            return JSON.readTree(answer);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    @Override
    public void close() {
        node.destroy();
    }
}
