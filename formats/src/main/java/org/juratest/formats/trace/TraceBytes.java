package org.juratest.formats.trace;

import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import org.juratest.core.quantity.Unit;
import org.juratest.core.trace.Trace;

/**
 * A trace as bytes, big-endian: {@code JTR1}; three texts (name, UCUM code of x, of y), each as a 16-bit count of bytes
 * and its UTF-8; a 32-bit count of values; all x and then all y as IEEE 754 doubles.
 */
public final class TraceBytes {

    /** Media type of these bytes. */
    public static final String MEDIA_TYPE = "application/x-juratest-trace";

    private static final byte[] MAGIC = {'J', 'T', 'R', '1'};

    private TraceBytes() {}

    public static byte[] write(Trace trace) {
        byte[][] texts = {
            bytes(trace.name()),
            bytes(trace.xUnit().code()),
            bytes(trace.yUnit().code())
        };
        double[] x = trace.x();
        double[] y = trace.y();
        int size = MAGIC.length + 4 + 16 * x.length;
        for (byte[] text : texts) {
            size += 2 + text.length;
        }
        ByteBuffer out = ByteBuffer.allocate(size).put(MAGIC);
        for (byte[] text : texts) {
            out.putShort((short) text.length).put(text);
        }
        out.putInt(x.length);
        out.asDoubleBuffer().put(x).put(y);
        return out.array();
    }

    private static byte[] bytes(String text) {
        byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
        if (bytes.length > Short.MAX_VALUE) {
            throw new IllegalArgumentException("a name of " + bytes.length + " bytes is too long for a trace");
        }
        return bytes;
    }

    /** @throws IllegalArgumentException naming the byte at which the bytes are not a trace */
    public static Trace read(byte[] bytes) {
        ByteBuffer in = ByteBuffer.wrap(bytes);
        need(in, MAGIC.length);
        for (int i = 0; i < MAGIC.length; i++) {
            if (in.get() != MAGIC[i]) {
                throw new IllegalArgumentException("byte " + i + ": these bytes do not begin as a trace does");
            }
        }
        String name = text(in);
        Unit xUnit = Unit.of(text(in));
        Unit yUnit = Unit.of(text(in));
        need(in, 4);
        int count = in.getInt();
        if (count < 1 || count > Trace.MOST || in.remaining() != 16L * count) {
            throw new IllegalArgumentException("byte " + (in.position() - 4) + ": a count of " + count
                    + " values does not agree with the " + in.remaining() + " bytes after it");
        }
        double[] x = new double[count];
        double[] y = new double[count];
        in.asDoubleBuffer().get(x).get(y);
        return new Trace(name, xUnit, yUnit, x, y);
    }

    private static String text(ByteBuffer in) {
        need(in, 2);
        int length = in.getShort();
        if (length < 0) {
            throw new IllegalArgumentException("byte " + (in.position() - 2) + ": a text of " + length + " bytes");
        }
        need(in, length);
        byte[] text = new byte[length];
        in.get(text);
        return new String(text, StandardCharsets.UTF_8);
    }

    private static void need(ByteBuffer in, int bytes) {
        if (in.remaining() < bytes) {
            throw new IllegalArgumentException("byte " + in.limit() + ": the trace ends before it is whole");
        }
    }
}
