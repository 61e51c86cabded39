package org.juratest.formats.capture;

import java.util.List;
import java.util.Optional;
import java.util.ServiceLoader;
import java.util.stream.Collectors;

/** The formats there are, whichever families bring them. */
public final class CaptureFormats {

    private static final List<CaptureFormat> ALL =
            ServiceLoader.load(CaptureFormat.class, CaptureFormats.class.getClassLoader()).stream()
                    .map(ServiceLoader.Provider::get)
                    .toList();

    private CaptureFormats() {}

    public static List<CaptureFormat> all() {
        return ALL;
    }

    /** The format a file seems to be of. */
    public static Optional<CaptureFormat> of(String name, byte[] bytes) {
        return ALL.stream().filter(f -> f.recognises(name, bytes)).findFirst();
    }

    /** Ends of the names of files that can be read: ".sor". */
    public static String suffixes() {
        return ALL.stream().map(CaptureFormat::suffix).sorted().collect(Collectors.joining(", "));
    }
}
