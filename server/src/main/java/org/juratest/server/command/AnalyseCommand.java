package org.juratest.server.command;

import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import org.juratest.core.run.Refusal;
import org.juratest.formats.analyse.Analyses;
import org.juratest.formats.json.CoreJson;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;
import tools.jackson.databind.node.ObjectNode;

/**
 * {@code analyse KIND INPUT...}: analyses a file and prints one JSON object; with {@code --each} one a line and input.
 */
@Command(name = "analyse", description = "Analyses a file and prints JSON")
final class AnalyseCommand implements Callable<Integer> {

    @Parameters(index = "0", paramLabel = "KIND", description = "what is in the file; an unknown kind lists all")
    private String kind = "";

    @Parameters(index = "1..*", arity = "1..*", paramLabel = "INPUT")
    private List<String> inputs = List.of();

    @Option(names = "--each", description = "many inputs, each analysed alone, one JSON object a line")
    private boolean each;

    @Spec
    private @Nullable CommandSpec spec;

    @Override
    public Integer call() {
        if (spec == null) {
            throw new IllegalStateException("not run as a command");
        }
        PrintWriter out = spec.commandLine().getOut();
        if (!each && inputs.size() != 1) {
            out.println(refusal(
                    new Refusal("one-input", "one input is analysed at a time; with --each any number", "INPUT")));
            return Commands.REFUSED;
        }
        int exit = 0;
        for (String input : inputs) {
            ObjectNode result;
            try {
                result = Analyses.byKind(kind)
                        .orElseThrow(() -> new Refusal(
                                "unknown-kind",
                                "there is no analysis \"" + kind + "\"; there are "
                                        + String.join(", ", Analyses.kinds()),
                                "KIND"))
                        .of(Path.of(input));
            } catch (Refusal e) {
                result = refusal(e);
                exit = Commands.REFUSED;
            } catch (IOException e) {
                result = refusal(new Refusal("cannot-read", "\"" + input + "\" cannot be read: " + reason(e), "INPUT"));
                exit = Commands.REFUSED;
            }
            out.println(result);
        }
        out.flush();
        return exit;
    }

    private static String reason(IOException e) {
        if (e instanceof java.nio.file.NoSuchFileException) {
            return "there is no such file";
        }
        return e instanceof java.nio.charset.CharacterCodingException
                ? "it is not UTF-8 text"
                : String.valueOf(e.getMessage());
    }

    private static ObjectNode refusal(Refusal e) {
        ObjectNode error = CoreJson.mapper().createObjectNode();
        error.putObject("error").put("code", e.code()).put("field", e.field()).put("reason", e.getMessage());
        return error;
    }
}
