package org.juratest.simulators;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.fleet.Fleet;

/**
 * Where stand-ins listen, by the role they play: a list in a file, a role and its port a line. What a file lacks is
 * chosen and added, so that roles keep their ports from day to day.
 */
public final class Ports {

    /** Name of the port that faults are set at. */
    static final String CONTROL = "control";

    private final Map<String, Integer> byRole;

    private Ports(Map<String, Integer> byRole) {
        this.byRole = byRole;
    }

    /** Any free port for each, chosen when it listens. */
    public static Ports any() {
        return new Ports(Map.of());
    }

    /**
     * The ports of a file, completed.
     *
     * @param roles that need one
     * @param from the first port to try; 0 for any that is free
     */
    public static Ports kept(Path file, Collection<String> roles, int from) throws IOException {
        return kept(file, roles, from, null);
    }

    /** @param fleet whose gear has ports already, which it keeps; absent for a new one */
    static Ports kept(Path file, Collection<String> roles, int from, @Nullable Fleet fleet) throws IOException {
        Map<String, Integer> ports = new TreeMap<>();
        if (Files.exists(file)) {
            for (String line : Files.readAllLines(file)) {
                String[] words = line.strip().split("\\s+");
                // A list of an earlier version has numbers only: it is made anew.
                if (words.length == 2 && words[1].matches("\\d{1,5}") && !words[0].matches("\\d+")) {
                    ports.put(words[0], Integer.parseInt(words[1]));
                }
            }
        }
        if (fleet != null) {
            fleet.gear().stream()
                    .filter(g -> g.port() > 0 && roles.contains(g.role()))
                    .forEach(g -> ports.putIfAbsent(g.role(), g.port()));
        }
        List<String> all = new ArrayList<>(roles);
        all.add(CONTROL);
        int next = from;
        for (String role : all) {
            if (!ports.containsKey(role)) {
                int port = free(next, ports.values());
                ports.put(role, port);
                next = from == 0 ? 0 : port + 1;
            }
        }
        StringBuilder text = new StringBuilder();
        ports.forEach((role, port) -> text.append(role).append(' ').append(port).append('\n'));
        // In one piece: whoever reads it meanwhile finds the old list or the new one, never half of one.
        Path half = file.resolveSibling(file.getFileName() + ".part");
        Files.writeString(half, text);
        Files.move(half, file, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
        return new Ports(ports);
    }

    /** The port of a role; 0, any that is free, where none is kept. */
    public int of(String role) {
        return byRole.getOrDefault(role, 0);
    }

    private static int free(int from, Collection<Integer> taken) throws IOException {
        for (int port = from; port < 65_536; port++) {
            if (taken.contains(port) && port != 0) {
                continue;
            }
            try (ServerSocket socket = new ServerSocket()) {
                socket.bind(new InetSocketAddress(InetAddress.getLoopbackAddress(), port));
                if (!taken.contains(socket.getLocalPort())) {
                    return socket.getLocalPort();
                }
                port--;
            } catch (IOException e) {
                if (port == 0) {
                    throw e;
                }
            }
        }
        throw new IOException("no port is free from " + from + " on");
    }
}
