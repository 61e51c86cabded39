package org.juratest.core.curve;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** The curve models known, by id. Immutable; adding gives a new library. */
public final class CurveLibrary {

    private final List<CurveModel> models;

    public CurveLibrary(List<CurveModel> models) {
        this.models = List.copyOf(models);
        long distinct = models.stream().map(CurveModel::id).distinct().count();
        if (distinct != models.size()) {
            throw new IllegalArgumentException("two curve models have the same id");
        }
    }

    public List<CurveModel> models() {
        return models;
    }

    public Optional<CurveModel> byId(String id) {
        return models.stream().filter(m -> m.id().equals(id)).findFirst();
    }

    /** The model of a maker and model name as on a nameplate, case ignored; empty if the library has none. */
    public Optional<CurveModel> byNameplate(String maker, String model) {
        return models.stream()
                .filter(m -> maker.equalsIgnoreCase(String.valueOf(m.maker()))
                        && m.model().toLowerCase(Locale.ROOT).equals(model.toLowerCase(Locale.ROOT)))
                .findFirst();
    }

    /** This library with more models, or new versions of models it has. */
    public CurveLibrary with(List<CurveModel> added) {
        List<CurveModel> all = new ArrayList<>(models);
        all.removeIf(m -> added.stream().anyMatch(a -> a.id().equals(m.id())));
        all.addAll(added);
        return new CurveLibrary(all);
    }
}
