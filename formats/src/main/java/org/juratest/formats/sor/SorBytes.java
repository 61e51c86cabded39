package org.juratest.formats.sor;

import java.nio.charset.StandardCharsets;

/** The bytes of one block, one value after the other: little-endian, texts in Latin 1 with a zero behind them. */
final class SorBytes {

    private final byte[] bytes;
    private final String block;
    private final int to;
    private int at;

    SorBytes(byte[] bytes, String block, int from, int to) {
        this.bytes = bytes;
        this.block = block;
        this.at = from;
        this.to = to;
    }

    int at() {
        return at;
    }

    SorException fault(String reason) {
        return new SorException(block, at, reason);
    }

    private int take(int length, String what) {
        if (to - at < length) {
            throw fault(what + " needs " + length + (length == 1 ? " byte" : " bytes") + ", and " + Math.max(0, to - at)
                    + " are left");
        }
        at += length;
        return at - length;
    }

    int u16(String what) {
        int from = take(2, what);
        return bytes[from] & 0xff | (bytes[from + 1] & 0xff) << 8;
    }

    int i16(String what) {
        return (short) u16(what);
    }

    int i32(String what) {
        int from = take(4, what);
        return bytes[from] & 0xff
                | (bytes[from + 1] & 0xff) << 8
                | (bytes[from + 2] & 0xff) << 16
                | (bytes[from + 3] & 0xff) << 24;
    }

    long u32(String what) {
        return i32(what) & 0xffff_ffffL;
    }

    /** So many signs, without an end. */
    String signs(int count, String what) {
        int from = take(count, what);
        return new String(bytes, from, count, StandardCharsets.ISO_8859_1);
    }

    /** Up to a zero. */
    String text(String what) {
        int end = at;
        while (end < to && bytes[end] != 0) {
            end++;
        }
        if (end >= to) {
            throw fault(what + " has no end within the block");
        }
        String text = new String(bytes, at, end - at, StandardCharsets.ISO_8859_1);
        at = end + 1;
        return text;
    }

    /**
     * A number of things of which each takes some bytes at least: more than there can be is refused before any is read.
     */
    int count(long count, int least, String what) {
        if (count * least > to - at) {
            throw fault(count + " " + what + " do not go into the " + (to - at) + " bytes that are left");
        }
        return (int) count;
    }

    short[] codes(int count) {
        int from = take(2 * count, "the samples");
        short[] codes = new short[count];
        for (int i = 0; i < count; i++) {
            codes[i] = (short) (bytes[from + 2 * i] & 0xff | (bytes[from + 2 * i + 1] & 0xff) << 8);
        }
        return codes;
    }

    byte[] rest() {
        byte[] rest = java.util.Arrays.copyOfRange(bytes, at, to);
        at = to;
        return rest;
    }
}
