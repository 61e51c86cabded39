package org.juratest.core.family.fibre;

import java.util.Locale;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Qualifier;
import org.juratest.core.method.Announced;
import org.juratest.core.method.FileMethod;
import org.juratest.core.method.Filed;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.method.Results;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.RunState;

/**
 * A trace of a fibre at one wavelength from one end: points {@code length}, {@code loss}, {@code returnLoss},
 * {@code attenuation}; its events are rows by their place: {@code splice}, {@code connector}, {@code end}, and
 * {@code gainer} for a splice that seems to gain, which from one end alone is neither good nor bad. Pulse and range are
 * chosen by a quick first shot where the step leaves them at nought.
 */
final class TraceMethod implements FileMethod {

    /** Pulses to choose from, s. */
    private static final double[] PULSES = {10e-9, 30e-9, 100e-9, 300e-9, 1e-6, 3e-6, 10e-6};

    private static final double FIRST_PULSE = 300e-9;
    private static final double FIRST_RANGE = 60_000;
    private static final double FIRST_SECONDS = 1;
    /** How far above the noise the backscatter should stand at the end, dB: a splice of 0.1 dB is seen there. */
    private static final double CLEAR = 6;
    /** How far the wavelength of a file may be from a step's, nm: lasers are not on the dot, windows are far apart. */
    private static final double SAME_WINDOW = 25;
    /** The last number in the name of a fibre, without leading noughts. */
    private static final Pattern NUMBER = Pattern.compile("0*([1-9]\\d{0,5})\\D*$");

    @Override
    public MethodSpec spec() {
        return Shots.spec("fibre.trace")
                .param("pulse", Unit.NANOSECOND, 0, 20_000, 0)
                .param("range", Unit.KILOMETRE, 0, 260, 0)
                .point("length", Unit.METRE)
                .point("loss", Unit.DECIBEL)
                .point("returnLoss", Unit.DECIBEL)
                .point("attenuation", Unit.DECIBEL_PER_KM)
                .feature("splice", Unit.METRE, Map.of("spliceLoss", Unit.DECIBEL))
                .feature("gainer", Unit.METRE, Map.of("gainerLoss", Unit.DECIBEL))
                .feature(
                        "connector",
                        Unit.METRE,
                        Map.of("connectorLoss", Unit.DECIBEL, "connectorReflectance", Unit.DECIBEL))
                .feature("end", Unit.METRE, Map.of("endReflectance", Unit.DECIBEL))
                .captures("Trace")
                .alsoFromFiles()
                .build();
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        return Shots.announced(step, where, 2);
    }

    /** What a trace is taken with. */
    private record Choice(double pulse, double range) {}

    @Override
    public Result run(MethodBench bench) {
        Reflectometer tester = bench.port(Reflectometer.class);
        tester.direction(Shots.isFar(bench.step()));
        double wavelength = bench.param("wavelength");
        Result traffic = Shots.traffic(bench, tester, wavelength);
        if (traffic != null) {
            return traffic;
        }
        Choice choice = new Choice(bench.param("pulse"), bench.param("range"));
        if (choice.pulse == 0 || choice.range == 0) {
            OtdrAnalysis first = Otdr.analyse(
                    Shots.shot(
                            bench,
                            tester,
                            wavelength,
                            Math.min(FIRST_PULSE, bench.maximum("pulse")),
                            FIRST_RANGE,
                            Math.min(FIRST_SECONDS, bench.param("averaging"))),
                    tester.lead());
            if (first.events().isEmpty()) {
                return none();
            }
            choice = chosen(choice, first, bench.param("averaging"), bench.maximum("pulse"));
        }
        OtdrTrace trace = Shots.shot(bench, tester, wavelength, choice.pulse, choice.range, bench.param("averaging"));
        OtdrAnalysis found = SeenTraces.analysis(trace, tester.lead());
        if (found.events().isEmpty()) {
            return none();
        }
        bench.connectionChecked(true, "backscatter is there", Map.of());
        bench.trace(
                KeptTrace.trace("Trace", trace, found.zero()),
                KeptTrace.facts(trace, tester.lead(), found.zero(), bench.param("averaging")));
        keep(bench, found);
        return told(found);
    }

    private static Result told(OtdrAnalysis found) {
        return Shots.valid(String.format(
                Locale.ROOT,
                "%d events with %.0f ns%s",
                found.events().size(),
                found.trace().pulse(),
                found.warnings().isEmpty() ? "" : "; " + String.join("; ", found.warnings())));
    }

    @Override
    public boolean takes(RunState state, Step step, String lane, Filed file) {
        if (!(file.content() instanceof FiledTrace trace)) {
            return false;
        }
        double wavelength = Method.base(step.params(), "wavelength") * 1e9;
        return Math.abs(trace.trace().wavelength() - wavelength) <= SAME_WINDOW
                && lane.equals(lane(trace.fibre()))
                && Shots.isFar(step)
                        == LinkEnds.isReversed(state.opened().asset().nameplate(), trace);
    }

