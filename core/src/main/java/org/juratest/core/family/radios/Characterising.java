package org.juratest.core.family.radios;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.juratest.core.correction.PathLoss;
import org.juratest.core.method.Announced;
import org.juratest.core.method.LeadCharacterisation;
import org.juratest.core.method.MethodBench;
import org.juratest.core.port.GearException;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Announcement.Bound;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.Refusal;
import org.juratest.core.uncertainty.AccuracySpec;

/** Measures what a lead takes off, with the test set's generator at one end and its analyser at the other. */
final class Characterising implements LeadCharacterisation {

    /** Name it is announced under, in place of a method's. */
    private static final String NAME = "radio.pathLoss";
    /** Level it is measured with, dBm. */
    private static final double LEVEL = 0;

    private static final double CAPTURE = 0.01;
    /** More than this is no lead, dB. */
    private static final double MOST = 70;
    /** Longest time for one frequency, s. */
    private static final double EACH = 5;

    private static final int MOST_PLACES = 64;
    private static final double LOWEST = 1;
    private static final double HIGHEST = 1000;

    @Override
    public String name() {
        return NAME;
    }

    @Override
    public String role() {
        return "radio-test-set";
    }

    @Override
    public Announced announce(String lead, List<Double> megahertz) {
        boolean possible = !megahertz.isEmpty()
                && megahertz.size() <= MOST_PLACES
                && megahertz.stream().allMatch(m -> m != null && m >= LOWEST && m <= HIGHEST)
                && megahertz.equals(megahertz.stream().sorted().distinct().toList());
        if (!possible) {
            throw new Refusal(
                    "out-of-range", "One to 64 frequencies from 1 to 1000 MHz are needed, ascending.", "megahertz");
        }
        return new Announced(
                String.format(
                        Locale.ROOT,
                        "%.4g dBm from the generator through %s back to the analyser, at %d frequencies from %s "
                                + "to %s MHz",
                        LEVEL,
                        lead,
                        megahertz.size(),
                        RadioMethod.plain(megahertz.get(0)),
                        RadioMethod.plain(megahertz.get(megahertz.size() - 1))),
                Map.of("level", new Quantity(LEVEL, Unit.DBM)),
                List.of(
                        Bound.at("signal", megahertz.stream().map(m -> m * 1e6).toList(), "Hz", "announced"),
                        Bound.below("level", LEVEL, "dBm", "announced")),
                Set.of(RadioTester.class),
                EACH * megahertz.size());
    }

    @Override
    public PathLoss of(MethodBench bench, List<Double> megahertz) {
        RadioTester tester = bench.port(RadioTester.class);
        List<PathLoss.LossPoint> points = new ArrayList<>();
        for (double place : megahertz) {
            bench.stop().check();
            double hertz = place * 1e6;
            tester.generate(new RadioTester.Signal(hertz, LEVEL, RadioTester.Modulation.NONE, 0, 0));
            tester.tune(hertz, LEVEL - 20);
            if (points.isEmpty()) {
                tester.outputOn();
            }
            double loss = LEVEL - tester.capture(CAPTURE).dbm();
            if (!(loss <= MOST)) {
                throw new GearException(
                        GearException.Fault.REFUSED,
                        "nothing comes through at " + RadioMethod.plain(place)
                                + " MHz. Connect the lead from the generator to the analyser");
            }
            points.add(new PathLoss.LossPoint(place, Math.round(loss * 100) / 100.0));
            bench.progress(
                    Map.of("frequency", new Quantity(place, Unit.MEGAHERTZ), "path loss", RadioSetup.decibels(loss)));
        }
        return new PathLoss(points);
    }

    /** A loss is a ratio of two levels, as the test set knows ratios. */
    @Override
    public @Nullable Double uncertainty(GearFacts gear, PathLoss loss) {
        AccuracySpec ratio = gear.accuracy().get("ratio");
        return ratio == null
                ? null
                : (Double) loss.points().stream()
                        .mapToDouble(p -> ratio.standardAt(p.decibels(), p.decibels()))
                        .max()
                        .orElse(0);
    }
}
