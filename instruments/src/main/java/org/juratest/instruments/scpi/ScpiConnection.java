package org.juratest.instruments.scpi;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.SocketTimeoutException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import org.juratest.core.port.GearException;
import org.jspecify.annotations.Nullable;

/**
 * One SCPI connection over TCP (raw socket, LF). Each command is followed by {@code SYST:ERR?} in the same line, so that a
 * refusal is known at once. An answer that does not come in time closes the connection: a late answer would be taken for
 * that of the next question.
 *
 * <p>Thread-safe; one exchange at a time. Only {@link #open()} connects; everything else fails with LOST when not connected,
 * because a connection that was closed has switched the gear's output off.
 */
final class ScpiConnection implements AutoCloseable {

  private static final Duration CONNECT = Duration.ofMillis(250);
  private static final Duration ANSWER = Duration.ofMillis(300);
  private static final int LONGEST_ANSWER = 65_536;

  private final InetSocketAddress address;
  private @Nullable Socket socket;
  private @Nullable BufferedReader in;
  private boolean over;

  ScpiConnection(String host, int port) {
    this.address = new InetSocketAddress(host, port);
  }

  /** Connects unless connected; never again after {@link #close()}. */
  synchronized void open() {
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
      in = new BufferedReader(new InputStreamReader(fresh.getInputStream(), StandardCharsets.UTF_8));
      socket = fresh;
    } catch (IOException e) {
      quietly(fresh);
      throw new GearException(GearException.Fault.LOST, "nothing listens at its address " + address.getHostString() + ":"
          + address.getPort(), e);
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

  /** Sends a command and makes sure that it was accepted. */
  synchronized void command(String command) {
    String answer = exchange(command + ";:SYST:ERR?");
    if (!answer.startsWith("0,")) {
      if (!answer.matches("-?\\d+,\".*\"")) {
        throw garbled(command, answer);
      }
      throw new GearException(GearException.Fault.REFUSED, "it refused \"" + command + "\": " + answer);
    }
  }

  /** Asks; the answer is one line without its end. */
  synchronized String query(String query) {
    return exchange(query);
  }

  /** Asks for numbers, separated by commas. */
  double[] numbers(String query, int count) {
    String answer = query(query);
    String[] fields = answer.split(",", -1);
    if (fields.length != count) {
      throw garbled(query, answer);
    }
    double[] numbers = new double[count];
    for (int i = 0; i < count; i++) {
      numbers[i] = number(query, fields[i]);
    }
    return numbers;
  }

  /** A number as SCPI writes it: 9.9E37 is over range, 9.91E37 is no value. */
  static double number(String query, String text) {
    double value;
    try {
      value = Double.parseDouble(text.trim());
    } catch (NumberFormatException e) {
      throw garbled(query, text);
    }
    if (Math.abs(value) >= 9.905e37) {
      return Double.NaN;
    }
    return Math.abs(value) >= 9.85e37 ? Math.copySign(Double.POSITIVE_INFINITY, value) : value;
  }

  static GearException garbled(String query, String answer) {
    String printable = answer.replaceAll("[^\\x20-\\x7e]", "?");
    return new GearException(GearException.Fault.GARBLED, "its answer to \"" + query + "\" cannot be read: \""
        + (printable.length() > 60 ? printable.substring(0, 60) + "…" : printable) + "\"");
  }

  private String exchange(String line) {
    Socket open = socket;
    BufferedReader reader = in;
    if (open == null || reader == null) {
      throw new GearException(GearException.Fault.LOST, "the connection to it is closed");
    }
    try {
      // What is left of an answer that was garbled must not be taken for this one.
      while (reader.ready()) {
        reader.read();
      }
      open.getOutputStream().write((line + "\n").getBytes(StandardCharsets.UTF_8));
      String answer = bounded(reader);
      if (answer == null) {
        drop();
        throw new GearException(GearException.Fault.LOST, "it closed the connection");
      }
      return answer;
    } catch (SocketTimeoutException e) {
      drop();
      throw new GearException(GearException.Fault.SILENT, "it did not answer \"" + line + "\" within " + ANSWER.toMillis() + " ms", e);
    } catch (IOException e) {
      drop();
      throw new GearException(GearException.Fault.LOST, "the connection to it broke: " + e.getMessage(), e);
    }
  }

  private @Nullable String bounded(BufferedReader reader) throws IOException {
    StringBuilder line = new StringBuilder();
    for (int c = reader.read(); c != '\n'; c = reader.read()) {
      if (c < 0) {
        return null;
      }
      if (line.length() >= LONGEST_ANSWER) {
        drop();
        throw new GearException(GearException.Fault.GARBLED, "its answer has no end");
      }
      line.append((char) c);
    }
    return line.toString();
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
