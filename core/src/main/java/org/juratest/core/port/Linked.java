package org.juratest.core.port;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.ReadBack;

/**
 * Gear that is used together, as one: the first measures, the others are what it needs beside it. Safe is when all of them are. A fault
 * of one of the others names it.
 */
public final class Linked implements Energising {

  /** One of them. */
  public record Member(GearFacts facts, Energising port) {
  }

  private final Energising first;
  private final List<Member> others;

  public Linked(Energising first, List<Member> others) {
    this.first = first;
    this.others = List.copyOf(others);
  }

  /** The port that plays a role; empty if none of them does. */
  public <T> Optional<T> find(Class<T> role) {
    return role.isInstance(first) ? Optional.of(role.cast(first))
        : others.stream().map(Member::port).filter(role::isInstance).map(role::cast).findFirst();
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
        throw new GearException(GearException.Fault.WRONG_IDENTITY, "number " + serial + " answers at its address, but number " + m.facts.serial() + " was chosen");
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
    each(m -> m.port.watchdog(seconds));
    first.watchdog(seconds);
  }

  @Override
  public void feedWatchdog() {
    each(m -> m.port.feedWatchdog());
    first.feedWatchdog();
  }

  @Override
  public void outputOn() {
    first.outputOn();
  }

  @Override
  public double timeFactor() {
    return first.timeFactor();
  }

  @Override
  public ReadBack makeSafe() {
    // What keys or energises the device goes off first; whatever one of them answers, all are told.
    List<String> words = new ArrayList<>();
    boolean answered = true;
    boolean off = true;
    for (Member member : others) {
      ReadBack own = member.port.makeSafe();
      answered &= own.answered();
      off &= own.off();
      words.add(member.facts.name() + ": " + own.words());
    }
    ReadBack own = first.makeSafe();
    words.add(0, own.words());
    return new ReadBack(answered && own.answered(), off && own.off(), String.join("; ", words));
  }

  @Override
  public void close() {
    others.forEach(m -> m.port.close());
    first.close();
  }
}
