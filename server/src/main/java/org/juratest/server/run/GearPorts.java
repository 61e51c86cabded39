package org.juratest.server.run;

import java.util.List;
import java.util.UUID;
import java.util.function.Function;
import org.juratest.core.port.Energising;
import org.juratest.core.port.GearException;
import org.juratest.core.port.Linked;
import org.juratest.core.port.Port;
import org.juratest.core.procedure.Step;
import org.juratest.core.run.Actor;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.ReadBack;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.RunState;
import org.juratest.instruments.Drivers;
import org.juratest.server.gear.GearStore;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Ports to the gear of runs. Nothing is asked of gear that another run holds, and nothing is locked while gear is
 * asked.
 */
@Component
class GearPorts {

    private static final Logger LOG = LoggerFactory.getLogger(GearPorts.class);

    private final RunStore store;
    private final Leases leases;
    private final GearStore gear;
    private final TransactionTemplate transaction;

    GearPorts(RunStore store, Leases leases, GearStore gear, PlatformTransactionManager transactions) {
        this.store = store;
        this.leases = leases;
        this.gear = gear;
        this.transaction = new TransactionTemplate(transactions);
    }

    /** A port to one item of gear; does not connect. */
    Port port(GearFacts facts) {
        GearStore.Gear item = gear.byId(facts.id())
                .orElseThrow(
                        () -> new Refusal("gear-missing", facts.name() + " is no longer in the register.", "gear"));
        if (item.host() == null || item.port() == null) {
            throw new Refusal("gear-not-connected", facts.name() + " is not remotely controlled.", "gear");
        }
        return Drivers.byId(String.valueOf(item.driver()))
                .orElseThrow(() -> new Refusal(
                        "gear-not-connected",
                        facts.name() + " has no driver that this program knows (" + item.driver() + ").",
                        "gear"))
                .open(item.host(), item.port());
    }

    /**
     * Checks that every item of gear a step uses can be talked to at all.
     *
     * @throws Refusal naming the first that cannot
     */
    void connectable(RunState state, Step step) {
        state.gear().stream().filter(g -> step.needs().contains(g.need())).forEach(g -> port(g).close());
    }

    /** The port of a step: of its gear, together with the further gear it uses. */
    Energising port(RunState state, Step step, GearFacts facts) {
        List<Linked.Member> others = state.gear().stream()
                .filter(g -> step.furtherNeeds().contains(g.need()))
                .map(g -> new Linked.Member(g, port(g)))
                .toList();
        return linked(facts, others);
    }

    /** The port of gear that is used alone. */
    Energising alone(GearFacts facts) {
        return linked(facts, List.of());
    }

    private Energising linked(GearFacts facts, List<Linked.Member> others) {
        return others.isEmpty() && port(facts) instanceof Energising output
                ? output
                : new Linked(new Linked.Member(facts, port(facts)), others);
    }

    /**
     * Does something with gear for a run that is not busy, such as asking who is there; the gear is the run's
     * meanwhile.
     *
     * @throws Refusal if another run uses it
     */
    <T> T asking(UUID run, GearFacts facts, Function<Port, T> ask) {
        Leases.InUse held = transaction.execute(s -> leases.claimGear(run, List.of(facts.id())));
        if (held != null) {
            throw inUse(held);
        }
        try (Port port = port(facts)) {
            return ask.apply(port);
        } finally {
            leases.releaseGear(run, List.of(facts.id()));
        }
    }

    static Refusal inUse(Leases.InUse held) {
        return new Refusal(
                "gear-in-use",
                held.gear() + " is in use at the moment, by the run at " + held.position()
                        + ". Wait for its end, or choose other gear.",
                "gear");
    }

    /** Gear that was lost, or did not confirm that it is off, is asked again before a step that needs it is refused. */
    void back(UUID run, String stepId) {
        RunState state = store.state(run);
        if (state.isBusy()) {
            return;
        }
        List<String> needs = state.procedure().step(stepId).map(Step::needs).orElse(List.of());
        state.gear().stream()
                .filter(g -> needs.contains(g.need()) && doubtful(state, g))
                .forEach(g -> {
                    try {
                        OutputEvents.GearBack back = asking(run, g, port -> {
                            String identity = port.identify().toString();
                            return new OutputEvents.GearBack(g.id(), identity, Linked.safe(port));
                        });
                        store.append(
                                run,
                                Actor.process(leases.process()),
                                now -> doubtful(now, g) ? List.of(back) : List.of());
                    } catch (GearException e) {
                        LOG.info("{} still does not answer: {}", g.name(), e.getMessage());
                    }
                });
    }

    private static boolean doubtful(RunState state, GearFacts gear) {
        return state.gearLost().containsKey(gear.id()) || state.unconfirmed().containsKey(gear.id());
    }

    /**
     * Asks the gear of a live step about its output after a crash, and switches it off: all of it, as what keys the
     * device is not what measures.
     */
    ReadBack readBack(RunState state) {
        GearFacts facts = state.gear().stream()
                .filter(g -> g.id().equals(state.output().gear()))
                .findFirst()
                .orElse(null);
        if (facts == null) {
            // In a gap between two measurements nothing was on; what was used last has confirmed that.
            return state.output().gear() == null
                    ? new ReadBack(true, true, "nothing was on between two measurements")
                    : ReadBack.silent("the gear is not known");
        }
        Step step =
                state.procedure().step(String.valueOf(state.output().step())).orElse(null);
        try (Energising port = step == null ? alone(facts) : port(state, step, facts)) {
            return port.makeSafe();
        } catch (Refusal e) {
            return ReadBack.silent(String.valueOf(e.getMessage()));
        }
    }
}
