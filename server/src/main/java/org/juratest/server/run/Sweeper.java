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
 * them; a row lock sees to it that one does. What was live comes back as interrupted, with what the gear answers about its
 * output.
 */
@Component
class Sweeper {

  private static final Logger LOG = LoggerFactory.getLogger(Sweeper.class);

  private final Leases leases;
  private final RunStore store;
  private final LiveRuns live;
  private final TransactionTemplate transaction;

  Sweeper(Leases leases, RunStore store, LiveRuns live, PlatformTransactionManager transactions) {
    this.leases = leases;
    this.store = store;
    this.live = live;
    this.transaction = new TransactionTemplate(transactions);
  }

  @Scheduled(fixedDelay = 500)
  void sweep() {
    try {
      while (Boolean.TRUE.equals(transaction.execute(s -> disarmOne()))) {
        LOG.info("an armed step was not started in time");
      }
      while (Boolean.TRUE.equals(transaction.execute(s -> interruptOne()))) {
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
    store.append(run, Actor.process(leases.process()), state -> state.output().mode() == Output.Mode.ARMED
        ? List.of(new OutputEvents.Disarmed("not started within " + LiveRuns.ARMED.toSeconds() + " s")) : List.of());
    return true;
  }

  private boolean interruptOne() {
    UUID run = leases.abandoned();
    if (run == null || live.isLiveHere(run)) {
      return false;
    }
    RunState found = store.state(run);
    ReadBack readBack = found.gear().stream().filter(g -> g.id().equals(found.output().gear())).findFirst()
        .map(g -> live.readBack(found, g)).orElse(ReadBack.silent("the gear is not known"));
    store.append(run, Actor.process(leases.process()), state -> interrupted(state, readBack));
    return true;
  }

  private static List<EventData> interrupted(RunState state, ReadBack readBack) {
    if (state.output().mode() != Output.Mode.LIVE) {
      return List.of();
    }
    GearFacts gear = state.gear().stream().filter(g -> g.id().equals(state.output().gear())).findFirst().orElse(null);
    String name = gear == null ? "the gear" : gear.name();
    Instant last = state.events().get(state.events().size() - 1).at();
    String silence = Duration.between(last, Instant.now()).toSeconds() + " s ago";
    List<EventData> events = new ArrayList<>();
    events.add(new RunEvents.Interrupted("the server or its database stopped while the output was live, last entry " + silence + ". "
        + (readBack.off() ? name + " confirms that its output is off."
            : name + " does not confirm that its output is off (" + readBack.words() + "). Treat it as live."), readBack));
    for (Attempt attempt : state.attempts()) {
      if (attempt.outcome() == null) {
        events.add(new AttemptEvents.AttemptClosed(attempt.id(), Attempt.Outcome.ABORTED, "the server stopped"));
      }
    }
    return events;
  }
}
