package org.juratest.e2e;

import static org.awaitility.Awaitility.await;

import java.io.BufferedReader;
import java.io.File;
import java.io.IOException;
import java.io.InputStreamReader;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import org.juratest.server.command.ApiClient;

/** The shipped program as real processes: stand-ins and a server, on a database of their own. */
public final class Installation implements AutoCloseable {

    private static final Set<Integer> GIVEN = new HashSet<>();

    /** Quick to start, as tests want it; a bench wants what people work with. */
    private static List<String> compiling = List.of("-XX:TieredStopAtLevel=1");

    /** What the laid ones are copied from; nothing runs on it. */
    private static @Nullable Installation pattern;

    /** The server's program with its libraries beside it. */
    private static @Nullable Path unpacked;

    /** What a server had loaded, as it lay in memory: later ones are up in half the time. */
    private static @Nullable Path loaded;

    private final Path folder;
    private final Path root;
    private final int httpPort = free();
    private final int otherPort = free();
    private final Map<String, String> environment;
    private Process server;
    private Process other;
    private Process simulators;

    /**
     * Makes the database and the fleet; starts nothing yet.
     *
     * @param folder for logs and the fleet
     * @param root of the built project
     */
    public Installation(Path folder, Path root) throws IOException, SQLException {
        this(folder, root, "");
        fleetWritten();
    }

    private Installation(Path folder, Path root, String template) throws IOException, SQLException {
        this.folder = folder;
        this.root = root;
        String cluster = System.getenv("JURATEST_TEST_DB");
        if (cluster == null) {
            throw new IllegalStateException("these tests need the test cluster: run them with ./juratest test");
        }
        String name = "e" + UUID.randomUUID().toString().replace("-", "");
        try (Connection connection = DriverManager.getConnection(
                cluster + "postgres", System.getenv("JURATEST_DB_USER"), System.getenv("JURATEST_DB_PASSWORD"))) {
            connection.createStatement().execute("CREATE DATABASE " + name + template);
        }
        environment = Map.of(
                "JURATEST_DB_URL",
                cluster + name,
                "JURATEST_PORT",
                String.valueOf(httpPort),
                "JURATEST_DEMO_FLEET",
                fleet().toString());
    }

    private void fleetWritten() throws IOException {
        // Below the ports that the system gives to whoever asks: they are still free when a later one takes them over.
        java(
                        "simulators",
                        "fleet",
                        "--out",
                        fleet().toString(),
                        "--zone",
                        ZoneId.systemDefault().getId(),
                        "--ports",
                        ports().toString(),
                        "--from",
                        "21000")
                .onExit()
                .join();
    }

    /**
     * One whose demo is laid already: a copy of the first that was asked for, which laid it by starting two servers at
     * the same time on the empty database. Two of them have the same ports for their stand-ins; the one is closed
     * before the stand-ins of the next are started.
     *
     * @param folder for logs and the fleet
     * @param root of the built project
     */
    static synchronized Installation laid(Path folder, Path root) throws Exception {
        Installation first = pattern;
        if (first == null) {
            first = new Installation(Files.createTempDirectory(root.resolve("e2e/target"), "laid"), root);
            Path archive = first.folder.resolve("loaded.jsa");
            first.server = first.java(List.of("-XX:ArchiveClassesAtExit=" + archive), "server", "serve");
            first.startOtherServer();
            first.ready(first.server, first.httpPort);
            for (Process process : List.of(first.other, first.server)) {
                process.destroy();
                process.onExit().join();
            }
            pattern = first;
            loaded = Files.exists(archive) ? archive : null;
        }
        String database = first.database();
        Installation copy =
                new Installation(folder, root, " TEMPLATE " + database.substring(database.lastIndexOf('/') + 1));
        Files.copy(first.fleet(), copy.fleet());
        Files.copy(first.ports(), copy.ports());
        return copy;
    }

