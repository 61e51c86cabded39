package org.juratest.core.radio;

import java.math.BigDecimal;
import java.math.MathContext;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.port.RadioControl;
import org.juratest.core.procedure.Step;

/** What all methods for radios share: a channel, and whether they key the transmitter. */
abstract class RadioMethod implements Method {

  private static final Set<String> CHANNEL = Set.of("frequency", "spacing");

  private final String name;
  private final boolean keys;
  private final RadioControl.Mode mode;
  private final Set<String> params;

  /** @param more parameters beside the channel, and beside the rated power of those that key */
  RadioMethod(String name, boolean keys, RadioControl.Mode mode, String... more) {
    this.name = name;
    this.keys = keys;
    this.mode = mode;
    this.params = Stream.of(CHANNEL.stream(), Stream.of(more), keys ? Stream.of("ratedPower") : Stream.<String>empty()).flatMap(s -> s).collect(Collectors.toUnmodifiableSet());
  }

  @Override
  public final String name() {
    return name;
  }

  @Override
  public final Set<String> params() {
    return params;
  }

  @Override
  public final Set<String> maxima() {
    return keys ? Set.of("ratedPower") : Set.of();
  }

  @Override
  public String announce(Step step, String where) {
    double hertz = Method.base(step.params(), "frequency");
    if (!keys) {
      return "A signal on " + plain(hertz / 1e6) + " MHz into the receiver of " + where;
    }
    Distress.check(hertz);
    double rated = Method.base(step.params(), "ratedPower");
    Method.within("ratedPower", rated, Method.base(step.maxima(), "ratedPower"));
    return "Keys " + where + " on " + plain(hertz / 1e6) + " MHz, " + plain(rated) + " W into the test set";
  }

  /** A figure in words, without zeros it does not need: 5, 155.25. */
  static String plain(double value) {
    return new BigDecimal(value).round(new MathContext(8)).stripTrailingZeros().toPlainString();
  }

  @Override
  public final Result run(MethodBench bench) {
    Rig rig = Rig.of(bench);
    Result other = rig.onChannel(mode);
    if (other != null) {
      return other;
    }
    if (!keys) {
      return measure(rig);
    }
    double rated = bench.param("ratedPower");
    rig.radio().highPower(true);
    rig.analyse(rig.frequency(), rated);
    Result refused = rig.beforeKeying(rated);
    return refused != null ? refused : measure(rig);
  }

  /** Measures; a method that keys does so itself, as often as it needs. */
  abstract Result measure(Rig rig);

  /** A method that keys once and measures while the carrier is on. */
  abstract static class Keyed extends RadioMethod {

    Keyed(String name, RadioControl.Mode mode, String... more) {
      super(name, true, mode, more);
    }

    @Override
    final Result measure(Rig rig) {
      Result refused = rig.key(rig.bench().param("ratedPower"));
      if (refused != null) {
        return refused;
      }
      try {
        return keyed(rig);
      } finally {
        rig.tester().speak(1000, 0);
        rig.letGo();
      }
    }

    abstract Result keyed(Rig rig);
  }
}
