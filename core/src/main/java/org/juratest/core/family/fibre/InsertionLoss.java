package org.juratest.core.family.fibre;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.OptionalDouble;
import java.util.Set;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.method.Announced;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.ReadingOrigin;
import org.juratest.core.run.RunState;

/**
 * What a cable or a link takes away and sends back: points {@code loss}, the reference less what reaches the detector
 * now (IEC 61300-3-4), and {@code returnLoss} beside what an open end sends back (IEC 61300-3-6), dB. No cable gains: a
 * negative loss is a bad reference, and no measurement.
 */
final class InsertionLoss implements Method {

    /** What an open, flat-polished end reflects, dB: ((n - 1) / (n + 1))^2 of glass with n = 1.45. */
    static final double OPEN_END = 20 * Math.log10(0.45 / 2.45);

    /** Losses that are no less than this may be noise, dB. */
    private static final double GAIN = -0.1;
    /** What reaches the detector no more, dBm: the fibre is broken, or goes elsewhere. */
    private static final double DARK = -55;

    @Override
    public MethodSpec spec() {
        return MethodSpec.named("fibre.insertionLoss")
                .ports("loss-tester")
                .param("wavelength", Unit.NANOMETRE, 800, 1700, 1310)
                .param("farEnd", Unit.ONE, 0, 1, 0)
                .param(CableLines.CHANNEL, Unit.ONE, 0, 32, 0)
                .point("loss", Unit.DECIBEL)
                .point("returnLoss", Unit.DECIBEL)
                .build();
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        return new Announced(
                "Measures at " + CableLines.words(CableLines.wavelength(state, step, lane)) + " what " + where
                        + " takes away",
                Map.of(),
                List.of(),
                Set.of(),
                10);
    }

    @Override
    public Result run(MethodBench bench) {
        LossTester tester = bench.port(LossTester.class);
        CableLines.select(bench, tester);
        OptionalDouble reference = bench.reference("power");
        if (reference.isEmpty()) {
            return failed("there is no reference to count with");
        }
        double dbm = tester.power();
        double loss = reference.getAsDouble() - dbm;
        if (loss < GAIN) {
            return failed(String.format(
                    Locale.ROOT,
                    "the loss comes to %.2f dB: no cable gains, so the reference is bad. Look at its cords, and take"
                            + " it anew",
                    loss));
        }
        boolean through = dbm >= DARK;
        ReadingBuilder reading = through
                ? bench.value("loss", loss, Unit.DECIBEL).accuracy("loss")
                : bench.value("loss", reference.getAsDouble() - DARK, Unit.DECIBEL)
                        .unknown()
                        .qualifier(Qualifier.AT_LEAST)
                        .remark("no light comes through: the fibre is broken, or comes out elsewhere");
        bench.keep(reading.with("reference", new Quantity(reference.getAsDouble(), Unit.DBM))
                .with("power", new Quantity(Math.max(dbm, DARK), Unit.DBM)));
        if (bench.step().point("returnLoss").isPresent()) {
            returned(bench, tester);
        }
        return Shots.valid(through ? "measured" : "no light comes through");
    }

    private static void returned(MethodBench bench, LossTester tester) {
        OptionalDouble open = bench.reference("level");
        OptionalDouble distance = bench.reference("distance");
        if (open.isEmpty() || distance.isEmpty()) {
            bench.noValue("returnLoss", "there is no reference of an open end to count with");
            return;
        }
        double level = tester.reflected(distance.getAsDouble());
        // As much less as comes back than from the open end, so much more is the return loss than the open end's.
        bench.keep(bench.value("returnLoss", open.getAsDouble() - level - OPEN_END, Unit.DECIBEL)
                .accuracy("returnLoss")
                .with("from", new Quantity(distance.getAsDouble(), Unit.METRE)));
    }

    @Override
    public ReadingBuilder retold(
            ReadingOrigin origin, String point, double value, Unit unit, Map<String, Double> facts) {
        return origin.value(point, value, unit).accuracy(point);
    }

    private static Result failed(String words) {
        return new Result(Attempt.Outcome.CONNECTION_FAILED, OutputEvents.OffReason.DONE, words);
    }
}
