package org.juratest.simulators.fleet;

import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.BiFunction;
import org.jspecify.annotations.Nullable;

/**
 * The physical truth of the demo valley on one day: what stands where, how each pole behaves now, and what tests in the past
 * would have read. Written as JSON for the demo loader; nothing in it is judged.
 *
 * @param seed  what it was generated from
 * @param today day it is relative to
 */
public record Fleet(long seed, LocalDate today, List<Site> sites, List<Person> people, List<Gear> gear, List<Breaker> breakers, List<Device> devices) {

  /** The same fleet with other poles, given by position and pole. */
  public Fleet withPoles(BiFunction<String, String, Pole> poles) {
    return new Fleet(seed, today, sites, people, gear, breakers.stream().map(b -> {
      Map<String, Pole> now = new TreeMap<>();
      b.poles().keySet().forEach(name -> now.put(name, poles.apply(b.position(), name)));
      return new Breaker(b.asset(), b.position(), b.site(), b.maker(), b.model(), b.serial(), b.technology(), b.curve(), b.ratings(),
          b.heatingSeconds(), b.installed(), now, b.tests());
    }).toList(), devices);
  }

  /**
   * @param km       along the line
   * @param altitude m
   */
  public record Site(String code, String name, double km, int altitude) {
  }

  /** Somebody who signs in to the demo; the password is for the demo only. */
  public record Person(String id, String name, String role, String password) {
  }

  /**
   * @param calibratedOn  day of the last calibration
   * @param calibratedTo  last day it holds
   * @param accuracy      by dimension: per cent of reading, per cent of range, floor in base units, {@code rectangular} or {@code expandedK2}
   */
  public record Gear(String id, String name, String role, String maker, String model, String serial, String host, int port,
      LocalDate calibratedOn, LocalDate calibratedTo, String certificate, Map<String, Accuracy> accuracy) {
  }

  /** A data sheet's figure. */
  public record Accuracy(double percentOfReading, double percentOfRange, double floor, String stated) {
  }

  /**
   * A low-voltage breaker.
   *
   * @param ratings       nameplate values in A, V, s by key
   * @param heatingSeconds heating time constant (bimetal), or seconds at 1 x setting (electronic), of a pole that is right
   * @param installed     day it was installed
   * @param poles         as they are today
   * @param tests         what was measured in the past, oldest first; the first is the acceptance test
   */
  public record Breaker(String asset, String position, String site, String maker, String model, String serial, String technology,
      String curve, Map<String, Double> ratings, double heatingSeconds, LocalDate installed, Map<String, Pole> poles,
      List<PastTest> tests) {
  }

  /**
   * @param slowness   multiplies the heating seconds: 1 trips as designed, above 1 late
   * @param microhms   contact resistance, µΩ
   * @param megohms    insulation at 20 degC of the paths that touch it, MΩ
   */
  public record Pole(double slowness, double microhms, double megohms) {
  }

  /**
   * Any other device: known by its plate and by where it stood.
   *
   * @param plate    as it would be typed, by key
   * @param position where it stands; empty if nowhere
   * @param title    of that position; empty if it has none
   * @param partOf   measuring installation that position is a part of; empty if none
   * @param part     as what
   * @param stays    oldest first
   * @param retired  why; empty while it is not
   */
  public record Device(String asset, String site, String assetClass, String maker, String model, String serial, Map<String, String> plate, String position, String title, String partOf,
      String part, List<Stay> stays, String retired) {
  }

  /** A time at a position; {@code to} is absent while it lasts. */
  public record Stay(String position, LocalDate from, @Nullable LocalDate to) {
  }

  /**
   * A test in the past, as a technician would have read it.
   *
   * @param day         when
   * @param person      who
   * @param temperature equipment, degC
   * @param insulation  MΩ as read at that temperature, by path
   * @param contact     µΩ by pole, before the injection
   * @param contactEnd  µΩ by pole, after it
   * @param trips       injections in order
   */
  public record PastTest(LocalDate day, String person, double temperature, Map<String, Double> insulation,
      Map<String, Double> contact, Map<String, Double> contactEnd, List<Trip> trips) {
  }

  /**
   * One injection.
   *
   * @param current  A rms as measured
   * @param seconds  to the trip
   * @param repaired what was done to the pole before it; empty if nothing
   * @param trace    the current over the injection: pairs of s and A rms, ascending
   */
  public record Trip(String pole, double current, double seconds, String repaired, List<List<Double>> trace) {
  }
}
