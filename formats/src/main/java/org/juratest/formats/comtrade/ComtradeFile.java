package org.juratest.formats.comtrade;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Locale;
import java.util.stream.Stream;
import org.juratest.core.run.Refusal;

/** The two files of a record, side by side in a folder: one is named, the other has its name and the other ending. */
public final class ComtradeFile {

    private static final String CONFIGURATION = ".cfg";
    private static final String DATA = ".dat";

    private ComtradeFile() {}

    /**
     * Reads a record.
     *
     * @param configuration its file that ends in {@code .cfg}, in small or capital letters
     * @throws Refusal if the name has another ending, there is no data file beside it, or one is too large
     * @throws ComtradeException naming file and line or byte at fault
     */
    public static Comtrade read(Path configuration) throws IOException {
        String name = configuration.getFileName().toString();
        String low = name.toLowerCase(Locale.ROOT);
        if (!low.endsWith(CONFIGURATION)) {
            throw new Refusal("bad-name", "name the configuration of the record, the file that ends in .cfg", "INPUT");
        }
        bounded(configuration, ComtradeReader.MOST_CONFIGURATION);
        byte[] head = Files.readAllBytes(configuration);
        String other = low.substring(0, low.length() - CONFIGURATION.length()) + DATA;
        Path folder = configuration.toAbsolutePath().getParent();
        Path data;
        try (Stream<Path> beside = Files.list(folder)) {
            data = beside.filter(p ->
                            p.getFileName().toString().toLowerCase(Locale.ROOT).equals(other))
                    .sorted()
                    .findFirst()
                    .orElseThrow(() -> new Refusal(
                            "no-data",
                            "there is no " + other + " beside " + name + ": a record is two files",
                            "INPUT"));
        }
        bounded(data, ComtradeReader.MOST_DATA);
        return ComtradeReader.read(head, Files.readAllBytes(data));
    }

    private static void bounded(Path file, long most) throws IOException {
        if (Files.size(file) > most) {
            throw new Refusal("too-large", file.getFileName() + " is larger than " + most + " bytes", "INPUT");
        }
    }
}
