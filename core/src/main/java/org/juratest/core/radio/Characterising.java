package org.juratest.core.radio;

import java.util.ArrayList;
import java.util.List;
import org.juratest.core.correction.PathLoss;
import org.juratest.core.port.GearException;
import org.juratest.core.port.RadioTester;

/** Measures what a lead takes off, with the test set's generator at one end and its analyser at the other. */
public final class Characterising {

  /** Level it is measured with, dBm. */
  private static final double LEVEL = 0;
  private static final double CAPTURE = 0.01;
  /** More than this is no lead, dB. */
  private static final double MOST = 70;

  private Characterising() {
  }

  /**
   * Measures.
   *
   * @param tester    connected, its watchdog set; its output goes on, and off again whatever happens
   * @param megahertz ascending
   * @throws GearException if nothing comes through
   */
  public static PathLoss of(RadioTester tester, List<Double> megahertz) {
    List<PathLoss.LossPoint> points = new ArrayList<>();
    try {
      for (double place : megahertz) {
        double hertz = place * 1e6;
        tester.generate(new RadioTester.Signal(hertz, LEVEL, RadioTester.Modulation.NONE, 0, 0));
        tester.tune(hertz, LEVEL - 20);
        if (points.isEmpty()) {
          tester.outputOn();
        }
        tester.feedWatchdog();
        double loss = LEVEL - tester.capture(CAPTURE).dbm();
        if (!(loss <= MOST)) {
          throw new GearException(GearException.Fault.REFUSED, "nothing comes through at " + RadioMethod.plain(place) + " MHz. Connect the lead from the generator to the analyser");
        }
        points.add(new PathLoss.LossPoint(place, Math.round(loss * 100) / 100.0));
      }
    } finally {
      tester.makeSafe();
    }
    return new PathLoss(points);
  }
}
