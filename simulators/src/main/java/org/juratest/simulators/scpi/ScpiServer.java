package org.juratest.simulators.scpi;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.concurrent.ThreadLocalRandom;
import java.util.concurrent.atomic.AtomicReference;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.StandInLog;

/**
 * Listens for one gear on loopback. The first connection is the controller; while it lasts, others may only ask. When
 * it closes, the gear is told, and the next connection becomes the controller.
 */
public final class ScpiServer implements AutoCloseable {

    private static final int LONGEST_LINE = 4096;

    private final ServerSocket listener;
    private final LineGear gear;
    private final String name;
    private final StandInLog log;
    private final AtomicReference<@Nullable Socket> controller = new AtomicReference<>();
    private volatile Manners manners = Manners.GOOD;

    /**
     * How the line behaves.
     *
     * @param silent no answer at all
     * @param rubbish answers that mean nothing
     * @param late ms before each answer
     */
    public record Manners(boolean silent, boolean rubbish, long late) {
        public static final Manners GOOD = new Manners(false, false, 0);
    }

    /** @param port 0 for any free one */
    public ScpiServer(String name, LineGear gear, int port, StandInLog log) throws IOException {
        this.name = name;
        this.gear = gear;
        this.log = log;
        listener = new ServerSocket(port, 16, InetAddress.getLoopbackAddress());
        Thread thread = new Thread(this::accept, name + "-listener");
        thread.setDaemon(true);
        thread.start();
    }

    public int port() {
        return listener.getLocalPort();
    }

    /** Faults of the line, on command. */
    public void manners(Manners now) {
        manners = now;
    }

    /** Closes the controller's connection, as a pulled cable does. */
    public void dropController() {
        Socket socket = controller.get();
        if (socket != null) {
            try {
                socket.close();
            } catch (IOException e) {
                log.write(name, "CLOSE-FAILED " + e.getMessage());
            }
        }
    }

    private void accept() {
        while (!listener.isClosed()) {
            try {
                Socket socket = listener.accept();
                socket.setTcpNoDelay(true);
                boolean controls = controller.compareAndSet(null, socket);
                log.write(name, "CONNECTED " + (controls ? "controller" : "watcher"));
                Thread thread = new Thread(() -> serve(socket), name + "-connection");
                thread.setDaemon(true);
                thread.start();
            } catch (IOException e) {
                if (!listener.isClosed()) {
                    log.write(name, "ACCEPT-FAILED " + e.getMessage());
                }
            }
        }
    }

    private void serve(Socket socket) {
        try (socket;
                BufferedReader in =
                        new BufferedReader(new InputStreamReader(socket.getInputStream(), StandardCharsets.UTF_8))) {
            OutputStream out = socket.getOutputStream();
            for (String line = in.readLine(); line != null; line = in.readLine()) {
                // A watcher becomes the controller once the first has gone.
                boolean controls = controller.get() == socket || controller.compareAndSet(null, socket);
                answer(out, line.length() > LONGEST_LINE ? line.substring(0, LONGEST_LINE) : line, controls);
            }
        } catch (IOException e) {
            log.write(name, "CONNECTION-LOST " + e.getMessage());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } finally {
            if (controller.compareAndSet(socket, null)) {
                log.write(name, "CONTROLLER-GONE");
                gear.lost();
            }
        }
    }

    private void answer(OutputStream out, String line, boolean controls) throws IOException, InterruptedException {
        Manners now = manners;
        String answer = gear.line(line, controls);
        if (now.late > 0) {
            Thread.sleep(now.late);
        }
        if (!answer.isEmpty() && !now.silent) {
            byte[] bytes = now.rubbish
                    ? rubbish()
                    : (gear.framed() ? answer : answer + "\n").getBytes(StandardCharsets.ISO_8859_1);
            out.write(bytes);
            out.flush();
        }
    }

    private static byte[] rubbish() {
        byte[] noise = new byte[12];
        ThreadLocalRandom.current().nextBytes(noise);
        noise[11] = '\n';
        return noise;
    }

    @Override
    public void close() throws IOException {
        listener.close();
        dropController();
        gear.closed();
    }
}
