package org.juratest.core.family.fibre;

import java.util.Collections;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.juratest.core.method.Computing;
import org.juratest.core.method.Results;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;

/**
 * Bends: places without a reflection that lose more at the longest wavelength than at the shortest, by more than the
 * {@code threshold} of the step. A bent fibre lets go the longer wavelengths first.
 */
final class BendMethod implements Computing {

    @Override
    public MethodSpec spec() {
        return MethodSpec.named("fibre.bends")
                .hazard(MethodSpec.Hazard.NONE)
                .param("threshold", Unit.DECIBEL, 0.02, 3, FibreTraces.BEND)
                .point("bends", Unit.ONE)
                .feature("bend", Unit.METRE, Map.of("bendShort", Unit.DECIBEL, "bendLong", Unit.DECIBEL))
                .build();
    }

    @Override
    public Result compute(Results results, Traces traces) {
        List<FibreTraces.Taken> taken = Sides.of(results, traces);
        if (taken.stream().map(FibreTraces.Taken::wavelength).distinct().count() < 2) {
            throw new IllegalArgumentException("the traces are of one wavelength; a bend shows between two");
        }
        double threshold = results.step().params().containsKey("threshold")
                ? org.juratest.core.method.Method.base(results.step().params(), "threshold")
                : FibreTraces.BEND;
        LinkPlaces places = Sides.places(results, taken);
        int bends = 0;
        for (FibreTraces.Matched m : FibreTraces.matched(taken, threshold)) {
            if (m.kind() == FibreTraces.Kind.BEND) {
                bends++;
                row(results, m, places);
            }
        }
        if (results.step().points().stream().anyMatch(p -> p.id().equals("bends"))) {
            results.keep(results.value("bends", bends, Unit.ONE).typeB(0, 1));
        }
        return Shots.valid(bends == 0 ? "no bend" : bends + (bends == 1 ? " bend" : " bends"));
    }

    private static void row(Results results, FibreTraces.Matched bend, @Nullable LinkPlaces places) {
        int shortest = Collections.min(bend.losses().keySet());
        int longest = Collections.max(bend.losses().keySet());
        Double low = bend.losses().get(shortest).best();
        Double high = bend.losses().get(longest).best();
        if (results.step().discovers().stream().noneMatch(f -> f.id().equals("bend")) || low == null || high == null) {
            return;
        }
        Map<String, String> row = results.found(
                "bend",
                new Quantity(bend.position(), Unit.METRE),
                places == null ? null : places.words(bend.position()));
        keep(results, row.get("bendShort"), low);
        keep(results, row.get("bendLong"), high);
    }

    private static void keep(Results results, @Nullable String point, double loss) {
        if (point != null) {
            results.keep(results.value(point, loss, Unit.DECIBEL).unknown());
        }
    }
}
