package org.juratest.server.run;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.UUID;
import org.juratest.core.run.Actor;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.EventData;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.Output;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.ReadBack;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunState;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DataAccessException;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.TransactionException;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Finds runs that were left behind: armed and never started, or live under a process that is gone. Any process may find
 * them; a row lock sees to it that one does. What was live comes back as interrupted, with what the gear answers about
 * its output.
 */
@Component
class Sweeper {

    private static final Logger LOG = LoggerFactory.getLogger(Sweeper.class);

    private final Leases leases;
    private final RunStore store;
    private final LiveRuns live;
    private final GearPorts ports;
    private final TransactionTemplate transaction;

    Sweeper(Leases leases, RunStore store, LiveRuns live, GearPorts ports, PlatformTransactionManager transactions) {
        this.leases = leases;
        this.store = store;
        this.live = live;
        this.ports = ports;
        this.transaction = new TransactionTemplate(transactions);
    }

    @Scheduled(fixedDelay = 500)
    void sweep() {
        try {
            while (Boolean.TRUE.equals(transaction.execute(s -> disarmOne()))) {
                LOG.info("an armed step was not started in time");
            }
            while (interruptOne()) {
                LOG.info("a run was found interrupted");
            }
        } catch (DataAccessException | TransactionException e) {
            LOG.warn("the sweep found no database: {}", e.getMessage());
        }
    }

    private boolean disarmOne() {
        UUID run = leases.armedTooLong();
        if (run == null) {
            return false;
        }
        store.append(
                run,
                Actor.process(leases.process()),
                state -> state.output().mode() == Output.Mode.ARMED
                        ? List.of(new OutputEvents.Disarmed("not started within " + LiveRuns.ARMED.toSeconds() + " s"))
                        : List.of());
        return true;
    }

    /** Claims one that was left behind, asks its gear while nothing is locked, and writes what it answered. */
    private boolean interruptOne() {
        UUID run = transaction.execute(s -> {
            UUID found = leases.abandoned();
            return found == null || live.isLiveHere(found) || !leases.claim(found) ? null : found;
        });
        if (run == null) {
            return false;
        }
        try {
            RunState found = store.state(run);
            ReadBack readBack = ports.readBack(found);
            store.append(run, Actor.process(leases.process()), state -> interrupted(state, readBack));
        } finally {
            leases.release(run);
        }
        return true;
    }

    private static List<EventData> interrupted(RunState state, ReadBack readBack) {
        boolean wasLive = state.output().mode() == Output.Mode.LIVE;
        if (!wasLive && !state.isBusy()) {
            return List.of();
        }
        GearFacts gear = state.gear().stream()
                .filter(g -> g.id().equals(state.output().gear()))
                .findFirst()
                .orElse(null);
        String name = gear == null ? "the gear" : gear.name();
        Instant last = state.events().get(state.events().size() - 1).at();
        String silence = Duration.between(last, Instant.now()).toSeconds() + " s ago";
        List<EventData> events = new ArrayList<>();
        events.add(new RunEvents.Interrupted(
                "the server or its database stopped "
                        + (wasLive ? "while the output was live" : "between two measurements") + ", last entry "
                        + silence + ". "
                        + (!wasLive
                                ? "No output was on."
                                : readBack.off()
                                        ? name + " confirms that its output is off."
                                        : name + " does not confirm that its output is off (" + readBack.words()
                                                + "). Treat it as live."),
                readBack));
        for (Attempt attempt : state.attempts()) {
            if (attempt.outcome() == null) {
                events.add(
                        new AttemptEvents.AttemptClosed(attempt.id(), Attempt.Outcome.ABORTED, "the server stopped"));
            }
        }
        return events;
    }
}
