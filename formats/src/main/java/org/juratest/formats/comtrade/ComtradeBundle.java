package org.juratest.formats.comtrade;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.juratest.formats.comtrade.Comtrade.Form;

/**
 * A record as the one file that the edition of 2013 has for it ({@code .cff}, C37.111-2013): configuration and data,
 * each after a line that names it; parts of information and heading may stand between and are passed over.
 */
public final class ComtradeBundle {

    /** End of the names of such files. */
    public static final String SUFFIX = ".cff";

    private static final String FILE = "bundle";
    private static final String END = "\r\n";
    private static final String BEGINS = "--- file type: ";
    private static final Pattern PART = Pattern.compile(
            "---\\s*file type:\\s*(CFG|INF|HDR|DAT)(?:\\s+([A-Z0-9]+))?(?:\\s*:\\s*(\\d+))?\\s*---",
            Pattern.CASE_INSENSITIVE);

    private ComtradeBundle() {}

    /** Whether bytes begin as such a file does. */
    public static boolean begins(byte[] bytes) {
        String head = new String(bytes, 0, Math.min(bytes.length, 60), StandardCharsets.UTF_8);
        return PART.matcher(head.strip()).lookingAt();
    }

    /**
     * Writes a record.
     *
     * @throws IllegalArgumentException as {@link ComtradeWriter#write}
     */
    public static byte[] write(Comtrade record, Form form) {
        ComtradeWriter.Files files = ComtradeWriter.write(record, 2013, form);
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        out.writeBytes((BEGINS + "CFG ---" + END).getBytes(StandardCharsets.US_ASCII));
        out.writeBytes(files.configuration());
        for (String empty : new String[] {"INF", "HDR"}) {
            out.writeBytes((BEGINS + empty + " ---" + END).getBytes(StandardCharsets.US_ASCII));
        }
        String count = form == Form.ASCII ? "" : ": " + files.data().length;
        out.writeBytes((BEGINS + "DAT " + form + count + " ---" + END).getBytes(StandardCharsets.US_ASCII));
        out.writeBytes(files.data());
        return out.toByteArray();
    }

    /**
     * Reads a record.
     *
     * @throws ComtradeException naming line or byte of the part at fault
     */
    public static Comtrade read(byte[] bytes) {
        int at = 0;
        byte @Nullable [] configuration = null;
        while (true) {
            int line = endOfLine(bytes, at);
            if (line < 0) {
                throw ComtradeException.at(FILE, at, "it ends before its data");
            }
            Matcher part = PART.matcher(new String(bytes, at, line - at, StandardCharsets.UTF_8).strip());
            if (!part.matches()) {
                throw ComtradeException.at(FILE, at, "here a line names the part that follows");
            }
            int body = line + 1;
            String type = part.group(1).toUpperCase(Locale.ROOT);
            if (type.equals("DAT")) {
                if (configuration == null) {
                    throw ComtradeException.at(FILE, at, "data stand before their configuration");
                }
                return ComtradeReader.read(configuration, data(bytes, body, part.group(3)));
            }
            int next = nextPart(bytes, body);
            if (next < 0) {
                throw ComtradeException.at(FILE, bytes.length, "it ends before its data");
            }
            if (type.equals("CFG")) {
                configuration = java.util.Arrays.copyOfRange(bytes, body, next);
            }
            at = next;
        }
    }

    private static byte[] data(byte[] bytes, int from, @Nullable String count) {
        int there = bytes.length - from;
        long told = count == null || count.length() > 12 ? there : Long.parseLong(count);
        if (count != null && (count.length() > 12 || told > there)) {
            throw ComtradeException.at(
                    FILE, from, "it announces " + count + " bytes of data, and " + there + " follow");
        }
        return java.util.Arrays.copyOfRange(bytes, from, from + (int) told);
    }

    private static int endOfLine(byte[] bytes, int from) {
        for (int i = from; i < bytes.length; i++) {
            if (bytes[i] == '\n') {
                return i;
            }
        }
        return -1;
    }

    /** Where a line begins that names a part; -1 for nowhere. */
    private static int nextPart(byte[] bytes, int from) {
        int at = from;
        while (at < bytes.length) {
            int end = endOfLine(bytes, at);
            int length = (end < 0 ? bytes.length : end) - at;
            if (length >= 3 && length < 80 && bytes[at] == '-' && bytes[at + 1] == '-' && bytes[at + 2] == '-') {
                return at;
            }
            if (end < 0) {
                return -1;
            }
            at = end + 1;
        }
        return -1;
    }
}
