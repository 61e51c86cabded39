package org.juratest.simulators;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.ServiceLoader;
import java.util.concurrent.Callable;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.fleet.FleetGenerator;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/** The stand-ins as a program: {@code fleet} writes the valley's truth, {@code run} listens. */
@Command(
        name = "simulators",
        subcommands = {Simulators.WriteFleet.class, Simulators.CompletePorts.class, Simulators.Run.class},
        description = "Simulated gear and assets of the demo valley")
public final class Simulators {

    private static final JsonMapper JSON = JsonMapper.builder().build();

    public static void main(String[] arguments) {
        System.exit(new CommandLine(new Simulators()).execute(arguments));
    }

    /** All families there are, by their ids. */
    public static List<StandInFamily> families() {
        return ServiceLoader.load(StandInFamily.class).stream()
                .map(ServiceLoader.Provider::get)
                .sorted(Comparator.comparing(StandInFamily::id))
                .toList();
    }

    private static List<String> roles() {
        return families().stream().flatMap(f -> f.roles().stream()).toList();
    }

    /** Reads what {@code fleet} wrote. */
    public static Fleet read(Path file) throws IOException {
        try {
            ObjectNode tree = (ObjectNode) JSON.readTree(Files.readAllBytes(file));
            if (!tree.has("truth")) {
                // Written by a version that kept each family under its name.
                ObjectNode truth = JSON.createObjectNode();
                families().forEach(f -> {
                    if (tree.has(f.id())) {
                        truth.set(f.id(), tree.get(f.id()));
                    }
                });
                tree.set("truth", truth);
                tree.putObject("past");
                tree.putObject("drifts");
            }
            return JSON.treeToValue(tree, Fleet.class);
        } catch (JacksonException e) {
            throw new IOException(file + " cannot be read: " + e.getOriginalMessage(), e);
        }
    }

    private static void write(Path file, Fleet fleet) throws IOException {
        Path half = file.resolveSibling(file.getFileName() + ".part");
        Files.write(half, JSON.writerWithDefaultPrettyPrinter().writeValueAsBytes(fleet));
        Files.move(half, file, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
    }

    @Command(name = "fleet", description = "Writes the seeded truth of the valley")
    static final class WriteFleet implements Callable<Integer> {

        @Option(names = "--out", required = true, description = "file to write")
        private Path out;

        @Option(names = "--today", description = "day it is relative to; default the clock's, in the time zone")
        private @Nullable LocalDate today;

        @Option(names = "--zone", description = "time zone of its sites; default ${DEFAULT-VALUE}")
        private ZoneId zone = FleetGenerator.ZONE;

        @Option(names = "--seed", description = "seed; default ${DEFAULT-VALUE}")
        private long seed = FleetGenerator.SEED;

        @Option(names = "--ports", required = true, description = "list of ports; what it lacks is chosen and added")
        private Path ports;

        @Option(names = "--from", description = "first port to choose; default any that is free")
        private int from;

        @Override
        public Integer call() throws IOException {
            LocalDate day = today == null ? LocalDate.now(zone) : today;
            Fleet fleet = FleetGenerator.generate(seed, day, zone, Ports.kept(ports, roles(), from), families());
            write(out, fleet);
            System.out.println(
                    fleet.devices().size() + " devices at " + fleet.sites().size() + " sites");
            return 0;
        }
    }

    /** Gear in a register names its ports: what a fleet of an earlier version listens at, it listens at further on. */
    @Command(name = "ports", description = "Completes a list of ports by those that the gear of a fleet has")
    static final class CompletePorts implements Callable<Integer> {

        @Option(names = "--fleet", required = true)
        private Path fleet;

        @Option(names = "--ports", required = true)
        private Path ports;

        @Option(names = "--from", description = "first port to choose; default any that is free")
        private int from;

        @Override
        public Integer call() throws IOException {
            Ports.kept(ports, roles(), from, read(fleet));
            return 0;
        }
    }

    @Command(name = "run", description = "Listens as the gear of all families")
    static final class Run implements Callable<Integer> {

        @Option(names = "--fleet", required = true)
        private Path fleet;

        @Option(names = "--ports", required = true, description = "list of ports that the fleet was written with")
        private Path ports;

        @Option(names = "--log", required = true)
        private Path log;

        @Option(
                names = "--factor",
                description = "how much faster than the clock the gear's time runs; default ${DEFAULT-VALUE}")
        private double factor = 1;

        @Override
        public Integer call() throws IOException, InterruptedException {
            StandInLog witness = StandInLog.to(log);
            Fleet truth = read(fleet);
            AtomicBoolean changed = new AtomicBoolean();
            Ports listening = Ports.kept(ports, roles(), 0);
            List<StandInFamily.Running> running = new ArrayList<>();
            for (StandInFamily family : families()) {
                running.add(family.start(truth, listening, witness, () -> changed.set(true)));
            }
            running.forEach(f -> f.factor(factor));
            try (ControlPort control = new ControlPort(
                    truth, running, factor, listening.of(Ports.CONTROL), witness, now -> write(fleet, now))) {
                // What was aligned is kept, though not at every step of a search.
                Executors.newSingleThreadScheduledExecutor(Run::daemon)
                        .scheduleWithFixedDelay(
                                () -> {
                                    if (changed.getAndSet(false)) {
                                        control.keep();
                                    }
                                },
                                1,
                                1,
                                TimeUnit.SECONDS);
                running.forEach(f -> f.lines()
                        .forEach((name, line) -> System.out.println("listening: " + name + " " + line.port())));
                System.out.println("listening: control " + control.port());
                new CountDownLatch(1).await();
            }
            return 0;
        }

        private static Thread daemon(Runnable task) {
            Thread thread = new Thread(task, "keeper");
            thread.setDaemon(true);
            return thread;
        }
    }
}
