package org.juratest.formats.table;

import java.io.IOException;
import java.io.StringReader;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.Charset;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.Consumer;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;
import org.jspecify.annotations.Nullable;

/**
 * A table of separated values (RFC 4180 and its relatives): which encoding and separator it has, and its rows.
 *
 * @param encoding of the bytes
 * @param separator between cells
 * @param text all of it, without byte order mark
 */
public record TableText(Encoding encoding, char separator, String text) {

    /** Encodings that spreadsheets write. */
    public enum Encoding {
        UTF_8("UTF-8"),
        UTF_16_LE("UTF-16LE"),
        UTF_16_BE("UTF-16BE"),
        WINDOWS_1252("windows-1252");

        private final String label;

        Encoding(String label) {
            this.label = label;
        }

        /** Its registered name (IANA). */
        public String label() {
            return label;
        }

        /** @throws TableException if there is none of that name */
        public static Encoding of(String label) {
            return Arrays.stream(values())
                    .filter(e -> e.label.equalsIgnoreCase(label))
                    .findFirst()
                    .orElseThrow(() -> new TableException(
                            "encoding",
                            "the encoding is one of "
                                    + String.join(
                                            ", ",
                                            Arrays.stream(values())
                                                    .map(Encoding::label)
                                                    .toList()) + "; not \"" + label + "\""));
        }
    }

    /** Separators looked for, likeliest first where they are equally many. */
    public static final String SEPARATORS = ",;\t|";
    /** Lines that the separator is looked for in. */
    private static final int LOOKED_AT = 20;

    private static final int LONGEST_LINE = 100_000;

    /**
     * Reads bytes as a table.
     *
     * @param encoding what a person said it is; absent to find out: byte order mark, else UTF-8 if it is valid, else
     *     windows-1252
     * @param separator what a person said it is; absent to find out
     * @throws TableException naming the byte that the encoding does not know, or what else is wrong
     */
    public static TableText of(byte[] bytes, @Nullable Encoding encoding, @Nullable Character separator) {
        Encoding used = encoding == null ? marked(bytes) : encoding;
        String text;
        try {
            text = decoded(bytes, used == null ? Encoding.UTF_8 : used);
            used = used == null ? Encoding.UTF_8 : used;
        } catch (TableException e) {
            if (used != null) {
                throw e;
            }
            // Not an error: this is how it is found out.
            used = Encoding.WINDOWS_1252;
            text = decoded(bytes, used);
        }
        if (text.isBlank()) {
            throw new TableException("file", "the file is empty");
        }
        int nul = text.indexOf('\0');
        if (nul >= 0) {
            throw new TableException(
                    "file",
                    "character " + (nul + 1) + " is a zero byte, which no table of text has; save the sheet as CSV");
        }
        return new TableText(used, separator == null ? separator(text) : separator, text);
    }

    /**
     * The encoding that a byte order mark tells; null where there is none, or that of UTF-8, which tells nothing more.
     */
    private static @Nullable Encoding marked(byte[] bytes) {
        if (bytes.length < 2) {
            return null;
        }
        int mark = (bytes[0] & 0xFF) << 8 | bytes[1] & 0xFF;
        return mark == 0xFFFE ? Encoding.UTF_16_LE : mark == 0xFEFF ? Encoding.UTF_16_BE : null;
    }

    private static String decoded(byte[] bytes, Encoding encoding) {
        ByteBuffer in = ByteBuffer.wrap(bytes);
        try {
            String text = Charset.forName(encoding.label)
                    .newDecoder()
                    .onMalformedInput(CodingErrorAction.REPORT)
                    .onUnmappableCharacter(CodingErrorAction.REPORT)
                    .decode(in)
                    .toString();
            return text.startsWith("\uFEFF") ? text.substring(1) : text;
        } catch (CharacterCodingException e) {
            int at = in.position();
            throw new TableException(
                    "encoding",
                    "byte " + (at + 1) + " (line "
                            + (1
                                    + new String(bytes, 0, at, StandardCharsets.ISO_8859_1)
                                            .chars()
                                            .filter(c -> c == '\n')
                                            .count())
                            + ") is not " + encoding.label + "; choose another encoding, or save the sheet as UTF-8");
        }
    }

    /** The separator that cuts the first lines into most cells, the same number each; cells in quotes count as one. */
    private static char separator(String text) {
        char best = SEPARATORS.charAt(0);
        int most = 0;
        for (char candidate : SEPARATORS.toCharArray()) {
            int[] counts = counts(text, candidate);
            // The header decides; lines that agree with it weigh more than a header alone that happens to have the
            // character in a title.
            int agreeing =
                    (int) Arrays.stream(counts).filter(c -> c == counts[0]).count();
            int weight = counts[0] <= 1 ? 0 : counts[0] * agreeing;
            if (weight > most) {
                most = weight;
                best = candidate;
            }
        }
        return best;
    }

    private static int[] counts(String text, char candidate) {
        List<Integer> counts = new ArrayList<>();
        int cells = 1;
        boolean quoted = false;
        for (int i = 0; i < Math.min(text.length(), LONGEST_LINE) && counts.size() < LOOKED_AT; i++) {
            char c = text.charAt(i);
            if (c == '"') {
                quoted = !quoted;
            } else if (!quoted && c == candidate) {
                cells++;
            } else if (!quoted && c == '\n') {
                counts.add(cells);
                cells = 1;
            }
        }
        if (counts.isEmpty()) {
            counts.add(cells);
        }
        return counts.stream().mapToInt(Integer::intValue).toArray();
    }

    /**
     * One row.
     *
     * @param line number of the line it begins at, from 1, as an editor counts
     * @param cells without what guards formulas
     */
    public record Row(long line, List<String> cells) {}

    /**
     * The first row that is not blank.
     *
     * @throws TableException as {@link #rows} does
     */
    public List<String> header() {
        List<String> header = new ArrayList<>();
        try {
            rows(row -> {
                header.addAll(row.cells());
                throw new Enough();
            });
        } catch (Enough e) {
            return header;
        }
        return header;
    }

    private static final class Enough extends RuntimeException {
        Enough() {
            super("the first row is all that is wanted", null, false, false);
        }
    }

    /**
     * Hands out all rows, the header first; rows whose cells are all blank are left out.
     *
     * @throws TableException naming the line where a quote is not closed or stands where none may
     */
    public void rows(Consumer<Row> use) {
        CSVFormat format = CSVFormat.RFC4180
                .builder()
                .setDelimiter(separator)
                .setIgnoreEmptyLines(false)
                .get();
        long line = 1;
        try (CSVParser parser = CSVParser.parse(new StringReader(text), format)) {
            var all = parser.iterator();
            while (true) {
                line = parser.getCurrentLineNumber() + 1;
                if (!all.hasNext()) {
                    return;
                }
                CSVRecord record = all.next();
                if (record.stream().anyMatch(c -> !c.isBlank())) {
                    use.accept(
                            new Row(line, record.stream().map(CellText::plain).toList()));
                }
            }
        } catch (UncheckedIOException | IOException | IllegalStateException e) {
            throw new TableException(
                    "file",
                    "from line " + line
                            + " on, a cell in quotes is not closed, or something follows its closing quote; look "
                            + "at the quotes of that row");
        }
    }
}
