package org.juratest.server.command;

import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.juratest.core.run.Refusal;
import org.juratest.formats.analyse.Analyses;
import org.juratest.formats.analyse.Analysis;
import org.juratest.formats.analyse.RefusedInput;
import org.juratest.formats.json.CoreJson;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;
import tools.jackson.databind.node.ObjectNode;

/**
 * {@code analyse KIND INPUT...}: analyses a file and prints one JSON object; with {@code --each} one a line and input.
 * What else a kind wants to be told is given as {@code --name value}.
 */
@Command(name = "analyse", description = "Analyses a file and prints JSON")
final class AnalyseCommand implements Callable<Integer> {

    @Parameters(index = "0", paramLabel = "KIND", description = "what is in the file; an unknown kind lists all")
    private String kind = "";

    @Parameters(
            index = "1..*",
            arity = "1..*",
            paramLabel = "INPUT",
            description = "files, and what the kind wants to be told, as --name value")
    private List<String> given = List.of();

    @Option(names = "--each", description = "many inputs, each analysed alone, one JSON object a line")
    private boolean each;

    private @Nullable CommandSpec spec;

    @Spec
    void spec(CommandSpec of) {
        spec = of;
        // Each kind has options of its own, which are found with it.
        of.parser().unmatchedOptionsArePositionalParams(true);
    }

    @Override
    public Integer call() {
        if (spec == null) {
            throw new IllegalStateException("not run as a command");
        }
        PrintWriter out = spec.commandLine().getOut();
        int exit;
        try {
            Analysis analysis = Analyses.byKind(kind)
                    .orElseThrow(() -> new Refusal(
                            "unknown-kind",
                            "there is no analysis \"" + kind + "\"; there are " + String.join(", ", Analyses.kinds()),
                            "KIND"));
            exit = all(analysis, out);
        } catch (Refusal e) {
            out.println(refusal(e));
            exit = Commands.REFUSED;
        }
        out.flush();
        return exit;
    }

    private int all(Analysis analysis, PrintWriter out) {
        List<Path> inputs = new ArrayList<>();
        Map<String, String> options = new TreeMap<>();
        for (Iterator<String> i = given.iterator(); i.hasNext(); ) {
            String one = i.next();
            if (one.startsWith("--")) {
                option(analysis, one.substring(2), i, options);
            } else {
                inputs.add(path(one));
            }
        }
        analysis.options().stream()
                .filter(o -> o.needed() && !options.containsKey(o.name()))
                .findFirst()
                .ifPresent(o -> {
                    throw new Refusal("missing", "--" + o.name() + " is missing: " + o.words(), o.name());
                });
        if (inputs.isEmpty() || !each && inputs.size() != 1 && !analysis.isOfSeveral()) {
            throw new Refusal("one-input", "one input is analysed at a time; with --each any number", "INPUT");
        }
        int exit = 0;
        for (List<Path> some : each ? inputs.stream().map(List::of).toList() : List.of(inputs)) {
            exit = Math.max(exit, one(analysis, some, options, out));
        }
        return exit;
    }

    private static Path path(String text) {
        try {
            return Path.of(text);
        } catch (InvalidPathException e) {
            throw new Refusal("cannot-read", "an input has no name that a file can have: " + e.getReason(), "INPUT");
        }
    }

    private static void option(Analysis analysis, String text, Iterator<String> further, Map<String, String> into) {
        int equals = text.indexOf('=');
        String name = equals < 0 ? text : text.substring(0, equals);
        if (analysis.options().stream().noneMatch(o -> o.name().equals(name))) {
            throw new Refusal(
                    "unknown-option",
                    "\"" + analysis.kind() + "\" is told nothing by --" + name
                            + (analysis.options().isEmpty()
                                    ? ""
                                    : "; there " + (analysis.options().size() == 1 ? "is" : "are") + " "
                                            + analysis.options().stream()
                                                    .map(o -> "--" + o.name() + " (" + o.words() + ")")
                                                    .collect(Collectors.joining(", "))),
                    name);
        }
        if (equals < 0 && !further.hasNext()) {
            throw new Refusal("missing", "--" + name + " has no value behind it", name);
        }
        into.put(name, equals < 0 ? further.next() : text.substring(equals + 1));
    }

    private static int one(Analysis analysis, List<Path> inputs, Map<String, String> options, PrintWriter out) {
        try {
            out.println(analysis.of(inputs, options));
            return 0;
        } catch (Refusal e) {
            out.println(refusal(e));
        } catch (RefusedInput e) {
            ObjectNode error = CoreJson.mapper().createObjectNode();
            ObjectNode place = error.putObject("error");
            e.place().forEach((name, value) -> place.putPOJO(name, value));
            place.put("reason", e.getMessage());
            out.println(error);
        } catch (IOException e) {
            String named = inputs.stream().map(Path::toString).collect(Collectors.joining("\", \""));
            out.println(refusal(new Refusal("cannot-read", "\"" + named + "\" cannot be read: " + reason(e), "INPUT")));
        }
        return Commands.REFUSED;
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
