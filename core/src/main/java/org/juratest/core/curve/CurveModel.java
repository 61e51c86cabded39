package org.juratest.core.curve;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * One entry of the curve library: a maker's model, or a generic curve.
 *
 * @param id unique in the library
 * @param maker absent for generic curves
 * @param source where the figures come from, in words: sheet, or standard and clause
 * @param condition for what they hold
 * @param ratings the rated currents it is made for, A; empty for any
 * @param settings what can be set, with the range
 * @param defaults nameplate values a device of this model has unless its own plate says otherwise
 */
public record CurveModel(
        String id,
        @Nullable String maker,
        String model,
        String technology,
        String source,
        String condition,
        List<Double> ratings,
        List<Setting> settings,
        Map<String, Double> defaults,
        List<Element> elements) {

    public CurveModel {
        ratings = List.copyOf(ratings);
        settings = List.copyOf(settings);
        defaults = Map.copyOf(defaults);
        elements = List.copyOf(elements);
    }

    /**
     * A setting of the unit.
     *
     * @param key nameplate key
     * @param lowest lowest value it can be set to, in {@code unit}
     * @param highest highest value
     */
    public record Setting(String key, String label, double lowest, double highest, String unit) {}

    /**
     * An element as multiples of a setting.
     *
     * @param settingKey nameplate key of the current its multiples count from
     * @param pickUpHigh absent where the element never must operate
     * @param timeSettingKey nameplate key of the time its times are multiplied by; absent for seconds as they stand
     * @param when switches of the unit, by nameplate key, and how each stands where the unit has this element: two
     *     elements of one id are two ways the same function can be set; absent for one that is always there
     * @param apart true for one that goes by another current than the rest, as one of the earth does: it bounds nothing
     *     unless it is asked for by its id
     */
    public record Element(
            String id,
            String label,
            String settingKey,
            double pickUpLow,
            @Nullable Double pickUpHigh,
            @Nullable String timeSettingKey,
            ElementShape shape,
            @Nullable Map<String, Double> when,
            @Nullable Boolean apart) {
        public Element {
            when = when == null || when.isEmpty() ? null : Map.copyOf(when);
            apart = Boolean.TRUE.equals(apart) ? Boolean.TRUE : null;
        }

        /** One that is always there, and goes by the same current as the rest. */
        public Element(
                String id,
                String label,
                String settingKey,
                double pickUpLow,
                @Nullable Double pickUpHigh,
                @Nullable String timeSettingKey,
                ElementShape shape) {
            this(id, label, settingKey, pickUpLow, pickUpHigh, timeSettingKey, shape, null, null);
        }
    }

    /**
     * The band of a device with these nameplate values.
     *
     * @param nameplate currents in A, times in s, by key
     * @throws MissingSettingException if a setting an element needs is neither on the plate nor among the defaults
     * @throws IllegalArgumentException if the model is not made for the rating, or a setting is outside its range
     */
    public TimeCurrentBand bandFor(Map<String, Double> nameplate) {
        double rating = setting(nameplate, "ratedCurrent");
        if (!ratings.isEmpty() && !ratings.contains(rating)) {
            throw new IllegalArgumentException(model + " is not made for a rated current of " + rating + " A");
        }
        for (Setting setting : settings) {
            double value = setting(nameplate, setting.key());
            if (!(value >= setting.lowest() && value <= setting.highest())) {
                throw new IllegalArgumentException(setting.label() + " of " + value + " " + setting.unit()
                        + " is outside " + setting.lowest() + " to " + setting.highest());
            }
        }
        List<BandElement> band = new ArrayList<>();
        for (Element element : elements) {
            if (!isSet(element, nameplate)) {
                continue;
            }
            double current = setting(nameplate, element.settingKey());
            double time = element.timeSettingKey() == null ? 1 : setting(nameplate, element.timeSettingKey());
            ElementShape.Edges edges = element.shape().edges(rating, time);
            Double mustFrom = element.pickUpHigh();
            band.add(new BandElement(
                    element.id(),
                    element.label(),
                    element.pickUpLow() * current,
                    mustFrom == null ? null : (Double) (mustFrom * current),
                    edges.lowest().scaled(current, 1),
                    edges.highest().scaled(current, 1),
                    edges.formula() == null ? null : edges.formula().at(current),
                    element.apart()));
        }
        return new TimeCurrentBand(source, condition, band);
    }

    private boolean isSet(Element element, Map<String, Double> nameplate) {
        Map<String, Double> when = element.when();
        return when == null
                || when.entrySet().stream()
                        .allMatch(w -> Math.round(setting(nameplate, w.getKey())) == Math.round(w.getValue()));
    }

    private double setting(Map<String, Double> nameplate, String key) {
        Double value = nameplate.getOrDefault(key, defaults.get(key));
        if (value == null) {
            throw new MissingSettingException(key);
        }
        return value;
    }
}
