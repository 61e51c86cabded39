package org.juratest.e2e;

import org.juratest.core.procedure.Step;

class RadioProbe {
  public static void main(String[] a) throws Exception {
    try (RadioRig rig = new RadioRig(a[0], a[1], 100)) {
      long all = System.nanoTime();
      for (Step step : rig.state().stepsInScope()) {
        if (step.kind().measured()) {
          for (String lane : rig.state().procedure().lanesOf(step, rig.state().scope())) {
            long t = System.nanoTime();
            var attempt = rig.measure(step.id(), lane);
            System.out.printf("%-14s %s %s %5d ms %s%n", step.id(), lane, attempt.outcome(), (System.nanoTime() - t) / 1_000_000, attempt.words());
            attempt.readings().forEach(r -> System.out.printf("      %-12s %.4f %s %s %s%n", r.key().point(), r.value(), r.unit().symbol(), r.qualifier().sign(), r.remark()));
          }
        }
      }
      System.out.println((System.nanoTime() - all) / 1_000_000 + " ms");
      rig.judgement().points().forEach(p -> { if (p.asFound() != null) System.out.println(p.key() + " " + p.verdict() + " " + (p.why() == null ? "" : p.why()) + (p.limit() == null ? "" : " " + p.limit().low() + ".." + p.limit().high())); });
      rig.state().adjustments().forEach(x -> System.out.println(x));
    }
  }
}
