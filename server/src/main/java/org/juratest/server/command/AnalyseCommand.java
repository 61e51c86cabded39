package org.juratest.server.command;

import java.io.IOException;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalDouble;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import org.juratest.core.run.Refusal;
import org.juratest.formats.curve.CurveTable;
import org.juratest.formats.json.CoreJson;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * {@code analyse KIND INPUT...}: analyses a file and prints one JSON object; with {@code --each} one a line and input.
 */
@Command(name = "analyse", description = "Analyses a file and prints JSON")
final class AnalyseCommand implements Callable<Integer> {

    @Parameters(index = "0", paramLabel = "KIND", description = "curve, audio, fm or fsk4")
    private String kind = "";

    @Parameters(index = "1..*", arity = "1..*", paramLabel = "INPUT")
    private List<String> inputs = List.of();

    @Option(names = "--each", description = "many inputs, each analysed alone, one JSON object a line")
    private boolean each;

    @Spec
    private @Nullable CommandSpec spec;

    /** An analysis of one input. */
    private interface Analysis {
        ObjectNode of(String input) throws IOException;
    }

    private static final Map<String, Analysis> KINDS = new LinkedHashMap<>();

    static {
        KINDS.put("curve", AnalyseCommand::curve);
        KINDS.put("audio", SignalFiles::audio);
        KINDS.put("fm", SignalFiles::fm);
        KINDS.put("fsk4", SignalFiles::fsk4);
    }

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
                Analysis analysis = KINDS.get(kind);
                if (analysis == null) {
                    throw new Refusal(
                            "unknown-kind",
                            "there is no analysis \"" + kind + "\"; there are " + String.join(", ", KINDS.keySet()),
                            "KIND");
                }
                result = analysis.of(input);
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

    private static ObjectNode curve(String input) throws IOException {
        List<CurveTable.Row> rows;
        try (var in = Files.newBufferedReader(Path.of(input), StandardCharsets.UTF_8)) {
            rows = CurveTable.read(in);
        } catch (IllegalArgumentException e) {
            throw new Refusal("bad-table", String.valueOf(e.getMessage()), "INPUT");
        }
        ObjectNode result = CoreJson.mapper().createObjectNode();
        ArrayNode points = result.putArray("points");
        List<String> warnings = new ArrayList<>();
        for (CurveTable.Row row : rows) {
            ObjectNode point = points.addObject();
            put(point, "trip_s", row.curve().tripTime(row.timeSetting(), row.multiple()));
            put(point, "reset_s", row.curve().resetTime(row.timeSetting(), row.multiple()));
            if (row.curve() == org.juratest.core.curve.InverseTimeCurve.LTI && warnings.isEmpty()) {
                warnings.add("lti is common practice, not in the table of IEC 60255-151");
            }
        }
        ArrayNode list = result.putArray("warnings");
        warnings.forEach(list::add);
        return result;
    }

    static void put(ObjectNode node, String name, OptionalDouble value) {
        if (value.isPresent()) {
            node.put(name, value.getAsDouble());
        } else {
            node.putNull(name);
        }
    }
}
