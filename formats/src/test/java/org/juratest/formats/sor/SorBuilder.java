package org.juratest.formats.sor;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;

/** Bytes of trace files as the standard's tables have them, written without the program's own writer. */
final class SorBuilder {

    /** A block of the map. */
    private record Part(String name, int revision, byte[] body) {}

    private final int edition;
    private final List<Part> parts = new ArrayList<>();

    SorBuilder(int edition) {
        this.edition = edition;
    }

    /** Little-endian numbers and texts in a row: Integer as 2 bytes, Long as 4, String with a zero, char[] without. */
    static byte[] row(Object... values) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        for (Object value : values) {
            if (value instanceof Integer i) {
                out.write(i);
                out.write(i >> 8);
            } else if (value instanceof Long l) {
                for (int shift = 0; shift < 32; shift += 8) {
                    out.write((int) (l >> shift));
                }
            } else if (value instanceof String s) {
                out.writeBytes(s.getBytes(StandardCharsets.ISO_8859_1));
                out.write(0);
            } else if (value instanceof char[] signs) {
                out.writeBytes(new String(signs).getBytes(StandardCharsets.ISO_8859_1));
            } else if (value instanceof byte[] raw) {
                out.writeBytes(raw);
            } else {
                throw new IllegalArgumentException(String.valueOf(value));
            }
        }
        return out.toByteArray();
    }

    static char[] signs(String text) {
        return text.toCharArray();
    }

    SorBuilder block(String name, int revision, Object... values) {
        byte[] body = row(values);
        parts.add(new Part(name, revision, edition == 2 ? row(name, body) : body));
        return this;
    }

    /** The whole, with its check sum where it has none yet. */
    byte[] bytes() {
        return bytes(0);
    }

    /** @param wrong what is added to the right check sum */
    byte[] bytes(int wrong) {
        byte[] name = edition == 2 ? row("Cksum") : new byte[0];
        ByteArrayOutputStream entries = new ByteArrayOutputStream();
        for (Part p : parts) {
            entries.writeBytes(row(p.name, p.revision, (long) p.body.length));
        }
        entries.writeBytes(row("Cksum", 200, (long) name.length + 2));
        byte[] head = edition == 2 ? row("Map") : new byte[0];
        long size = head.length + 8L + entries.size();
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        out.writeBytes(row(head, edition == 2 ? 200 : 100, size, parts.size() + 2, entries.toByteArray()));
        parts.forEach(p -> out.writeBytes(p.body));
        out.writeBytes(name);
        out.writeBytes(row(crc(out.toByteArray()) + wrong & 0xffff));
        return out.toByteArray();
    }

    /** Bit by bit, as the polynomial is divided. */
    static int crc(byte[] bytes) {
        int crc = 0xffff;
        for (byte b : bytes) {
            for (int bit = 7; bit >= 0; bit--) {
                boolean one = (crc >> 15 & 1) != (b >> bit & 1);
                crc = crc << 1 & 0xffff;
                if (one) {
                    crc ^= 0x1021;
                }
            }
        }
        return crc;
    }

    /** A file with every standard block and a supplier's own. */
    static SorBuilder full(int edition) {
        boolean two = edition == 2;
        byte[] none = new byte[0];
        return new SorBuilder(edition)
                .block(
                        "GenParams",
                        200,
                        signs("EN"),
                        "VAL-7",
                        "F\u00fcnf",
                        two ? row(652) : none,
                        1550,
                        "MFR",
                        "COL",
                        "C\u00b5",
                        signs("BC"),
                        -125L,
                        two ? row(-13L) : none,
                        "tavel",
                        "after the repair")
                .block("SupParams", 200, "Halmic", "T1", "17", "M4", "18", "2.1", "")
                .block(
                        "FxdParams",
                        200,
                        1_764_000_000L,
                        signs("km"),
                        15_501,
                        -40L,
                        two ? row(-4L) : none,
                        2,
                        30,
                        300,
                        50_000L,
                        100_000L,
                        5L,
                        3L,
                        146_800L,
                        815,
                        64_000L,
                        two ? row(150) : none,
                        2_000_000L,
                        two ? row(408L) : none,
                        7L,
                        42_000,
                        1000,
                        12_345,
                        50,
                        65_000,
                        3000,
                        two ? row(signs("ST"), 1L, -2L, 3L, 4L) : none)
                .block(
                        "KeyEvents",
                        200,
                        2,
                        row(1, 0L, 0, 0, -45_123L, signs("1F9999"), signs("LS")),
                        two ? row(1L, 2L, 3L, 4L, 5L) : none,
                        "front",
                        row(2, 61_500L, -3, -120, 0L, signs("0E9999"), signs("2P")),
                        two ? row(6L, 7L, 8L, 9L, 4_000_000_000L) : none,
                        "",
                        row(1_234L, 0L, 61_500L, 31_500, 0L, 61_500L))
                .block(
                        "LnkParams",
                        200,
                        1,
                        row(1, signs("SC"), 30_000L, 2, 712_345L, -4_512_345L, 150, 10L, 20L, signs("mt")),
                        two ? row(920) : none,
                        "closure 7")
                .block("MakersOwn", 107, two ? row("MakersOwn") : none, new byte[] {1, 0, -1, 77})
                .block("DataPts", 200, 8L, 2, 5L, 1000, 10_000, 10_400, 65_535, 0, 40_000, 3L, 2000, 1, 2, 3);
    }
}