    /**
     * A port nobody listens at, and that was not given before: the system may offer one twice as soon as it is closed.
     */
    private static synchronized int free() {
        try (ServerSocket socket = new ServerSocket(0)) {
            return GIVEN.add(socket.getLocalPort()) ? socket.getLocalPort() : free();
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }

    public Path fleet() {
        return folder.resolve("fleet.json");
    }

    public String address() {
        return "http://127.0.0.1:" + httpPort;
    }

    /** Where the stand-ins listen, by what they play. */
    private Path ports() {
        return folder.resolve("ports");
    }

    /** The port at which faults are set. */
    public int controlPort() {
        try {
            return Files.readAllLines(ports()).stream()
                    .filter(l -> l.startsWith("control "))
                    .mapToInt(l -> Integer.parseInt(l.substring("control ".length())))
                    .findFirst()
                    .orElseThrow();
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }

    /**
     * From now on processes are started as {@code ./juratest start} starts them, slower to be there and faster then.
     */
    public static void asPeopleHaveIt() {
        compiling = List.of();
    }

    /** JDBC address of the installation's database. */
    public String database() {
        return environment.get("JURATEST_DB_URL");
    }

    /** Address of the second server process on the same database. */
    String otherAddress() {
        return "http://127.0.0.1:" + otherPort;
    }

    private Process java(String module, String... arguments) throws IOException {
        Path archive = loaded;
        return java(
                archive != null && module.equals("server") ? List.of("-XX:SharedArchiveFile=" + archive) : List.of(),
                module,
                arguments);
    }

    private Process java(List<String> options, String module, String... arguments) throws IOException {
        List<String> command =
                new ArrayList<>(List.of(ProcessHandle.current().info().command().orElse("java")));
        command.addAll(compiling);
        command.addAll(options);
        if (!compiling.isEmpty()) {
            // The processors are the tests' as well, and gear may answer late.
            command.add("-Djuratest.patience=3");
        }
        command.addAll(List.of("-jar", unpacked(root, module).toString()));
        command.addAll(List.of(arguments));
        ProcessBuilder builder = new ProcessBuilder(command)
                .redirectErrorStream(true)
                .redirectOutput(ProcessBuilder.Redirect.appendTo(new File(folder.toFile(), module + ".out")));
        builder.environment().putAll(environment);
        return builder.start();
    }

    /** The program as {@code ./juratest start} has it: with its libraries beside it, it is up in half the time. */
    private static synchronized Path unpacked(Path root, String module) throws IOException {
        String name = "juratest-" + module + "-0.1.0-exec.jar";
        Path packed = root.resolve(Path.of(module, "target", name));
        if (!module.equals("server")) {
            return packed;
        }
        if (unpacked == null) {
            Path into = Files.createDirectories(
                    root.resolve("e2e/target/app-" + ProcessHandle.current().pid()));
            int code = new ProcessBuilder(
                            ProcessHandle.current().info().command().orElse("java"),
                            "-Djarmode=tools",
                            "-jar",
                            packed.toString(),
                            "extract",
                            "--force",
                            "--destination",
                            into.toString())
                    .redirectErrorStream(true)
                    .redirectOutput(into.resolve("extract.out").toFile())
                    .start()
                    .onExit()
                    .join()
                    .exitValue();
            if (code != 0) {
                throw new IOException(Files.readString(into.resolve("extract.out")));
            }
            unpacked = into.resolve(name);
        }
        return unpacked;
    }

    public void startSimulators(double factor) throws Exception {
        simulators = java(
                "simulators",
                "run",
                "--fleet",
                fleet().toString(),
                "--ports",
                ports().toString(),
                "--log",
                log().toString(),
                "--factor",
                "" + factor);
        Process started = simulators;
        until("the stand-ins listen", () -> {
            if (!started.isAlive()) {
                throw new IllegalStateException("the stand-ins ended: " + said("simulators"));
            }
            return listens(controlPort());
        });
    }

    private String said(String module) {
        try {
            return Files.readString(folder.resolve(module + ".out"));
        } catch (IOException e) {
            return "and left no word: " + e;
        }
    }

    public void startServer() throws Exception {
        server = java("server", "serve");
        ready(server, httpPort);
    }

    /** Two processes that come up at the same time. */
    void startBothServers() throws Exception {
        server = java("server", "serve");
        other = java("server", "serve", "--server.port=" + otherPort);
        ready(server, httpPort);
        ready(other, otherPort);
    }

    void startOtherServer() throws Exception {
        other = java("server", "serve", "--server.port=" + otherPort);
        ready(other, otherPort);
    }

    private void ready(Process process, int port) throws InterruptedException {
        try (ApiClient client = new ApiClient("http://127.0.0.1:" + port)) {
            // Laying four years of a valley takes a slow machine minutes; a server that fails ends, and is not waited
            // for.
            until("the server answers with its demo laid", Duration.ofMinutes(10), () -> {
                if (!process.isAlive()) {
                    throw new IllegalStateException("the server ended: " + said("server"));
                }
                return listens(port) && demoLaid(client);
            });
        }
    }

    private static boolean demoLaid(ApiClient client) {
        try {
            return client.get("/api/status").path("ready").asBoolean();
        } catch (RuntimeException e) {
            return false;
        }
    }

    private static boolean listens(int port) {
        try (Socket socket = new Socket("127.0.0.1", port)) {
            return socket.isConnected();
        } catch (IOException e) {
            return false;
        }
    }

    /** Waits up to three minutes: that long only where something is wrong, or a machine very slow. */
    public static void until(String what, Callable<Boolean> condition) {
        until(what, Duration.ofMinutes(3), condition);
    }

    private static void until(String what, Duration longest, Callable<Boolean> condition) {
        await(what).atMost(longest).pollInterval(Duration.ofMillis(50)).until(condition);
    }

    /** Ends the server at once, as a power cut does. */
    void killServer() {
        server.destroyForcibly().onExit().join();
    }

    void killSimulators() {
        simulators.destroyForcibly().onExit().join();
    }

    /** A command of the program; its exit code. */
    int run(String... arguments) throws IOException {
        return java("server", arguments).onExit().join().exitValue();
    }

    String output() throws IOException {
        return Files.readString(folder.resolve("server.out"));
    }

    public String control(String command) throws IOException {
        try (Socket socket = new Socket("127.0.0.1", controlPort());
                BufferedReader in =
                        new BufferedReader(new InputStreamReader(socket.getInputStream(), StandardCharsets.UTF_8))) {
            socket.getOutputStream().write((command + "\n").getBytes(StandardCharsets.UTF_8));
            return in.readLine();
        }
    }

    private Path log() {
        return folder.resolve("standins.log");
    }

    /** What the injection set wrote into its own log: milliseconds on its clock, and event. */
    List<String[]> injectionLog() {
        try {
            return Files.readAllLines(log()).stream()
                    .map(l -> l.split(" ", 4))
                    .filter(p -> p.length == 4 && p[2].equals("injection"))
                    .map(p -> new String[] {p[1], p[3]})
                    .toList();
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }

    /** What came on, by the gear's own log: when by the clock of this machine, which gear, and with what. */
    record On(Instant at, String gear, String what) {}

    /** Everything that was switched on or keyed since a moment. */
    List<On> onsSince(Instant moment) {
        try {
            return Files.readAllLines(log()).stream()
                    .map(l -> l.split(" ", 4))
                    .filter(p -> p.length == 4 && (p[3].startsWith("ON ") || p[3].startsWith("KEY ON ")))
                    .map(p -> new On(Instant.parse(p[0]), p[2], p[3]))
                    .filter(on -> on.at.isAfter(moment))
                    .toList();
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }

    @Override
    public void close() {
        for (Process process : new Process[] {server, other, simulators}) {
            if (process != null) {
                process.destroyForcibly().onExit().join();
            }
        }
    }
}
