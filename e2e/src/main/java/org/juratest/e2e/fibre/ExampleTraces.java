package org.juratest.e2e.fibre;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.RunState;
import org.juratest.formats.family.fibre.SorCaptures;
import org.juratest.formats.sor.SorFile;
import org.juratest.formats.sor.SorReader;
import org.juratest.formats.sor.SorWriter;

/**
 * Makes the folder of trace files that shows how files are brought in: links of the valley as the reflectometer sees
 * them from both ends, and three files that nobody can use as they are.
 */
public final class ExampleTraces {

    private static final int FIBRES = 5;
    private static final double FACTOR = 200;

    private ExampleTraces() {}

    /** @param arguments the folder to write into */
    public static void main(String[] arguments) throws IOException {
        Path folder = Path.of(arguments[0]);
        Files.createDirectories(folder);
        Map<String, byte[]> files = new TreeMap<>();
        for (String position : List.of("PRA-FIB-01", "MFR-FIB-01", "VAU-FIB-01")) {
            files.putAll(of(position));
        }
        spoil(files);
        for (Map.Entry<String, byte[]> file : files.entrySet()) {
            Files.write(folder.resolve(file.getKey()), file.getValue());
        }
    }

    /** The files of a link: cable_fibre_from_to_wavelength. */
    public static Map<String, byte[]> of(String position) throws IOException {
        SorCaptures format = new SorCaptures();
        Map<String, byte[]> files = new TreeMap<>();
        try (FibreRig rig = new FibreRig(position, "fib-accept-1", FACTOR)) {
            int fibre = 0;
            for (int n = 1; n <= FIBRES; n++) {
                // Nobody sends light into a fibre with traffic.
                fibre += position.equals("PRA-FIB-01") && fibre == 2 ? 2 : 1;
                for (String step : List.of("trace1310", "trace1550", "trace1310far", "trace1550far")) {
                    Attempt attempt = rig.measure(step, String.valueOf(fibre));
                    if (attempt.outcome() != Attempt.Outcome.VALID) {
                        throw new IOException(position + " " + step + " " + fibre + ": " + attempt.words());
                    }
                    RunState state = rig.state();
                    AttemptEvents.Captured captured = state.captures().stream()
                            .filter(c -> c.attempt().equals(attempt.id()))
                            .findFirst()
                            .orElseThrow();
                    byte[] bytes = format.write(state, captured, rig.trace(captured.sha256()))
                            .orElseThrow();
                    SorFile file = SorReader.read(bytes);
                    SorFile.General general = file.general().orElseThrow();
                    files.put(
                            String.format(
                                    "%s_%03d_%s_%s_%d.sor",
                                    general.cable(),
                                    fibre,
                                    word(general.from()),
                                    word(general.to()),
                                    general.wavelength()),
                            bytes);
                }
            }
        }
        return files;
    }

    private static String word(String place) {
        return place.replaceAll("[^A-Za-z].*", "");
    }

    /** One file breaks off, one is none at all, one is of a cable that nobody knows. */
    private static void spoil(Map<String, byte[]> files) {
        List<String> names = List.copyOf(files.keySet());
        String first = names.get(3);
        files.put(first, Arrays.copyOf(files.get(first), files.get(first).length / 3));
        String second = names.get(17);
        files.put(second, "Traces of the valley, see list.\n".getBytes(StandardCharsets.UTF_8));
        String third = names.get(51);
        SorFile file = SorReader.read(files.remove(third));
        List<SorFile.Block> blocks = file.blocks().stream()
                .map(b -> b instanceof SorFile.General g ? unknown(g) : b)
                .toList();
        files.put("OLD-07_001_A_B_1550.sor", SorWriter.write(new SorFile(file.edition(), file.revision(), blocks)));
    }

    private static SorFile.Block unknown(SorFile.General g) {
        return new SorFile.General(
                g.revision(),
                g.language(),
                "OLD-07",
                "1",
                g.fibreType(),
                g.wavelength(),
                "A",
                "B",
                "",
                g.condition(),
                g.userOffset(),
                g.userOffsetDistance(),
                g.operator(),
                g.comment(),
                g.rest());
    }
}