    /** The number of a fibre as lanes are called: files write it with leading noughts, or with words before it. */
    static String lane(String fibre) {
        Matcher number = NUMBER.matcher(fibre);
        return number.find() ? number.group(1) : fibre;
    }

    @Override
    public Result read(Results results, Filed file) {
        FiledTrace filed = (FiledTrace) file.content();
        OtdrAnalysis found = SeenTraces.analysis(filed.trace(), filed.lead());
        if (found.events().isEmpty()) {
            return none();
        }
        results.trace(
                KeptTrace.trace("Trace", filed.trace(), found.zero()),
                KeptTrace.facts(filed.trace(), filed.lead(), found.zero(), null));
        keep(results, found);
        return told(found);
    }

    private static Result none() {
        return new Result(
                Attempt.Outcome.CONNECTION_FAILED,
                OutputEvents.OffReason.DONE,
                "no link is seen: is the right fibre connected, and the connector seated?");
    }

    /**
     * The shortest pulse that still stands clear of the noise at the end, the longest where no end was seen; and a
     * range with a third to spare.
     */
    private static Choice chosen(Choice set, OtdrAnalysis first, double averaging, double longest) {
        double firstPulse = first.trace().pulse() * 1e-9;
        double above = first.frontLevel() - first.noise();
        double pulse = longest;
        for (int i = PULSES.length - 1; i >= 0 && first.loss() != null; i--) {
            double there = above + 5 * Math.log10(PULSES[i] / firstPulse) + 2.5 * Math.log10(averaging / FIRST_SECONDS);
            pulse = PULSES[i] <= longest && there >= first.loss() + CLEAR ? PULSES[i] : pulse;
        }
        double length = first.length() == null ? FIRST_RANGE : first.length() + first.zero();
        double range = Math.min(260_000, Math.max(1000, Math.ceil(length * 1.35 / 500) * 500));
        return new Choice(set.pulse == 0 ? pulse : set.pulse, set.range == 0 ? range : set.range);
    }

    private static void keep(Results bench, OtdrAnalysis found) {
        whole(bench, "length", found.length(), Unit.METRE, "position");
        whole(bench, "loss", found.loss(), Unit.DECIBEL, "loss");
        whole(bench, "returnLoss", found.returnLoss(), Unit.DECIBEL, "reflectance");
        double km =
                found.sections().stream().mapToDouble(s -> s.to() - s.from()).sum();
        double sum = found.sections().stream()
                .mapToDouble(s -> (s.to() - s.from()) * s.attenuation())
                .sum();
        if (asks(bench, "attenuation")) {
            bench.keep(bench.value("attenuation", sum / km, Unit.DECIBEL_PER_KM)
                    .accuracy("loss", sum / 1000, sum / 1000, 1000 / km));
        }
        LinkPlaces places = LinkPlaces.of(bench.state().opened().asset().nameplate(), found, Shots.isFar(bench.step()));
        for (OtdrEvent e : found.events()) {
            String feature = feature(e);
            if ((e.loss() != null || e.reflectance() != null)
                    && bench.step().discovers().stream().anyMatch(f -> f.id().equals(feature))) {
                row(bench, e, feature, places);
            }
        }
    }

    private static String feature(OtdrEvent e) {
        return switch (e.type()) {
            case LAUNCH, REFLECTIVE -> "connector";
            case NON_REFLECTIVE -> e.loss() != null && e.loss() < 0 ? "gainer" : "splice";
            case END -> "end";
        };
    }

    private static boolean asks(Results bench, String point) {
        return bench.step().points().stream().anyMatch(p -> p.id().equals(point));
    }

    private static void whole(Results bench, String point, @Nullable Double value, Unit unit, String accuracy) {
        if (!asks(bench, point)) {
            return;
        }
        if (value == null) {
            bench.noValue(point, "the end of the fibre is not seen");
        } else {
            bench.keep(bench.value(point, value, unit).accuracy(accuracy));
        }
    }

    private static void row(Results bench, OtdrEvent e, String feature, @Nullable LinkPlaces places) {
        Map<String, String> row = bench.found(
                feature,
                new Quantity(e.position(), Unit.METRE),
                e.type() == OtdrEvent.Type.LAUNCH
                        ? "connection of the lead"
                        : places == null ? null : places.words(e.position()));
        if (row.containsKey(feature + "Loss") && e.loss() != null) {
            bench.keep(bench.value(row.get(feature + "Loss"), e.loss(), Unit.DECIBEL)
                    .accuracy("loss")
                    .typeB(e.lossSigma(), 1));
        }
        if (row.containsKey(feature + "Reflectance") && e.reflectance() != null) {
            ReadingBuilder reading = bench.value(row.get(feature + "Reflectance"), e.reflectance(), Unit.DECIBEL)
                    .accuracy("reflectance");
            bench.keep(e.atLeast() ? reading.qualifier(Qualifier.MORE) : reading);
        }
    }
}
