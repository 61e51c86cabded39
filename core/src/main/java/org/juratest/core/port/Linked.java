package org.juratest.core.port;

import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.stream.Stream;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.ReadBack;

/**
 * Gear that is used together, as one: the first measures, the others are what it needs beside it. Safe is when all of
 * them are. A fault of one of the others names it.
 */
public final class Linked implements Energising {

    /** One of them. */
    public record Member(GearFacts facts, Port port) {}

    private final Member lead;
    private final Port first;
    private final List<Member> others;

    public Linked(Member first, List<Member> others) {
        this.lead = first;
        this.first = first.port;
        this.others = List.copyOf(others);
    }

    /**
     * The port that plays a role; empty if none of them does.
     *
     * @param role an interface of ports
     */
    public <T> Optional<T> find(Class<T> role) {
        return role.isInstance(first)
                ? Optional.of(role.cast(first))
                : others.stream()
                        .filter(m -> role.isInstance(m.port))
                        .map(m -> named(role, m))
                        .findFirst();
    }

    /** A port whose faults say whose they are: a method knows roles, not gear. */
    private static <T> T named(Class<T> role, Member member) {
        return role.cast(
                Proxy.newProxyInstance(role.getClassLoader(), new Class<?>[] {role}, (proxy, method, given) -> {
                    try {
                        return method.invoke(member.port, given);
                    } catch (InvocationTargetException e) {
                        throw e.getCause() instanceof GearException fault ? fault.of(member.facts) : e.getCause();
                    }
                }));
    }

    private interface Doing {
        void on(Member member);
    }

    private void each(Doing doing) {
        for (Member member : others) {
            try {
                doing.on(member);
            } catch (GearException e) {
                throw e.of(member.facts);
            }
        }
    }

    @Override
    public GearIdentity identify() {
        each(m -> {
            String serial = m.port.identify().serial();
            if (!serial.equals(m.facts.serial())) {
                throw new GearException(
                        GearException.Fault.WRONG_IDENTITY,
                        "number " + serial + " answers at its address, but number " + m.facts.serial() + " was chosen");
            }
        });
        return first.identify();
    }

    @Override
    public void connectTo(String label) {
        each(m -> m.port.connectTo(label));
        first.connectTo(label);
    }

    @Override
    public void watchdog(double seconds) {
        outputs(e -> e.watchdog(seconds));
    }

    @Override
    public void feedWatchdog() {
        outputs(Energising::feedWatchdog);
    }

    @Override
    public void outputOn() {
        if (!(first instanceof Energising output)) {
            throw new GearException(GearException.Fault.REFUSED, "it has no output");
        }
        output.outputOn();
    }

    private void outputs(Consumer<Energising> doing) {
        each(m -> {
            if (m.port instanceof Energising output) {
                doing.accept(output);
            }
        });
        if (first instanceof Energising output) {
            doing.accept(output);
        }
    }

    /** Makes a port safe that may have no output at all. */
    public static ReadBack safe(Port port) {
        return port instanceof Energising output ? output.makeSafe() : new ReadBack(true, true, "it has no output");
    }

    @Override
    public double timeFactor() {
        return first.timeFactor();
    }

    @Override
    public ReadBack makeSafe() {
        // What keys or energises the device goes off first; whatever one of them answers, all are told.
        List<ReadBack.Part> parts = new ArrayList<>();
        List<String> words = new ArrayList<>();
        boolean answered = true;
        for (Member member : Stream.concat(others.stream(), Stream.of(lead)).toList()) {
            ReadBack own = safe(member.port);
            answered &= own.answered();
            parts.add(new ReadBack.Part(member.facts.id(), own.off(), own.words()));
            words.add(member == lead ? own.words() : member.facts.name() + ": " + own.words());
        }
        Collections.rotate(words, 1);
        return new ReadBack(answered, parts.stream().allMatch(ReadBack.Part::off), String.join("; ", words), parts);
    }

    @Override
    public void close() {
        others.forEach(m -> m.port.close());
        first.close();
    }
}
