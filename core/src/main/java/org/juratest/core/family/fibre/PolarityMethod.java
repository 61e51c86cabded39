package org.juratest.core.family.fibre;

import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.juratest.core.method.Announced;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.RunState;

/**
 * Which fibre of the far connector each of the near one comes out at. Light is sent into one after the other; a row
 * {@code thread} for each, keyed by its number, with {@code arrives}, the place it comes out at (0: nowhere), and
 * {@code off}, how many places that is from where it should. Points: how many are {@code crossed}, {@code missing} and
 * {@code doubled}.
 */
final class PolarityMethod implements Method {

    private static final String THREAD = "thread";

    @Override
    public MethodSpec spec() {
        Map<String, Unit> columns = new java.util.LinkedHashMap<>();
        columns.put("arrives", Unit.ONE);
        columns.put("off", Unit.ONE);
        return MethodSpec.named("fibre.polarity")
                .ports("loss-tester", "polarity-unit")
                .param("wavelength", Unit.NANOMETRE, 800, 1700, 1310)
                .point("crossed", Unit.ONE)
                .point("missing", Unit.ONE)
                .point("doubled", Unit.ONE)
                .feature(THREAD, Unit.ONE, columns)
                .build();
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        map(state.opened().asset().nameplate());
        return new Announced(
                "Sends light into one fibre after the other and looks where it comes out, " + where,
                Map.of(),
                List.of(),
                Set.of(),
                120);
    }

    private record Wanted(CableMap map, int[] live) {}

    private static Wanted map(Nameplate plate) {
        try {
            ArrayLayout layout = CableLines.layout(plate);
            if (layout == null) {
                throw new IllegalArgumentException("the plate has no layout");
            }
            String own = plate.texts().getOrDefault("polarityMap", "");
            CableMap map = CableMap.of(plate.texts().getOrDefault("polarity", ""), own, layout.size());
            return new Wanted(map, layout.liveNumbers());
        } catch (IllegalArgumentException e) {
            throw new Refusal(
                    "plate-unfit",
                    "The nameplate does not say how the fibres go: " + e.getMessage() + ".",
                    "nameplate.polarity");
        }
    }

    @Override
    public Result run(MethodBench bench) {
        LossTester tester = bench.port(LossTester.class);
        PolarityUnit unit = bench.port(PolarityUnit.class);
        Wanted wanted = map(bench.state().opened().asset().nameplate());
        double wavelength = bench.param(CableLines.WAVELENGTH);
        tester.direction(false);
        int crossed = 0;
        int missing = 0;
        int doubled = 0;
        Map<Integer, Integer> from = new HashMap<>();
        for (int fibre : wanted.live) {
            tester.select(fibre, wavelength, false);
            List<Integer> lit = unit.lit();
            bench.progress(Map.of("fibre", new Quantity(fibre, Unit.ONE)));
            bench.stop().check();
            int should = wanted.map.to().getOrDefault(fibre, 0);
            @Nullable Integer twice = lit.size() == 1 ? from.get(lit.get(0)) : null;
            int arrives = lit.isEmpty() ? 0 : lit.contains(should) ? should : lit.get(0);
            String words = lit.isEmpty()
                    ? "no light comes out"
                    : lit.size() > 1
                            ? "light comes out at " + lit
                            : twice != null
                                    ? "comes out where fibre " + twice + " does"
                                    : arrives != should ? "has to come out at " + should : null;
            missing += lit.isEmpty() ? 1 : 0;
            doubled += lit.size() > 1 || twice != null ? 1 : 0;
            crossed += lit.size() == 1 && twice == null && arrives != should ? 1 : 0;
            lit.forEach(at -> from.putIfAbsent(at, fibre));
            Map<String, String> points = bench.found(THREAD, new Quantity(fibre, Unit.ONE), words);
            keep(bench, points.get("arrives"), arrives);
            keep(bench, points.get("off"), lit.size() > 1 || twice != null ? wanted.live.length : arrives - should);
        }
        keep(bench, "crossed", crossed);
        keep(bench, "missing", missing);
        keep(bench, "doubled", doubled);
        int wrong = crossed + missing + doubled;
        return Shots.valid(
                wrong == 0
                        ? "every fibre comes out where it should"
                        : String.format(
                                Locale.ROOT,
                                "%d crossed, %d missing, %d doubled of %d",
                                crossed,
                                missing,
                                doubled,
                                wanted.live.length));
    }

    /** A count, which is what it is. */
    private static void keep(MethodBench bench, @Nullable String point, double value) {
        if (point != null && bench.step().point(point).isPresent()) {
            bench.keep(bench.value(point, value, Unit.ONE).typeB(0, 1));
        }
    }
}
