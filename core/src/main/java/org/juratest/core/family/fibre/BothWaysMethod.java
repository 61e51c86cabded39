package org.juratest.core.family.fibre;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.juratest.core.method.Computing;
import org.juratest.core.method.Results;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;

/**
 * The mean of both directions at one wavelength: what splices and connectors truly lose, for the difference of the
 * backscatter of two fibres counts once this way and once that (IEC 61280-4-2). Where one direction shows nothing, the
 * loss there is measured on its trace all the same.
 */
final class BothWaysMethod implements Computing {

    @Override
    public MethodSpec spec() {
        return MethodSpec.named("fibre.bothWays")
                .hazard(MethodSpec.Hazard.NONE)
                .point("loss", Unit.DECIBEL)
                .feature("splice", Unit.METRE, Map.of("spliceMean", Unit.DECIBEL))
                .feature("connector", Unit.METRE, Map.of("connectorMean", Unit.DECIBEL))
                .build();
    }

    @Override
    public Result compute(Results results, Traces traces) {
        List<FibreTraces.Taken> taken = Sides.of(results, traces);
        if (taken.stream().map(FibreTraces.Taken::reversed).distinct().count() < 2) {
            throw new IllegalArgumentException("both traces are from the same end");
        }
        if (taken.stream().map(FibreTraces.Taken::wavelength).distinct().count() > 1) {
            throw new IllegalArgumentException("the traces are of different wavelengths");
        }
        LinkPlaces places = Sides.places(results, taken);
        int rows = 0;
        int alone = 0;
        for (FibreTraces.Matched m : FibreTraces.matched(taken, FibreTraces.BEND)) {
            String feature = m.reflectance() == null ? "splice" : "connector";
            FibreTraces.Losses losses = m.losses().values().stream().findFirst().orElse(null);
            if (m.kind() != FibreTraces.Kind.END && losses != null) {
                Double mean = losses.mean();
                rows += mean == null ? 0 : row(results, feature, m.position(), mean, places);
                alone += mean == null ? 1 : 0;
            }
        }
        List<@Nullable Double> whole =
                taken.stream().map(t -> t.analysis().loss()).toList();
        if (results.step().points().stream().anyMatch(p -> p.id().equals("loss"))) {
            if (whole.stream().allMatch(Objects::nonNull)) {
                double mean = whole.stream()
                        .mapToDouble(Double::doubleValue)
                        .average()
                        .orElseThrow();
                results.keep(results.value("loss", mean, Unit.DECIBEL).unknown());
            } else {
                results.noValue("loss", "the end of the fibre is not seen from both ends");
            }
        }
        return Shots.valid(String.format(
                Locale.ROOT,
                "%d places measured from both ends%s",
                rows,
                alone == 0 ? "" : ", " + alone + " from one end only, which are not judged"));
    }

    private static int row(Results results, String feature, double position, double mean, @Nullable LinkPlaces places) {
        if (results.step().discovers().stream().noneMatch(f -> f.id().equals(feature))) {
            return 0;
        }
        Map<String, String> row = results.found(
                feature, new Quantity(position, Unit.METRE), places == null ? null : places.words(position));
        String point = row.get(feature + "Mean");
        if (point != null) {
            results.keep(results.value(point, mean, Unit.DECIBEL).unknown());
        }
        return 1;
    }
}
