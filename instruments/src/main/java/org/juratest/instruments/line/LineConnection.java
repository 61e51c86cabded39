package org.juratest.instruments.line;

import java.io.BufferedInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.SocketTimeoutException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import org.jspecify.annotations.Nullable;
import org.juratest.core.port.GearException;

/**
 * One connection over TCP (raw socket, LF). An answer that does not come in time, or cannot be read, closes the
 * connection: a late answer would be taken for that of the next question.
 *
 * <p>Thread-safe; one exchange at a time. Only {@link #open()} connects; everything else fails with LOST when not
 * connected, because a connection that was closed has switched the gear's output off.
 */
public class LineConnection implements AutoCloseable {

    /**
     * How many times longer than usual gear is waited for: 1, but where processors are so busy that stand-ins answer
     * late, as on a machine that runs tests. What holds an output live does not depend on it.
     */
    private static final int PATIENCE = Math.max(1, Math.min(20, Integer.getInteger("juratest.patience", 1)));

    private static final Duration CONNECT = Duration.ofMillis(250L * PATIENCE);
    private static final Duration ANSWER = Duration.ofMillis(300L * PATIENCE);
    private static final int LONGEST_ANSWER = 65_536;
    private static final int LONGEST_BLOCK = 16_777_216;

    private final InetSocketAddress address;
    private @Nullable Socket socket;
    private @Nullable BufferedInputStream in;
    private boolean over;

    public LineConnection(String host, int port) {
        this.address = new InetSocketAddress(host, port);
    }

    /** Connects unless connected; never again after {@link #close()}. */
    public synchronized void open() {
        if (socket != null) {
            return;
        }
        if (over) {
            throw new GearException(GearException.Fault.LOST, "the connection to it was given up");
        }
        Socket fresh = new Socket();
        try {
            fresh.setTcpNoDelay(true);
            fresh.setSoTimeout((int) ANSWER.toMillis());
            fresh.connect(address, (int) CONNECT.toMillis());
            in = new BufferedInputStream(fresh.getInputStream(), 65_536);
            socket = fresh;
        } catch (IOException e) {
            quietly(fresh);
            throw new GearException(
                    GearException.Fault.LOST,
                    "nothing listens at its address " + address.getHostString() + ":" + address.getPort(),
                    e);
        }
    }

    private static void quietly(Socket socket) {
        try {
            socket.close();
        } catch (IOException e) {
            // It is being thrown away; there is nothing left to lose.
            assert e != null;
        }
    }

    /** Asks; the answer is one line without its end. */
    public synchronized String query(String query) {
        return exchange(query, LineConnection::line);
    }

    /**
     * Asks for a block of bytes of definite length (IEEE 488.2, 8.7.9: a cross, how many digits, the length in so many
     * digits, the bytes), ended by a line feed.
     */
    public synchronized byte[] block(String query) {
        return exchange(query, in -> bytes(query, in));
    }

    /**
     * Asks for a frame: bytes up to one that ends it, and a check byte after that.
     *
     * @param end the byte that ends it
     * @return all of it, the last two of them the end and the check
     */
    public synchronized byte[] frame(String query, int end) {
        return exchange(query, in -> {
            ByteArrayOutputStream frame = new ByteArrayOutputStream();
            int c;
            do {
                if (frame.size() >= LONGEST_ANSWER) {
                    throw new GearException(GearException.Fault.GARBLED, "its answer has no end");
                }
                c = next(in);
                frame.write(c);
            } while (c != end);
            frame.write(next(in));
            return frame.toByteArray();
        });
    }

    /** An answer that cannot be read. */
    public static GearException garbled(String query, String answer) {
        String printable = answer.replaceAll("[^\\x20-\\x7e]", "?");
        return new GearException(
                GearException.Fault.GARBLED,
                "its answer to \"" + query + "\" cannot be read: \""
                        + (printable.length() > 60 ? printable.substring(0, 60) + "…" : printable) + "\"");
    }

    private interface Reading<T> {
        T from(BufferedInputStream in) throws IOException;
    }

    /** The gear has closed the connection. */
    private static final class Closed extends IOException {
        private static final long serialVersionUID = 1L;

        Closed() {
            super("it closed the connection");
        }
    }

    private <T> T exchange(String line, Reading<T> reading) {
        Socket open = socket;
        BufferedInputStream reader = in;
        if (open == null || reader == null) {
            throw new GearException(GearException.Fault.LOST, "the connection to it is closed");
        }
        try {
            // What is left of an answer that was garbled must not be taken for this one.
            while (reader.available() > 0) {
                reader.skip(reader.available());
            }
            open.getOutputStream().write((line + "\n").getBytes(StandardCharsets.UTF_8));
            return reading.from(reader);
        } catch (SocketTimeoutException e) {
            drop();
            throw new GearException(
                    GearException.Fault.SILENT,
                    "it did not answer \"" + line + "\" within " + ANSWER.toMillis() + " ms",
                    e);
        } catch (Closed e) {
            drop();
            throw new GearException(GearException.Fault.LOST, "it closed the connection", e);
        } catch (GearException e) {
            if (e.fault() == GearException.Fault.GARBLED) {
                drop();
            }
            throw e;
        } catch (IOException e) {
            drop();
            throw new GearException(GearException.Fault.LOST, "the connection to it broke: " + e.getMessage(), e);
        }
    }

    private static int next(BufferedInputStream in) throws IOException {
        int c = in.read();
        if (c < 0) {
            throw new Closed();
        }
        return c;
    }

    private static String line(BufferedInputStream in) throws IOException {
        ByteArrayOutputStream line = new ByteArrayOutputStream();
        for (int c = next(in); c != '\n'; c = next(in)) {
            if (line.size() >= LONGEST_ANSWER) {
                throw new GearException(GearException.Fault.GARBLED, "its answer has no end");
            }
            line.write(c);
        }
        return line.toString(StandardCharsets.UTF_8);
    }

    private static byte[] bytes(String query, BufferedInputStream in) throws IOException {
        int first = next(in);
        int digits = first == '#' ? next(in) - '0' : 0;
        if (digits < 1 || digits > 9) {
            throw new GearException(
                    GearException.Fault.GARBLED, "its answer to \"" + query + "\" is no block of bytes");
        }
        long length = 0;
        for (int n = 0; n < digits; n++) {
            int c = next(in);
            if (c < '0' || c > '9') {
                throw new GearException(GearException.Fault.GARBLED, "the length of its block of bytes cannot be read");
            }
            length = 10 * length + c - '0';
        }
        if (length > LONGEST_BLOCK) {
            throw new GearException(
                    GearException.Fault.GARBLED,
                    "its block of " + length + " bytes is longer than any that was asked for");
        }
        byte[] block = in.readNBytes((int) length);
        if (block.length < length) {
            throw new Closed();
        }
        if (next(in) != '\n') {
            throw new GearException(GearException.Fault.GARBLED, "its block of bytes is longer than it says");
        }
        return block;
    }

    /** Ends it for good: a guard that comes late must not connect again and hold the gear for ever. */
    @Override
    public synchronized void close() {
        over = true;
        drop();
    }

    /** Ends this connection; the next {@link #open()} makes a new one. */
    private synchronized void drop() {
        Socket open = socket;
        socket = null;
        in = null;
        if (open != null) {
            quietly(open);
        }
    }
}
