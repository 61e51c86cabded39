package org.juratest.simulators;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.HashSet;
import java.util.List;
import java.util.ServiceLoader;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.juratest.simulators.fleet.Fleet;
import org.juratest.simulators.fleet.FleetGenerator;

class PortsTest {

    @TempDir
    private Path folder;

    @Test
    void aRoleKeepsItsPortAndWhatIsNewGetsOneOfItsOwn() throws IOException {
        Path file = folder.resolve("ports");
        Ports first = Ports.kept(file, List.of("a", "b"), 0);
        Set<Integer> three = Set.of(first.of("a"), first.of("b"), first.of(Ports.CONTROL));
        assertEquals(3, three.size(), "no two are the same");
        Ports second = Ports.kept(file, List.of("b", "c"), 0);
        assertEquals(first.of("b"), second.of("b"));
        assertEquals(first.of(Ports.CONTROL), second.of(Ports.CONTROL));
        assertTrue(second.of("c") > 0 && !three.contains(second.of("c")));
        assertEquals(0, Ports.any().of("a"), "where none is kept, any that is free");
    }

    @Test
    void aListOfAnEarlierVersionIsMadeAnew() throws IOException {
        Path file = Files.writeString(folder.resolve("ports"), "54410 54411 54412 54413 54414 54415\n");
        Ports ports = Ports.kept(file, List.of("a"), 0);
        assertTrue(ports.of("a") > 0);
        assertTrue(Files.readString(file).contains("a " + ports.of("a") + "\n"));
        assertTrue(Files.readString(file).startsWith("a "), Files.readString(file));
    }

    @Test
    void gearOfAnEarlierFleetKeepsThePortsThatTheRegisterKnows() throws IOException {
        Path older = folder.resolve("older");
        List<String> roles = List.of("current-source", "radio-test-set");
        Fleet fleet = FleetGenerator.generate(
                1, LocalDate.of(2026, 11, 25), Ports.kept(older, roles, 0), Simulators.families());
        Path file = Files.writeString(folder.resolve("ports"), "54410 54411 54412 54413 54414 54415\n");
        Ports ports = Ports.kept(file, roles, 0, fleet);
        for (String role : roles) {
            int known = fleet.gear().stream()
                    .filter(g -> g.role().equals(role))
                    .findFirst()
                    .orElseThrow()
                    .port();
            assertEquals(known, ports.of(role), role);
        }
        assertEquals(ports.of("radio-test-set"), Ports.kept(file, roles, 0).of("radio-test-set"), "and on");
    }

    @Test
    void aPortThatSomebodyListensAtIsPassedOver() throws IOException {
        try (ServerSocket taken = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            Ports ports = Ports.kept(folder.resolve("ports"), List.of("a"), taken.getLocalPort());
            assertNotEquals(taken.getLocalPort(), ports.of("a"));
            assertTrue(ports.of("a") > taken.getLocalPort(), "the next one that is free");
        }
    }

    @Test
    void familiesAreFoundAndNoTwoPlayTheSameRole() {
        List<String> roles = ServiceLoader.load(StandInFamily.class).stream()
                .flatMap(f -> f.get().roles().stream())
                .toList();
        assertTrue(roles.size() >= 5, roles.toString());
        assertEquals(roles.size(), new HashSet<>(roles).size(), roles.toString());
    }

    /** Families bring their gear without knowing each other: no two items have one id, or one number of a maker. */
    @Test
    void everyItemOfGearIsOneOfItsOwn() {
        Fleet fleet = FleetGenerator.generate(
                FleetGenerator.SEED, LocalDate.of(2026, 11, 25), Ports.any(), Simulators.families());
        assertTrue(fleet.gear().size() > 20);
        assertEquals(
                fleet.gear().size(),
                fleet.gear().stream().map(Fleet.Gear::id).distinct().count());
        assertEquals(
                fleet.gear().size(),
                fleet.gear().stream()
                        .map(g -> g.maker() + " " + g.serial())
                        .distinct()
                        .count());
    }
}
